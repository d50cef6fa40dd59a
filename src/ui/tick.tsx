import { Checkbox, type CheckboxRootProps } from '@chakra-ui/react';

interface TickProps extends Omit<CheckboxRootProps, 'onCheckedChange'> {
  checked: boolean;
  onTick: (checked: boolean) => void;
}

/** Something that is chosen or not. Its text stands beside it; without one it needs an `aria-label`. */
export function Tick({ checked, onTick, children, ...root }: TickProps) {
  return (
    <Checkbox.Root checked={checked} onCheckedChange={(now) => onTick(now.checked === true)} minH="32px" {...root}>
      <Checkbox.HiddenInput />
      <Checkbox.Control />
      {children ? <Checkbox.Label>{children}</Checkbox.Label> : null}
    </Checkbox.Root>
  );
}
