import type { Path } from '../section/path';
import { regionsArea } from '../section/region';
import type { Plane } from '../section/plane';
import type { Drawing, DrawnElement } from './drawing';

/** A drawing as it travels: plain lists of numbers, x and y of one corner after the other, to a tenth of a millimetre. */
export interface PlainDrawing {
  plane: Plane;
  elements: {
    guid: string;
    name: string;
    category: string;
    material: string;
    regions: { border: number[]; holes: number[][] }[];
    lines: number[][];
  }[];
}

export function plainDrawing({ plane, elements }: Drawing): PlainDrawing {
  return {
    plane,
    elements: elements.map(({ guid, name, category, material, regions, lines }) => ({
      guid,
      name,
      category,
      material,
      regions: regions.map(({ border, holes }) => ({ border: plainPath(border), holes: holes.map(plainPath) })),
      lines: lines.map(plainPath),
    })),
  };
}

export function readPlainDrawing({ plane, elements }: PlainDrawing): Drawing {
  return {
    plane,
    elements: elements.map((element): DrawnElement => {
      const regions = element.regions.map(({ border, holes }) => ({
        border: Float64Array.from(border),
        holes: holes.map((hole) => Float64Array.from(hole)),
      }));
      const lines = element.lines.map((line) => Float64Array.from(line));
      return { ...element, regions, lines, isClosed: lines.length === 0, area: regionsArea(regions) };
    }),
  };
}

function plainPath(path: Path): number[] {
  return Array.from(path, (value) => Math.round(value * 1e4) / 1e4);
}
