/** Length units in which models come, with their size in metres. */
export const LENGTH_UNITS = {
  m: { metres: 1, name: 'metres' },
  cm: { metres: 0.01, name: 'centimetres' },
  mm: { metres: 0.001, name: 'millimetres' },
  ft: { metres: 0.3048, name: 'feet' },
  in: { metres: 0.0254, name: 'inches' },
} as const;

export type LengthUnit = keyof typeof LENGTH_UNITS;
export type UpAxis = 'Y' | 'Z';

/** How a file's numbers are to be read. */
export interface ModelFrame {
  /** Metres in one unit of the file. */
  metresPerUnit: number;
  up: UpAxis;
}

/** The name of a unit by its size, or its size where it is none of the usual ones. */
export function unitName(metresPerUnit: number): string {
  const known = Object.values(LENGTH_UNITS).find(({ metres }) => Math.abs(metres / metresPerUnit - 1) < 1e-6);
  return known?.name ?? `units of ${Number(metresPerUnit.toPrecision(4))} m`;
}
