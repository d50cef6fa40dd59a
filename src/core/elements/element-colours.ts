import type { ViewState } from '../view/view-state';
import { elementMask, type ModelElements } from './match-elements';

/** Parts of a colour in sRGB, each 0..1. */
export type ColourParts = readonly [number, number, number];

/** The colours that a view gives to elements of one model, by row. Rows that are not in it look as in the file. */
export function elementColours(
  elements: ModelElements,
  { colouring }: Pick<ViewState, 'colouring'>,
): Map<number, ColourParts> {
  const colours = new Map<number, ColourParts>();
  for (const { of, colour } of colouring) {
    const parts = partsOf(colour);
    elementMask(of, elements).forEach((isMeant, row) => isMeant && colours.set(row, parts));
  }
  return colours;
}

/** @param colour as #rrggbb */
function partsOf(colour: string): ColourParts {
  const number = parseInt(colour.slice(1), 16);
  return [(number >> 16) / 255, ((number >> 8) & 255) / 255, (number & 255) / 255];
}
