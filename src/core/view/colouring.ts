import { describeSet } from '../elements/describe-set';
import type { ElementSet } from '../elements/element-set';
import { asRecord, readElementSet } from '../elements/read-element-set';
import type { ViewPart } from './view-part';

/** Elements that are shown in a colour, whatever they are made of. */
export interface Coloured {
  of: ElementSet;
  /** As #rrggbb. */
  colour: string;
}

/** Of several colours of an element the last one counts. */
export type Colouring = readonly Coloured[];

/** Colours that are offered, by name; any other may be chosen. They keep apart from each other for most kinds of sight. */
export const TINTS = {
  Madder: '#b5483a',
  Indigo: '#3d5a9e',
  Ochre: '#d9a036',
  Moss: '#6f8a3c',
  Turquoise: '#3d9c9c',
  Plum: '#8a4f86',
} as const;

export const COLOUR = /^#[0-9a-f]{6}$/;
export const MOST_COLOURED = 100;

/** What a colour is called: its name, or its number. */
export function colourName(colour: string): string {
  return Object.entries(TINTS).find(([, tint]) => tint === colour)?.[0] ?? colour;
}

export const colouring: ViewPart<Colouring> = {
  initial: [],
  undone: true,
  read: (stored) =>
    Array.isArray(stored)
      ? stored.flatMap((entry): Coloured[] => {
          const { of, colour } = asRecord(entry);
          if (!Array.isArray(of) || typeof colour !== 'string' || !COLOUR.test(colour)) return [];
          return [{ of: readElementSet(of), colour }];
        })
      : [],
  describe: (list, names) =>
    list.map(({ of, colour }) => `Coloured ${colourName(colour).toLowerCase()}: ${describeSet(of, names)}`).join('; '),
};
