import type { Style } from '@/core/view/style';

const PAPER = '#F1EBE0';
const DIM_PAPER = '#1B1916';
const DARK = '#211F1C';

/**
 * What the model is drawn on, as a CSS colour; under a sky it is the paper of whatever else is drawn.
 *
 * @param isDim whether the room is dim: paper is dark then
 */
export function paperOf({ background, colour }: Pick<Style, 'background' | 'colour'>, isDim: boolean): string {
  if (background === 'dark') return DARK;
  if (background === 'plain') return colour;
  return isDim ? DIM_PAPER : PAPER;
}
