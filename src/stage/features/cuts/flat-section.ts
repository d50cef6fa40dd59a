import type { Drawing, DrawnElement } from '@/core/drawing/drawing';
import { clippedCut, windowOf } from '@/core/drawing/clip-drawing';
import { columnValue } from '@/core/elements/element-index';
import type { ElementRef } from '@/core/elements/element-ref';
import { planeFrame } from '@/core/section/plane';
import { CutPlaces } from './cut-places';
import type { WholeSection } from './sections';

export interface FlatElement extends DrawnElement {
  ref: ElementRef;
}

/** The section in one face of a cut, seen square on, in project coordinates. */
export interface FlatSection extends Drawing {
  elements: FlatElement[];
}

const drawings = new WeakMap<WholeSection, FlatSection>();

/** Exact sections of all models by one plane as a drawing; the same one of the same sections. */
export function flatSection(whole: WholeSection): FlatSection {
  const known = drawings.get(whole);
  if (known) return known;
  const drawing = draw(whole);
  drawings.set(whole, drawing);
  return drawing;
}

function draw({ plane, exact: sections, others, frame }: WholeSection): FlatSection {
  const drawn = planeFrame(plane);
  const window = windowOf(plane, others);
  if (!window) return { plane, elements: [] };
  const elements = sections.flatMap((exact): FlatElement[] => {
    const places = new CutPlaces(exact, frame);
    const { index } = exact.model;
    return exact.cuts.flatMap((own): FlatElement[] => {
      const { row, isClosed, area } = own;
      const cut = clippedCut({ ...places.shapeIn(drawn, own), isClosed, area }, window);
      if (!cut) return [];
      const words = {
        guid: index.guid[row]!,
        name: index.name[row]!,
        category: columnValue(index.category, row),
        material: columnValue(index.material, row),
      };
      return [{ ...cut, ...words, ref: exact.model.refOf(row) }];
    });
  });
  return { plane, elements };
}
