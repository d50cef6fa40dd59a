'use client';
import { Menu, Portal } from '@chakra-ui/react';
import type { LateMenuProps } from './late-menu';

/** A menu that opens as soon as it is there. @see LateMenu */
export function OpenMenu({ items, onSelect, children }: LateMenuProps) {
  return (
    <Menu.Root defaultOpen lazyMount onSelect={({ value }) => onSelect(value)}>
      <Menu.Trigger asChild>{children}</Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content bg="card" borderColor="seam" borderWidth="1px">
            {items.map(({ value, label, icon: Icon, disabled }) => (
              <Menu.Item
                key={value}
                value={value}
                disabled={disabled}
                css={{ '@media (pointer: coarse)': { minH: '44px' } }}
              >
                {Icon ? <Icon size={18} aria-hidden /> : null} {label}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
