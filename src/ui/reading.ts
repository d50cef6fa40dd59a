import { useStore } from 'zustand';
import { FIRST_READING, FRACTIONS, MOST_DECIMALS, READING_UNITS, type Reading } from '@/core/units/figures';
import { keptStore } from './kept-store';

/** In which units this person reads figures; kept in their browser. */
export const readingStore = keptStore('reading', FIRST_READING, readReading);

export function useReading(): Reading {
  return useStore(readingStore);
}

/** What was kept, as far as it makes sense. */
function readReading({ unit, decimals, fraction }: Partial<Record<keyof Reading, unknown>>): Reading {
  const kept = (decimals ?? {}) as Record<string, unknown>;
  const decimalsOf = (name: 'm' | 'cm' | 'mm') => {
    const value = kept[name];
    const isGood = typeof value === 'number' && Number.isInteger(value) && value >= 0 && value <= MOST_DECIMALS;
    return isGood ? value : FIRST_READING.decimals[name];
  };
  return {
    unit: READING_UNITS.find((one) => one === unit) ?? FIRST_READING.unit,
    decimals: { m: decimalsOf('m'), cm: decimalsOf('cm'), mm: decimalsOf('mm') },
    fraction: FRACTIONS.find((one) => one === fraction) ?? FIRST_READING.fraction,
  };
}
