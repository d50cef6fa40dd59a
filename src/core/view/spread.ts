import { describeWheres } from '../elements/describe-set';
import type { Where } from '../elements/element-set';
import { asRecord, readWheres } from '../elements/read-element-set';
import type { ViewPart } from './view-part';

export const SPREADS = ['storey', 'category', 'outward'] as const;

/** Crowded parts pulled apart; null where everything stands in its place. */
export interface Spread {
  /** Storeys upwards, categories side by side, or everything away from the middle of something. */
  by: (typeof SPREADS)[number];
  /** How far, 0..1. */
  amount: number;
  /** What everything moves away from when it goes outward; the whole where nothing is named. */
  from: readonly Where[];
}

export const spread: ViewPart<Spread | null> = {
  initial: null,
  undone: true,
  read(stored) {
    const { by, amount, from } = asRecord(stored);
    const known = SPREADS.find((one) => one === by);
    if (!known || typeof amount !== 'number' || !(amount > 0)) return null;
    return { by: known, amount: Math.min(amount, 1), from: readWheres(from) };
  },
  describe(value, names) {
    if (!value) return '';
    const how = {
      storey: 'storey by storey',
      category: 'category by category',
      outward: value.from.length > 0 ? `outward from ${describeWheres(value.from, names)}` : 'outward from the middle',
    };
    return `Spread ${how[value.by]}, ${Math.round(value.amount * 100)} %`;
  },
};
