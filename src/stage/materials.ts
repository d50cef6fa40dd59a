import {
  BackSide,
  Color,
  DoubleSide,
  LineBasicMaterial,
  MeshDepthMaterial,
  MeshLambertMaterial,
  RGBADepthPacking,
  type Material,
  type Texture,
  type WebGLProgramParametersWithUniforms,
} from 'three';
import { HIDDEN, SELECTED, THROUGH } from '@/core/elements/visibility-flags';
import { LIFT } from '@/core/examination/finding';
import { BACKS, LIFT_BITS, PAINTED, SOLID, type ElementPaint } from './element-paint';
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

const PAINT_HEAD = /* glsl */ `
uniform sampler2D elementPaint;
flat varying vec3 vPaint;
flat varying int vPaintBits;
`;
/** The part of all depth, before everything else, into which what shows through is drawn, near before far. */
const NEAREST = 0.05;
/** What is lifted comes nearer without leaving its place in the picture. */
const PAINT_END = /* glsl */ `
vec4 paint = texelFetch(elementPaint, ivec2(element % across, element / across), 0);
vPaint = paint.rgb;
vPaintBits = int(paint.a * 255.0 + 0.5);
int lifts = vPaintBits >> ${LIFT_BITS};
if (lifts > 0) {
  float nearer = 1.0 - float(lifts) * ${LIFT} / max(length(mvPosition.xyz), 1.0);
  vec4 lifted = projectionMatrix * vec4(mvPosition.xyz * nearer, 1.0);
  gl_Position.z = lifted.z / lifted.w * gl_Position.w;
}
if ((vFlags & ${THROUGH}) != 0) gl_Position.z = ${NEAREST} * (gl_Position.z + gl_Position.w) - gl_Position.w;
`;
const PAINT_FRAGMENT_HEAD = /* glsl */ `
flat varying vec3 vPaint;
flat varying int vPaintBits;
uniform vec3 selectedColor;
uniform vec3 backColor;
`;
const PAINTED_COLOR = /* glsl */ `
if ((vPaintBits & ${PAINTED}) != 0) diffuseColor.rgb = vPaint;
if ((vPaintBits & ${SOLID}) != 0) diffuseColor.a = 1.0;
bool isBack = (vPaintBits & ${BACKS}) != 0 && !gl_FrontFacing;
if (isBack) diffuseColor = vec4(backColor, max(diffuseColor.a, 0.55));
`;

/** Up to this distance ink lines have their full weight. */
const FULL_INK_METRES = 85;

/**
 * Far away many lines share a pixel; each must then weigh less, or fine buildings turn black. A line that seems shorter
 * than a pixel or two does not show: its depth is not to be trusted. Parts of half a view's height.
 */
const INK_FADE = /* glsl */ `
vFade = clamp(${FULL_INK_METRES}.0 / gl_Position.w, 0.1, 1.0);
vec4 farEnd = projectionMatrix * modelViewMatrix * vec4(otherEnd, 1.0);
if (farEnd.w > 0.0 && gl_Position.w > 0.0) {
  vec2 span = abs(farEnd.xy / farEnd.w - gl_Position.xy / gl_Position.w);
  vFade *= smoothstep(0.002, 0.006, max(span.x, span.y));
}
`;

/** Where a surface runs on into another element's, there is a line only while that is hidden. */
const SEAM = /* glsl */ `
if (beside >= 0.0) {
  int other = int(beside + 0.5);
  int flags = int(texelFetch(elementState, ivec2(other % across, other / across), 0).r * 255.0 + 0.5);
  if ((flags & ${HIDDEN}) == 0) gl_Position = vec4(2.0, 2.0, 2.0, 1.0);
}
`;

