import type { ElementSet, Where } from '../elements/element-set';
import type { Vec3 } from '../math/mat4';
import { add, cross, distance, dot, scale, subtract, unit } from '../math/vec3';
import type { Plane } from '../section/plane';
import type { CameraPose } from '../view/camera';
import type { ViewState } from '../view/view-state';

/** Width of pictures to their height, where nothing else is known. */
export const ASPECT = 1.6;

/** A camera by vectors; `height` is what is seen of the target's plane without perspective, in metres, and null with it. */
export function cameraVectors({ position, target, fov, parallel }: CameraPose) {
  const direction = unit(subtract(target, position));
  const right = Math.abs(direction[2]) > 0.9999 ? ([1, 0, 0] as Vec3) : unit(cross(direction, [0, 0, 1]));
  return {
    position,
    direction,
    up: cross(right, direction),
    fov,
    height: parallel ? 2 * distance(position, target) * Math.tan((fov * Math.PI) / 360) : null,
  };
}

/** What shows, as far as it is said by single elements; else everything does. */
export function exceptionsOf(shown: ElementSet): { isShownByDefault: boolean; exceptions: string[] } {
  const [first] = shown;
  const isAlone = first === undefined || ('also' in first && guidsOf([first.also]).length > 0);
  const exceptions = isAlone
    ? shown.flatMap((clause) => ('also' in clause ? guidsOf([clause.also]) : []))
    : shown.flatMap((clause) => ('except' in clause ? guidsOf([clause.except]) : []));
  return { isShownByDefault: !isAlone, exceptions };
}

/** The single elements of each colour; the colour as RRGGBB. */
export function coloursOf({ colouring }: ViewState): { colour: string; guids: string[] }[] {
  return colouring.flatMap(({ of, colour }) => {
    const guids = guidsOf(of.flatMap((clause) => ('also' in clause ? [clause.also] : [])));
    return guids.length > 0 ? [{ colour: colour.slice(1).toUpperCase(), guids }] : [];
  });
}

/** The single elements that rules name. */
export function guidsOf(wheres: readonly Where[]): string[] {
  return wheres.flatMap((where) => where.flatMap((condition) => (condition.is === 'element' ? condition.guids : [])));
}

/** The point of a plane that is nearest to what is looked at. */
export function nearTarget({ target }: CameraPose, { normal, offset }: Plane): Vec3 {
  return add(target, scale(normal, offset - dot(normal, target)));
}

/** Lines of measures and of marks on surfaces. */
export function linesOf({ measures, marks }: ViewState): [Vec3, Vec3][] {
  const ends: [Vec3, Vec3][] = measures
    .filter(({ kind }) => ['distance', 'elements', 'clear', 'height', 'chain'].includes(kind))
    .flatMap(({ points }) => pairs(points));
  for (const { kind, points } of marks)
    if (kind === 'surface')
      ends.push(
        ...pairs(
          Array.from({ length: points.length / 3 }, (_, i): Vec3 => [
            points[3 * i]!,
            points[3 * i + 1]!,
            points[3 * i + 2]!,
          ]),
        ),
      );
  return ends;
}

function pairs(points: readonly Vec3[]): [Vec3, Vec3][] {
  return points.slice(1).map((to, i) => [points[i]!, to]);
}
