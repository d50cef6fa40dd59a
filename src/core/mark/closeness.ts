import { distance, dot, subtract, unit } from '../math/vec3';
import type { CameraPose } from '../view/camera';

/** From this much away a mark begins to fade, and is gone. */
const BEGINS = 0.06;
const GONE = 0.5;

/**
 * How much a view is the one in which something was drawn: 1 where it is, 0 where what was drawn would lie on something else.
 * Moving counts by how far away one looks, turning and zooming by how much one sees.
 */
export function closeness(drawn: CameraPose, seen: CameraPose): number {
  if ((drawn.parallel ?? false) !== (seen.parallel ?? false)) return 0;
  const away = Math.max(distance(drawn.position, drawn.target), 1e-6);
  const [one, other] = [drawn, seen].map(({ position, target }) => subtract(target, position));
  if (Math.hypot(...one!) < 1e-9 || Math.hypot(...other!) < 1e-9) return 0;
  const turned = Math.acos(Math.min(1, Math.max(-1, dot(unit(one!), unit(other!)))));
  const half = (drawn.fov * Math.PI) / 360;
  const apart = Math.max(
    distance(drawn.position, seen.position) / away,
    turned / half,
    Math.abs(Math.log(Math.tan((seen.fov * Math.PI) / 360) / Math.tan(half))),
    // Without perspective the distance is what zooms.
    drawn.parallel ? Math.abs(Math.log(Math.max(distance(seen.position, seen.target), 1e-6) / away)) : 0,
  );
  return Math.min(1, Math.max(0, (GONE - apart) / (GONE - BEGINS)));
}
