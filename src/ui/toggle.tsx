'use client';
import { Switch, type SwitchRootProps } from '@chakra-ui/react';
import type { ReactNode } from 'react';

interface ToggleProps extends Omit<SwitchRootProps, 'onCheckedChange' | 'children' | 'onToggle'> {
  checked: boolean;
  onToggle: (checked: boolean) => void;
  /** What screen readers say, where the text beside it does not say it. */
  name?: string;
  /** The text beside it. */
  children?: ReactNode;
}

/** Something that is so or not. */
export function Toggle({ checked, onToggle, name, children, ...root }: ToggleProps) {
  return (
    <Switch.Root
      checked={checked}
      onCheckedChange={(details) => onToggle(details.checked)}
      colorPalette="gray"
      minH="44px"
      {...root}
    >
      <Switch.HiddenInput aria-label={name} />
      <Switch.Control bg={checked ? 'ink' : 'softInk'}>
        <Switch.Thumb />
      </Switch.Control>
      {children ? <Switch.Label fontSize="sm">{children}</Switch.Label> : null}
    </Switch.Root>
  );
}
