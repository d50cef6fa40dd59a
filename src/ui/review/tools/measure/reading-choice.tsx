'use client';
import { Flex } from '@chakra-ui/react';
import { FRACTIONS, MOST_DECIMALS, READING_UNITS, type ReadingUnit } from '@/core/units/figures';
import { readingStore, useReading } from '../../../reading';
import { SmallSelect } from '../../../small-select';

const UNITS: Record<ReadingUnit, string> = { m: 'metres', cm: 'centimetres', mm: 'millimetres', ft: 'feet and inches' };

/** In which units and how finely this person reads figures, also those of before. */
export function ReadingChoice() {
  const { unit, decimals, fraction } = useReading();
  return (
    <Flex gap="2" py="2" borderTopWidth="1px" borderColor="seam">
      <SmallSelect
        label="Units"
        value={unit}
        options={READING_UNITS.map((one) => [one, UNITS[one]])}
        onChange={(value) => readingStore.setState({ unit: value as ReadingUnit })}
      />
      {unit === 'ft' ? (
        <SmallSelect
          label="Fraction of an inch"
          value={String(fraction)}
          options={FRACTIONS.map((one) => [String(one), one === 1 ? 'whole inches' : `to 1/${one}″`])}
          onChange={(value) => readingStore.setState({ fraction: Number(value) })}
        />
      ) : (
        <SmallSelect
          label="Decimals"
          value={String(decimals[unit])}
          options={Array.from({ length: MOST_DECIMALS + 1 }, (_, i) => [
            String(i),
            i === 0 ? `whole ${unit}` : `to ${(10 ** -i).toFixed(i)} ${unit}`,
          ])}
          onChange={(value) => readingStore.setState({ decimals: { ...decimals, [unit]: Number(value) } })}
        />
      )}
    </Flex>
  );
}