/** What is selected shows, however clear it is. */
const SELECTED_MIX = /* glsl */ `
if ((vFlags & ${SELECTED}) != 0 && !isBack) {
  outgoingLight = mix(outgoingLight, selectedColor, 0.62);
  diffuseColor.a = max(diffuseColor.a, 0.55);
}
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

/** How a surface is drawn. */
export interface SurfaceLook {
  seeThrough: boolean;
  /** Whether it has normals of its own; without, every face is flat. */
  curved: boolean;
  /** Address of its picture, if it has one; the material shows it once `showPicture` has been given it. */
  picture: string | null;
  /** Whether the clear places of its picture are cut away. */
  cutOut: boolean;
}

/** Indigo: what one has taken hold of oneself. */
const SELECTION = new Color('#34497F');
const INK = new Color('#26231F');
/** Ochre: what asks for attention, here faces that are seen from behind. */
const BACK = new Color('#C98A1B');

/** The materials of one model: matt surfaces and ink lines; all of them follow the element state. */
export class ModelMaterials {
  readonly lines: LineBasicMaterial;
  readonly depth: MeshDepthMaterial;
  private readonly surfaces = new Map<string, MeshLambertMaterial>();

  constructor(
    private readonly state: ElementState,
    private readonly paint: ElementPaint,
  ) {
    this.lines = inkLines(state, paint);
    this.depth = new MeshDepthMaterial({ depthPacking: RGBADepthPacking, side: DoubleSide });
    withState(this.depth, state);
  }

  /** The material for a look; the same for the same look. */
  surface(look: SurfaceLook): MeshLambertMaterial {
    const key = `${look.seeThrough}/${look.curved}/${look.cutOut}/${look.picture ?? ''}`;
    let material = this.surfaces.get(key);
    if (!material) {
      material = surfaceMaterial(look, this.state, this.paint);
      this.surfaces.set(key, material);
    }
    return material;
  }

  dispose(): void {
    for (const material of [this.lines, this.depth, ...this.surfaces.values()]) material.dispose();
  }
}

function surfaceMaterial({ seeThrough, curved, cutOut }: SurfaceLook, state: ElementState, paint: ElementPaint) {
  const material = new MeshLambertMaterial({
    vertexColors: true,
    flatShading: !curved,
    alphaTest: cutOut ? 0.5 : 0,
    side: DoubleSide,
    shadowSide: BackSide,
    transparent: seeThrough,
    depthWrite: !seeThrough,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
  });
  withState(material, state, (shader) => {
    shader.uniforms.selectedColor = { value: SELECTION };
    shader.uniforms.backColor = { value: BACK };
    readPaint(shader, paint);
    shader.fragmentShader = shader.fragmentShader
      .replace('void main() {', `${PAINT_FRAGMENT_HEAD}\nvoid main() {`)
      .replace('#include <color_fragment>', `#include <color_fragment>\n${PAINTED_COLOR}`)
      .replace('#include <opaque_fragment>', `${SELECTED_MIX}\n#include <opaque_fragment>`);
  });
  return material;
}

function readPaint(shader: WebGLProgramParametersWithUniforms, paint: ElementPaint): void {
  shader.uniforms.elementPaint = { value: paint.texture };
  shader.vertexShader = shader.vertexShader
    .replace('void main() {', `${PAINT_HEAD}\nvoid main() {`)
    .replace(/}\s*$/, `${PAINT_END}\n}`);
}

/** From now on a surface shows a picture. */
export function showPicture(material: MeshLambertMaterial, picture: Texture): void {
  if (material.map === picture) return;
  material.map = picture;
  material.needsUpdate = true;
}

function inkLines(state: ElementState, paint: ElementPaint): LineBasicMaterial {
  const lines = new LineBasicMaterial({ color: INK, transparent: true, opacity: 0.34, depthWrite: false });
  withState(lines, state, (shader) => {
    readPaint(shader, paint); // lines of what is lifted come along
    shader.vertexShader = shader.vertexShader
      .replace(
        'void main() {',
        'attribute vec3 otherEnd;\nattribute float beside;\nvarying float vFade;\nvoid main() {',
      )
      .replace(/}\s*$/, `${INK_FADE}\n${SEAM}\n}`);
    shader.fragmentShader = shader.fragmentShader
      .replace('void main() {', 'varying float vFade;\nvoid main() {')
      .replace('#include <opaque_fragment>', 'diffuseColor.a *= vFade;\n#include <opaque_fragment>');
  });
  return lines;
}
