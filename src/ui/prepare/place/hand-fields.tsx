'use client';
import { Grid } from '@chakra-ui/react';
import { useState } from 'react';
import type { Vec3 } from '@/core/math/mat4';
import type { Placement } from '@/core/placement/placement';
import { Field } from '../../controls';

const AXES = ['East (X), m', 'North (Y), m', 'Up (Z), m'] as const;

/** A placement as numbers: moved by metres, turned by degrees. Takes a number when the field is left or Enter pressed. */
export function HandFields({ placement, onChange }: { placement: Placement; onChange: (next: Placement) => void }) {
  const { offset, turn } = placement;
  const setAxis = (axis: number, value: number) =>
    onChange({ turn, offset: offset.map((old, i) => (i === axis ? value : old)) as Vec3 });
  return (
    <Grid templateColumns="1fr 1fr" gap="3">
      {AXES.map((label, axis) => (
        <NumberField
          key={`${label} ${offset[axis]}`}
          label={label}
          value={offset[axis]!}
          onChange={(value) => setAxis(axis, value)}
        />
      ))}
      <NumberField
        key={`turn ${turn}`}
        label="Turned left, °"
        value={(turn * 180) / Math.PI}
        onChange={(value) => onChange({ offset, turn: (((value + 180) % 360) - 180) * (Math.PI / 180) })}
      />
    </Grid>
  );
}

function NumberField({ label, value, onChange }: { label: string; value: number; onChange: (value: number) => void }) {
  const [text, setText] = useState(() => String(Math.round(value * 1e4) / 1e4));
  const number = Number(text.trim().replace(',', '.'));
  const valid = text.trim() !== '' && Number.isFinite(number) && Math.abs(number) <= 1e8;
  const take = () => {
    if (valid && Math.abs(number - value) > 5e-5) onChange(number);
  };
  return (
    <Field
      label={label}
      inputMode="decimal"
      value={text}
      aria-invalid={!valid}
      onChange={(event) => setText(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
    />
  );
}
