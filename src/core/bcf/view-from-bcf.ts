import type { CutPlane } from '../cut/cuts';
import { ALL_ELEMENTS, setOf, type ElementSet, type Where } from '../elements/element-set';
import { MOST_MARKS, type Mark } from '../mark/marks';
import type { Vec3 } from '../math/mat4';
import { add, dot, scale, unit } from '../math/vec3';
import type { CameraPose } from '../view/camera';
import type { Coloured } from '../view/colouring';
import { INITIAL_VIEW } from '../view/view-state';

/** How far away what is looked at is taken to be, where only the direction is told, in metres. */
const DISTANCE = 10;
/** Vertical field of view for cameras without perspective, in degrees; the height decides what is seen. */
const PARALLEL_FOV = 45;
/** More elements than this are not named one by one. */
const MOST_COMPONENTS = 50_000;

/** A camera of a place and a direction, with a field of view in degrees or, without perspective, the height that is seen. */
export function cameraFrom(position: Vec3, direction: Vec3, lens: { fov: number } | { height: number }): CameraPose {
  if (!(Math.hypot(...direction) > 1e-9) || !position.every(Number.isFinite)) return INITIAL_VIEW.camera;
  const along = unit(direction);
  if ('fov' in lens) {
    const fov = Math.min(Math.max(lens.fov, 1), 150);
    return { position, target: add(position, scale(along, DISTANCE)), fov };
  }
  // As far away that the height is what is seen at the target.
  const away = Math.max(lens.height, 0.01) / 2 / Math.tan((PARALLEL_FOV * Math.PI) / 360);
  return { position, target: add(position, scale(along, away)), fov: PARALLEL_FOV, parallel: true };
}

/** What shows where the elements named are the exceptions from all or from nothing. */
export function shownBy(guids: readonly string[], isShownByDefault: boolean): ElementSet {
  const known = distinct(guids);
  if (known.length === 0) return ALL_ELEMENTS;
  const where = [{ is: 'element' as const, guids: known }];
  return isShownByDefault ? [...ALL_ELEMENTS, { except: where }] : [{ also: where }];
}

export function selectedBy(guids: readonly string[]): Where[] {
  const known = distinct(guids);
  return known.length > 0 ? [[{ is: 'element', guids: known }]] : [];
}

function distinct(guids: readonly string[]): string[] {
  return [...new Set(guids.filter(Boolean))].slice(0, MOST_COMPONENTS);
}

/** Elements in a colour as #RRGGBB or, with its opacity first, #AARRGGBB; with or without the #. None where that is no colour. */
export function colouredBy(colour: string, guids: readonly string[]): Coloured[] {
  const digits = /^#?(?:[0-9a-f]{2})?([0-9a-f]{6})$/i.exec(colour.trim())?.[1];
  const of = setOf(selectedBy(guids));
  return digits && of.length > 0 ? [{ of, colour: `#${digits.toLowerCase()}` }] : [];
}

/** A clipping plane: what lies in its direction is away. None where that is no direction. */
export function cutFrom(at: Vec3, direction: Vec3, number: number): CutPlane[] {
  if (!(Math.hypot(...direction) > 1e-9)) return [];
  const normal = unit(direction);
  const id = `bcf-${number}`;
  return [{ id, normal, offset: dot(normal, at), thickness: null, middle: at, isOn: true, isFramed: true }];
}

/** Lines as marks on surfaces. @param by name of who drew them */
export function linesAsMarks(lines: readonly (readonly [Vec3, Vec3])[], by: string): Mark[] {
  return lines.slice(0, MOST_MARKS).map(([from, to], i) => ({
    id: `bcf-${i + 1}`,
    kind: 'surface',
    ink: 'madder',
    pen: 'fine',
    points: [...from, ...to],
    pressures: [],
    text: '',
    camera: null,
    by: { id: '', name: by },
  }));
}
