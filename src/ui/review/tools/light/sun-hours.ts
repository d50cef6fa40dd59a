import { Ray, Vector3 } from 'three';
import { columnValue, elementLabel } from '@/core/elements/element-index';
import type { Vec3 } from '@/core/math/mat4';
import { add, scale } from '@/core/math/vec3';
import type { ShadeOf } from '@/core/sun/sun-hours';
import type { Stage } from '@/stage/stage';

/** Metres before a face from which its sun is looked for. */
const OFF = 0.02;
/** So long at most nothing else gets its turn, milliseconds. */
const TURN_MS = 10;

/**
 * What casts shade on a place, by the model's own surfaces at full detail; glass lets the sun through, and so does what is
 * hidden or cut away.
 *
 * @param point, normal project coordinates
 */
export function shadeAt(stage: Stage, point: Vec3, normal: Vec3 | null): ShadeOf {
  const from = stage.frame.toStage(normal ? add(point, scale(normal, OFF)) : point);
  let last = performance.now();
  return async (direction) => {
    if (performance.now() - last > TURN_MS) {
      await new Promise((done) => setTimeout(done));
      last = performance.now();
    }
    const hit = await stage.surfaces.exactHit(new Ray(from, new Vector3(...direction)), { throughGlass: true });
    if (!hit) return null;
    const { index } = stage.surfaces.modelOf(hit.element)!;
    return columnValue(index.system, hit.row) || elementLabel(index, hit.row) || 'something';
  };
}
