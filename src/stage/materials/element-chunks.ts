import { Color, type IUniform } from 'three';
import { FADE_BITS, FADE_STEPS, HIDDEN, SELECTED, THROUGH, WHOLE } from '@/core/elements/element-flags';
import { LIFT } from '@/core/examination/finding';
import type { ElementOffsets } from '../model/element-offsets';
import { BACKS, LIFT_BITS, PAINTED, SOLID, type ElementPaint } from '../model/element-paint';
import { LOOKS, type Look } from '@/core/view/style';
import type { ElementState } from '../model/element-state';
import type { LookUniforms } from './look-uniforms';
import { CUT_DECLARATIONS, discardCutAway, type CutUniforms } from './cut-uniforms';
import type { ShaderChunk } from './shader-chunks';

/** Indigo: what one has taken hold of oneself. */
const SELECTION = new Color('#34497F');
/** Ochre: what asks for attention, here faces that are seen from behind. */
const BACK = new Color('#C98A1B');
/** Felt, darkened: the inside of what is cut. */
const CUT_MATTER_COLOR = new Color('#8A7F6E');
/** How clear an element with these flags is, in steps. */
const fadeSteps = (flags: string) => `((${flags} >> ${FADE_BITS}) & ${FADE_STEPS - 1})`;
const NOWHERE = 'gl_Position = vec4(2.0, 2.0, 2.0, 1.0);';

/** Reads the element's state, and throws a hidden element's vertices out of the view. Comes before all others. */
export function stateChunk(state: ElementState): ShaderChunk {
  return {
    name: 'state',
    uniforms: { elementState: { value: state.texture } },
    vertexHead: /* glsl */ `
attribute float _feature_id_0;
uniform sampler2D elementState;
flat varying int vFlags;
`,
    begin: /* glsl */ `
int element = int(_feature_id_0 + 0.5);
int across = textureSize(elementState, 0).x;
ivec2 texel = ivec2(element % across, element / across);
ivec2 stateBytes = ivec2(texelFetch(elementState, texel, 0).rg * 255.0 + 0.5);
vFlags = stateBytes.x | (stateBytes.y << 8);
int fade = ${fadeSteps('vFlags')};
`,
    vertexEnd: `if ((vFlags & ${HIDDEN}) != 0) ${NOWHERE}`,
    fragmentHead: 'flat varying int vFlags;',
  };
}

/** Moves every element by its own offset, in the axes of the stage. */
export function offsetChunk(offsets: ElementOffsets): ShaderChunk {
  const uniforms: Record<string, IUniform> = {
    elementOffsets: offsets.textureUniform,
    offsetShare: offsets.shareUniform,
  };
  return {
    name: 'offset',
    uniforms,
    vertexHead: 'uniform sampler2D elementOffsets;\nuniform float offsetShare;',
    begin: /* glsl */ `
vec3 elementOffset = vec3(0.0);
if (offsetShare > 0.0) elementOffset = texelFetch(elementOffsets, texel, 0).xyz * offsetShare;
`,
    projected: /* glsl */ `
if (offsetShare > 0.0) {
  mvPosition.xyz += mat3(viewMatrix) * elementOffset;
  gl_Position = projectionMatrix * mvPosition;
}
`,
    world: /* glsl */ `
#if defined( USE_ENVMAP ) || defined( DISTANCE ) || defined ( USE_SHADOWMAP ) || defined ( USE_TRANSMISSION ) || NUM_SPOT_LIGHT_COORDS > 0
worldPosition.xyz += elementOffset;
#endif
`,
  };
}

/** Is there only while something is cut: what may leave a pixel out costs, on many devices, all that is drawn behind others. */
export const CUTTING = 'CUTTING';

function whenCutting(text: string): string {
  return `#ifdef ${CUTTING}\n${text}\n#endif`;
}

