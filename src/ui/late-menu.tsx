'use client';
import type { LucideIcon } from 'lucide-react';
import { cloneElement, lazy, Suspense, useState, type ReactElement } from 'react';

const OpenMenu = lazy(() => import('./open-menu').then((module) => ({ default: module.OpenMenu })));

export interface MenuEntry {
  value: string;
  label: string;
  icon?: LucideIcon;
  disabled?: boolean;
}

export interface LateMenuProps {
  items: readonly MenuEntry[];
  onSelect: (value: string) => void;
  /** The button that opens it. */
  children: ReactElement<{ onClick?: () => void; 'aria-haspopup'?: 'menu' }>;
}

/** A button with a menu that is made when it is first pressed: menus that nobody opens cost a page time and bytes. */
export function LateMenu(props: LateMenuProps) {
  const [isAsked, setAsked] = useState(false);
  const button = cloneElement(props.children, { onClick: () => setAsked(true), 'aria-haspopup': 'menu' });
  if (!isAsked) return button;
  return (
    <Suspense fallback={button}>
      <OpenMenu {...props} />
    </Suspense>
  );
}
