import { rowsAside, type OptionSet } from '../options/option-set';
import type { ViewState } from '../view/view-state';
import { hasText } from './element-columns';
import type { ElementIndex } from './element-index';
import { elementMask, markWhere, type ModelElements } from './match-elements';

/** Bits of an element's state. */
export const HIDDEN = 1;
export const SELECTED = 2;
/** Shows through whatever stands before it. */
export const THROUGH = 4;
/** Five bits above these say how clear an element is, in steps of a 32nd; 0 is solid. */
export const FADE_BITS = 3;
export const FADE_STEPS = 32;
/** Stays whole where others are cut. */
export const WHOLE = 256;

/** How clear an element is, in steps; 0 is solid. */
export function fadeOf(flags: number): number {
  return (flags >> FADE_BITS) & (FADE_STEPS - 1);
}

/** Rooms are places, not things: they show only while selected. */
export const ROOM_CATEGORY = 'Space';

/** The parts of the view that say how elements look. */
export type ElementView = Pick<ViewState, 'visibility' | 'options' | 'fades' | 'cuts' | 'selection'>;

/**
 * The state of every element of one model, two bytes each.
 *
 * @param options alternatives of which only the chosen ones show
 * @param mark bits of what is selected
 */
export function elementFlags(
  elements: ModelElements,
  view: ElementView,
  options: readonly OptionSet[] = [],
  mark = SELECTED,
): Uint16Array {
  const { index, model } = elements;
  const flags = new Uint16Array(index.count);
  if (view.visibility.hiddenModels.includes(model)) return flags.fill(HIDDEN);
  const shown = elementMask(view.visibility.shown, elements);
  for (const { of, clear } of view.fades) {
    const step = Math.round(Math.min(Math.max(clear, 0), 1) * FADE_STEPS);
    const level = Math.min(step, FADE_STEPS - 1) << FADE_BITS;
    const faded = elementMask(of, elements);
    for (let row = 0; row < flags.length; row++) if (faded[row]) flags[row] = level;
  }
  if (view.cuts.whole.length > 0)
    elementMask(view.cuts.whole, elements).forEach((isWhole, row) => isWhole && (flags[row]! |= WHOLE));
  const isRoom = hasText(index, 'category', ROOM_CATEGORY);
  const hasRooms = index.category.values.includes(ROOM_CATEGORY);
  for (let row = 0; row < flags.length; row++) if (!shown[row] || (hasRooms && isRoom(row))) flags[row] = HIDDEN;
  if (view.selection.length > 0) {
    const selected = new Uint8Array(index.count);
    for (const where of view.selection) markWhere(selected, where, elements, 1);
    for (let row = 0; row < flags.length; row++)
      if (selected[row]) flags[row] = hasRooms && isRoom(row) ? mark : flags[row]! | mark;
  }
  rowsAside(options, view.options, elements)?.forEach((aside, row) => {
    if (aside) flags[row] = HIDDEN;
  });
  return flags;
}

/** guid -> row. Where a file repeats a guid, the first row has it. */
export function guidRows(index: ElementIndex): Map<string, number> {
  const rows = new Map<string, number>();
  index.guid.forEach((guid, row) => {
    if (!rows.has(guid)) rows.set(guid, row);
  });
  return rows;
}