/** Leaves out what lies before any face of a cut, except of elements that stay whole. */
export function cutChunk({ uniforms }: CutUniforms): ShaderChunk {
  return {
    name: 'cut',
    uniforms,
    vertexHead: whenCutting('varying vec3 vCutAt;'),
    projected: whenCutting('vCutAt = (modelMatrix * vec4(transformed, 1.0)).xyz + elementOffset;'),
    fragmentHead: whenCutting(`varying vec3 vCutAt;\n${CUT_DECLARATIONS}`),
    fragmentBegin: whenCutting(`if ((vFlags & ${WHOLE}) == 0) ${discardCutAway('vCutAt')}`),
  };
}

/** Inside of what is cut: back faces show as cut matter, until the exact section takes their place. */
export const CUT_MATTER: ShaderChunk = {
  name: 'cut-matter',
  uniforms: { cutMatterColor: { value: CUT_MATTER_COLOR } },
  fragmentHead: whenCutting('uniform vec3 cutMatterColor;'),
  out: whenCutting(`if (!gl_FrontFacing && (vFlags & ${WHOLE}) == 0) outgoingLight = cutMatterColor;`),
};

/** What is faded is not drawn here. */
export const SOLID_ONLY: ShaderChunk = { name: 'solid-only', vertexEnd: `if (fade > 0) ${NOWHERE}` };

/** Nothing but what is faded is drawn here. */
export const FADED_ONLY: ShaderChunk = { name: 'faded-only', vertexEnd: `if (fade == 0) ${NOWHERE}` };

/** What is faded is as much clearer. */
export const FADED_ALPHA: ShaderChunk = {
  name: 'faded-alpha',
  color: `diffuseColor.a *= 1.0 - float(${fadeSteps('vFlags')}) / ${FADE_STEPS}.0;`,
};

/** The part of all depth, before everything else, into which what shows through is drawn, near before far. */
const NEAREST = 0.05;

/** Paint that elements have otherwise than in the file. What is lifted comes nearer without leaving its place in the picture. */
export function paintChunk(paint: ElementPaint): ShaderChunk {
  return {
    name: 'paint',
    uniforms: { elementPaint: { value: paint.texture } },
    vertexHead: /* glsl */ `
uniform sampler2D elementPaint;
flat varying vec3 vPaint;
flat varying int vPaintBits;
`,
    vertexEnd: /* glsl */ `
vec4 paint = texelFetch(elementPaint, texel, 0);
vPaint = paint.rgb;
vPaintBits = int(paint.a * 255.0 + 0.5);
int lifts = vPaintBits >> ${LIFT_BITS};
if (lifts > 0) {
  float nearer = 1.0 - float(lifts) * ${LIFT} / max(length(mvPosition.xyz), 1.0);
  vec4 lifted = projectionMatrix * vec4(mvPosition.xyz * nearer, 1.0);
  gl_Position.z = lifted.z / lifted.w * gl_Position.w;
}
if ((vFlags & ${THROUGH}) != 0) gl_Position.z = ${NEAREST} * (gl_Position.z + gl_Position.w) - gl_Position.w;
`,
  };
}

/** How much colour a card model keeps of its materials. */
const CARD_COLOUR = 0.88;
/** How much a clear model hides of what is behind it. */
const CLEAR_SHARE = 0.3;

/** Surfaces as the style wants them. Goes together with paint, which shows in every style. */
export function lookChunk({ uniforms }: LookUniforms): ShaderChunk {
  const is = (name: Look) => `look == ${LOOKS.indexOf(name)}`;
  return {
    name: 'look',
    uniforms,
    fragmentHead: 'uniform int look;\nuniform vec3 lookPaper;',
    color: /* glsl */ `
if (${is('card')}) diffuseColor.rgb = mix(vec3(dot(diffuseColor.rgb, vec3(0.2126, 0.7152, 0.0722))), diffuseColor.rgb, ${CARD_COLOUR});
if (${is('clear')}) diffuseColor.a *= ${CLEAR_SHARE};
`,
    // What turns away from the eye gets its outline by tone: round things have no creases that could be drawn.
    out: /* glsl */ `
if (${is('ink')}) {
  float facing = abs(dot(normalize(normal), normalize(vViewPosition)));
  vec3 ground = (vPaintBits & ${PAINTED}) != 0 ? vPaint : lookPaper;
  outgoingLight = ground * mix(0.6, 1.0, smoothstep(0.0, 0.3, facing));
}
`,
  };
}

