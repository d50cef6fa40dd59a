import { Vector4, type IUniform } from 'three';
import { isCutAway, MOST_HALF_SPACES, type CutFace } from '@/core/cut/cuts';
import { dot } from '@/core/math/vec3';
import type { Vec3 } from '@/core/math/mat4';

/** What a fragment shader declares to leave out what is cut away. */
export const CUT_DECLARATIONS = /* glsl */ `
uniform vec4 cutPlanes[${MOST_HALF_SPACES}];
uniform int cutCount;
`;

/** Leaves out a pixel that lies before a face. @param at its place on the stage @param slack metres that it may lie before */
export function discardCutAway(at: string, slack = '0.0'): string {
  return /* glsl */ `
for (int i = 0; i < ${MOST_HALF_SPACES}; i++) {
  if (i >= cutCount) break;
  if (dot(cutPlanes[i].xyz, ${at}) > cutPlanes[i].w + ${slack}) discard;
}
`;
}

/** The faces beyond which nothing is drawn, in stage coordinates; one for all materials. */
export class CutUniforms {
  readonly uniforms = {
    cutPlanes: { value: Array.from({ length: MOST_HALF_SPACES }, () => new Vector4()) },
    cutCount: { value: 0 },
  } satisfies Record<string, IUniform>;
  private faces: readonly CutFace[] = [];

  /** @param faces in project coordinates @param origin the stage's zero */
  set(faces: readonly CutFace[], origin: Vec3): void {
    this.faces = faces.map(({ key, plane: { normal, offset } }) => ({
      key,
      plane: { normal, offset: offset - dot(normal, origin) },
    }));
    const { cutPlanes, cutCount } = this.uniforms;
    this.faces.forEach(({ plane: { normal, offset } }, i) => cutPlanes.value[i]!.set(...normal, offset));
    cutCount.value = faces.length;
  }

  /** Whether a place on the stage is cut away. */
  isAway({ x, y, z }: { x: number; y: number; z: number }): boolean {
    return isCutAway(this.faces, [x, y, z]);
  }
}
