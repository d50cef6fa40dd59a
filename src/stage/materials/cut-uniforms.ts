import { Vector4, type IUniform } from 'three';
import { MOST_HALF_SPACES, type CutFace } from '@/core/cut/cuts';
import { dot } from '@/core/math/vec3';
import type { Vec3 } from '@/core/math/mat4';

/** The faces beyond which nothing is drawn, in stage coordinates; one for all materials. */
export class CutUniforms {
  readonly planes: IUniform<Vector4[]> = { value: Array.from({ length: MOST_HALF_SPACES }, () => new Vector4()) };
  readonly count: IUniform<number> = { value: 0 };

  /** @param faces in project coordinates @param origin the stage's zero */
  set(faces: readonly CutFace[], origin: Vec3): void {
    faces.forEach(({ plane: { normal, offset } }, i) =>
      this.planes.value[i]!.set(...normal, offset - dot(normal, origin)),
    );
    this.count.value = faces.length;
  }

  /** Whether a place on the stage is cut away. */
  isAway({ x, y, z }: { x: number; y: number; z: number }, slack = 0): boolean {
    for (let i = 0; i < this.count.value; i++) {
      const plane = this.planes.value[i]!;
      if (plane.x * x + plane.y * y + plane.z * z > plane.w + slack) return true;
    }
    return false;
  }
}
