import {
  BackSide,
  Color,
  DoubleSide,
  LineBasicMaterial,
  MeshDepthMaterial,
  MeshLambertMaterial,
  RGBADepthPacking,
  type Material,
  type WebGLProgramParametersWithUniforms,
} from 'three';
import { HIDDEN, SELECTED } from '@/core/elements/visibility-flags';
import type { ElementState } from './element-state';

const VERTEX_HEAD = /* glsl */ `
attribute float _feature_id_0;
uniform sampler2D elementState;
flat varying int vFlags;
`;

/** Reads the element's flags and throws a hidden element's vertices out of the view. */
const VERTEX_END = /* glsl */ `
int element = int(_feature_id_0 + 0.5);
int across = textureSize(elementState, 0).x;
vFlags = int(texelFetch(elementState, ivec2(element % across, element / across), 0).r * 255.0 + 0.5);
if ((vFlags & ${HIDDEN}) != 0) gl_Position = vec4(2.0, 2.0, 2.0, 1.0);
`;

const SELECTED_MIX = /* glsl */ `
if ((vFlags & ${SELECTED}) != 0) outgoingLight = mix(outgoingLight, selectedColor, 0.62);
`;

function withState(
  material: Material,
  state: ElementState,
  edit?: (shader: WebGLProgramParametersWithUniforms) => void,
): void {
  material.onBeforeCompile = (shader) => {
    shader.uniforms.elementState = { value: state.texture };
    shader.vertexShader = shader.vertexShader
      .replace('void main() {', `${VERTEX_HEAD}\nvoid main() {`)
      .replace(/}\s*$/, `${VERTEX_END}\n}`);
    shader.fragmentShader = shader.fragmentShader.replace('void main() {', 'flat varying int vFlags;\nvoid main() {');
    edit?.(shader);
  };
}

export interface ModelMaterials {
  opaque: MeshLambertMaterial;
  seeThrough: MeshLambertMaterial;
  lines: LineBasicMaterial;
  depth: MeshDepthMaterial;
}

/** Indigo: what one has taken hold of oneself. */
const SELECTION = new Color('#34497F');
const INK = new Color('#26231F');
/** Up to this distance ink lines have their full weight. */
const FULL_INK_METRES = 85;

/** The materials of one model: matt surfaces shaded flat, ink lines; all of them follow the element state. */
export function modelMaterials(state: ElementState): ModelMaterials {
  const surface = (transparent: boolean) => {
    const material = new MeshLambertMaterial({
      vertexColors: true,
      flatShading: true,
      side: DoubleSide,
      shadowSide: BackSide,
      transparent,
      depthWrite: !transparent,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
    });
    withState(material, state, (shader) => {
      shader.uniforms.selectedColor = { value: SELECTION };
      shader.fragmentShader = shader.fragmentShader
        .replace('flat varying int vFlags;', 'flat varying int vFlags;\nuniform vec3 selectedColor;')
        .replace('#include <opaque_fragment>', `${SELECTED_MIX}\n#include <opaque_fragment>`);
    });
    return material;
  };
  const lines = new LineBasicMaterial({ color: INK, transparent: true, opacity: 0.34, depthWrite: false });
  withState(lines, state, (shader) => {
    // Far away many lines share a pixel; each must then weigh less, or fine buildings turn black.
    shader.vertexShader = shader.vertexShader
      .replace('void main() {', 'varying float vFade;\nvoid main() {')
      .replace(/}\s*$/, `vFade = clamp(${FULL_INK_METRES}.0 / gl_Position.w, 0.1, 1.0);\n}`);
    shader.fragmentShader = shader.fragmentShader
      .replace('void main() {', 'varying float vFade;\nvoid main() {')
      .replace('#include <opaque_fragment>', 'diffuseColor.a *= vFade;\n#include <opaque_fragment>');
  });
  const depth = new MeshDepthMaterial({ depthPacking: RGBADepthPacking, side: DoubleSide });
  withState(depth, state);
  return { opaque: surface(false), seeThrough: surface(true), lines, depth };
}

export function disposeMaterials(materials: ModelMaterials): void {
  for (const material of Object.values(materials)) (material as Material).dispose();
}
