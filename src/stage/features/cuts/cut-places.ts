import { Vector3 } from 'three';
import type { Vec3 } from '@/core/math/mat4';
import { pathBounds, type Path } from '@/core/section/path';
import { inPlane, inSpace, planeFrame, type PlaneFrame } from '@/core/section/plane';
import { isInRegion } from '@/core/section/region';
import type { CoordinateFrame } from '../../coordinate-frame';
import { planeInModel } from '../../surfaces/plane-in-model';
import type { RowCut } from '../../workers/cut-task';
import type { ExactCut } from './sections';

/** Where the places of an exact section are in the project. */
export class CutPlaces {
  private readonly own;
  private readonly matrix;
  private readonly inverse;
  private readonly bounds: (readonly [number, number, number, number])[];

  constructor(
    private readonly exact: ExactCut,
    private readonly frame: CoordinateFrame,
  ) {
    const { model, face } = exact;
    this.own = planeFrame(planeInModel(face.plane, model, frame).plane);
    this.matrix = model.group.matrixWorld.clone();
    this.inverse = this.matrix.clone().invert();
    this.bounds = exact.cuts.map(boundsOf);
  }

  /** A place of the section, in project coordinates. */
  toProject(x: number, y: number): Vec3 {
    return this.frame.toProject(new Vector3(...inSpace(this.own, [x, y])).applyMatrix4(this.matrix));
  }

  /** The shape of a cut in another frame of the same plane, in project coordinates. */
  shapeIn(frame: PlaneFrame, { regions, lines }: RowCut): Pick<RowCut, 'regions' | 'lines'> {
    const moved = (path: Path): Path => {
      const out = new Float64Array(path.length);
      for (let at = 0; at < path.length; at += 2) out.set(inPlane(frame, this.toProject(path[at]!, path[at + 1]!)), at);
      return out;
    };
    return {
      regions: regions.map(({ border, holes }) => ({ border: moved(border), holes: holes.map(moved) })),
      lines: lines.map(moved),
    };
  }

  /** The element within whose filled section a point of the plane lies. @param point project coordinates */
  cutAt(point: Vec3): RowCut | null {
    const [x, y] = inPlane(this.own, this.frame.toStage(point).applyMatrix4(this.inverse).toArray());
    return (
      this.exact.cuts.find(({ regions }, i) => {
        const [x0, y0, x1, y1] = this.bounds[i]!;
        if (x < x0 || x > x1 || y < y0 || y > y1) return false;
        return regions.some((region) => isInRegion(region, x, y));
      }) ?? null
    );
  }
}

function boundsOf({ regions }: RowCut): [number, number, number, number] {
  const all: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { border } of regions) {
    const own = pathBounds(border);
    for (const k of [0, 1]) all[k] = Math.min(all[k]!, own[k]!);
    for (const k of [2, 3]) all[k] = Math.max(all[k]!, own[k]!);
  }
  return all;
}
