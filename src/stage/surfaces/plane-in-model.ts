import { Plane as ThreePlane, Vector3, type Box3 } from 'three';
import type { Plane } from '@/core/section/plane';
import type { CoordinateFrame } from '../coordinate-frame';
import type { StageModel } from '../model/stage-model';

/** A plane in project coordinates as a model sees it in its own frame, and whether a box of that frame touches it. */
export function planeInModel(
  { normal, offset }: Plane,
  model: StageModel,
  frame: CoordinateFrame,
): { plane: Plane; touches: (box: Box3) => boolean } {
  const own = new ThreePlane(new Vector3(...normal), -offset).translate(new Vector3(...frame.origin).negate());
  own.applyMatrix4(model.group.matrixWorld.clone().invert());
  return {
    plane: { normal: own.normal.toArray(), offset: -own.constant },
    touches: (box) => own.intersectsBox(box),
  };
}
