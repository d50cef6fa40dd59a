/** How finely is drawn: as fits the device, every pixel also while something moves, or half of them. */
export const RESOLUTIONS = ['usual', 'full', 'half'] as const;
export type Resolution = (typeof RESOLUTIONS)[number];

const SHARE_WHILE_MOVING = 0.5;
const MOST_USUALLY = 2;

/**
 * Pixels drawn to a CSS pixel.
 *
 * @param device pixels that the screen has to a CSS pixel
 * @param isCoarse whether something moves on a slow device
 */
export function pixelRatio(resolution: Resolution, device: number, isCoarse: boolean): number {
  if (resolution === 'full') return device;
  return Math.min(device, MOST_USUALLY) * (isCoarse || resolution === 'half' ? SHARE_WHILE_MOVING : 1);
}
