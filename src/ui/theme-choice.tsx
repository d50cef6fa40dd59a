'use client';
import { useTheme } from 'next-themes';
import { useEffect, useState } from 'react';
import { SmallSelect } from './small-select';

const THEMES = [
  ['system', 'Screen: as the system'],
  ['light', 'Screen: light'],
  ['dark', 'Screen: dark, for dim rooms'],
] as const;

/** Light or dark, or as the system has it. */
export function ThemeChoice() {
  const { theme = 'system', setTheme } = useTheme();
  // The server does not know what this browser has kept.
  const [isHere, setHere] = useState(false);
  useEffect(() => setHere(true), []);
  return <SmallSelect label="Screen" value={isHere ? theme : 'system'} options={THEMES} onChange={setTheme} />;
}