/** The paint's colour on surfaces; what is selected shows, however clear it is. */
export const SURFACE_PAINT: ShaderChunk = {
  name: 'surface-paint',
  uniforms: { selectedColor: { value: SELECTION }, backColor: { value: BACK } },
  fragmentHead: /* glsl */ `
flat varying vec3 vPaint;
flat varying int vPaintBits;
uniform vec3 selectedColor;
uniform vec3 backColor;
`,
  color: /* glsl */ `
if ((vPaintBits & ${PAINTED}) != 0) diffuseColor.rgb = vPaint;
if ((vPaintBits & ${SOLID}) != 0) diffuseColor.a = 1.0;
bool isBack = (vPaintBits & ${BACKS}) != 0 && !gl_FrontFacing;
if (isBack) diffuseColor = vec4(backColor, max(diffuseColor.a, 0.55));
`,
  out: /* glsl */ `
if ((vFlags & ${SELECTED}) != 0 && !isBack) {
  outgoingLight = mix(outgoingLight, selectedColor, 0.62);
  diffuseColor.a = max(diffuseColor.a, 0.55);
}
`,
};

/** Where half of the picture's height is so many metres or less, ink lines have their full weight. */
const FULL_INK_METRES = 40;

/**
 * Far away many lines share a pixel; each must then weigh less, or fine buildings turn black. A line that seems shorter
 * than a pixel or two does not show: its depth is not to be trusted. Parts of half a view's height. A wide line is several strokes.
 */
export function inkChunk({ uniforms: { inkStep, inkPixel } }: LookUniforms): ShaderChunk {
  return {
    name: 'ink',
    uniforms: { inkStep, inkPixel },
    vertexHead: `
attribute vec3 otherEnd;
uniform float inkStep;
uniform vec2 inkPixel;
varying float vWeight;
`,
    vertexEnd: /* glsl */ `
vWeight = clamp(${FULL_INK_METRES}.0 * projectionMatrix[1][1] / gl_Position.w, 0.1, 1.0);
vec4 farEnd = projectionMatrix * (modelViewMatrix * vec4(otherEnd, 1.0) + vec4(mat3(viewMatrix) * elementOffset, 0.0));
if (farEnd.w > 0.0 && gl_Position.w > 0.0) {
  vec2 span = farEnd.xy / farEnd.w - gl_Position.xy / gl_Position.w;
  vWeight *= smoothstep(0.002, 0.006, max(abs(span.x), abs(span.y)));
  // Strokes alternate from side to side; both ends of one have to go to the same.
  float stroke = float((gl_InstanceID + 1) / 2) * ((gl_InstanceID & 1) == 0 ? -inkStep : inkStep);
  vec2 along = span / inkPixel * ((gl_VertexID & 1) == 0 ? 1.0 : -1.0);
  if (stroke != 0.0 && dot(along, along) > 0.0)
    gl_Position.xy += normalize(vec2(-along.y, along.x)) * inkPixel * stroke * gl_Position.w;
}
`,
    fragmentHead: 'varying float vWeight;',
    out: 'diffuseColor.a *= vWeight;',
  };
}

/** Where a surface runs on into another element's, there is a line only while that does not show as this one does. */
export const SEAMS: ShaderChunk = {
  name: 'seams',
  vertexHead: 'attribute float beside;',
  vertexEnd: /* glsl */ `
if (beside >= 0.0) {
  int other = int(beside + 0.5);
  int flags = int(texelFetch(elementState, ivec2(other % across, other / across), 0).r * 255.0 + 0.5);
  bool isApart = false;
  if (offsetShare > 0.0)
    isApart = texelFetch(elementOffsets, ivec2(other % across, other / across), 0).xyz * offsetShare != elementOffset;
  if ((flags & ${HIDDEN}) == 0 && ${fadeSteps('flags')} == fade && !isApart) ${NOWHERE}
}
`,
};
