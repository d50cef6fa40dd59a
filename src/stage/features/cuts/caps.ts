import { BufferAttribute, BufferGeometry, Color, DoubleSide, Mesh, ShaderMaterial, type Group } from 'three';
import { LineMaterial } from 'three/addons/lines/LineMaterial.js';
import { LineSegments2 } from 'three/addons/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/addons/lines/LineSegmentsGeometry.js';
import { columnValue, type ElementIndex } from '@/core/elements/element-index';
import { hatchOf } from '@/core/section/hatch';
import { CUT_DECLARATIONS, discardCutAway, type CutUniforms } from '../../materials/cut-uniforms';
import type { CutOutput } from '../../workers/cut-task';

const INK = new Color('#26231F');
const PAPER = new Color('#FCFAF5');
/** Pixels of the heavier pen with which cuts are outlined. */
const PEN = 2.2;
/** A face of a cut is not cut away by itself: it lies this much before the plane at most, metres. */
const SLACK = '0.001';

/** Draws exact sections: filled and hatched in the manner of drawings, outlined with a heavier pen. */
export class CapMaterials {
  readonly fill: ShaderMaterial;
  readonly pen: LineMaterial;

  constructor(private readonly cuts: CutUniforms) {
    this.fill = new ShaderMaterial({
      side: DoubleSide,
      uniforms: { ...cuts.uniforms, ink: { value: INK }, paper: { value: PAPER } },
      vertexShader: /* glsl */ `
attribute vec2 place;
attribute vec4 hatch;
varying vec2 vPlace;
varying vec3 vAt;
flat varying vec4 vHatch;
void main() {
  vPlace = place;
  vHatch = hatch;
  vAt = (modelMatrix * vec4(position, 1.0)).xyz;
  gl_Position = projectionMatrix * viewMatrix * vec4(vAt, 1.0);
}
`,
      fragmentShader: /* glsl */ `
varying vec2 vPlace;
varying vec3 vAt;
flat varying vec4 vHatch;
uniform vec3 ink;
uniform vec3 paper;
${CUT_DECLARATIONS}
float lines(float angle) {
  float across = dot(vPlace, vec2(-sin(angle), cos(angle))) / vHatch.z;
  float wide = max(fwidth(across), 1e-6);
  float pixels = (0.5 - abs(fract(across) - 0.5)) / wide;
  // Lines that would share a pixel become an even tone.
  return mix(0.7 * (1.0 - smoothstep(0.4, 1.2, pixels)), 0.14, smoothstep(0.2, 0.45, wide));
}
void main() {
  ${discardCutAway('vAt', SLACK)}
  float dark = vHatch.w;
  if (vHatch.x > -9.0) dark = max(dark, lines(vHatch.x));
  if (vHatch.y > -9.0) dark = max(dark, lines(vHatch.y));
  gl_FragColor = vec4(mix(paper, ink, dark), 1.0);
  #include <colorspace_fragment>
}
`,
      polygonOffset: true,
      polygonOffsetFactor: -1,
      polygonOffsetUnits: -1,
    });
    this.pen = new LineMaterial({ color: INK.getHex(), linewidth: PEN });
    this.cutPen();
  }

  resize(width: number, height: number): void {
    this.pen.resolution.set(width, height);
  }

  dispose(): void {
    this.fill.dispose();
    this.pen.dispose();
  }

  /** The outline ends where another face cuts it. */
  private cutPen(): void {
    this.pen.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, this.cuts.uniforms);
      shader.vertexShader = shader.vertexShader
        .replace('void main() {', 'varying vec3 vAt;\nvoid main() {')
        .replace(/}\s*$/, 'vAt = (modelMatrix * vec4(position.y < 0.5 ? instanceStart : instanceEnd, 1.0)).xyz;\n}');
      shader.fragmentShader = shader.fragmentShader.replace(
        'void main() {',
        `varying vec3 vAt;\n${CUT_DECLARATIONS}\nvoid main() {\n${discardCutAway('vAt', SLACK)}`,
      );
    };
  }
}

/** The exact section of one model by one plane. */
export class Cap {
  private readonly fill: Mesh;
  private readonly pen: LineSegments2;

  /** @param group of the model, in whose frame the section is */
  constructor(output: CutOutput, index: ElementIndex, group: Group, materials: CapMaterials) {
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(output.positions, 3));
    geometry.setAttribute('place', new BufferAttribute(output.places, 2));
    geometry.setAttribute('hatch', new BufferAttribute(hatchesOf(output.elements, index), 4));
    geometry.setIndex(new BufferAttribute(output.indices, 1));
    this.fill = new Mesh(geometry, materials.fill);
    const lines = new LineSegmentsGeometry();
    if (output.lines.length > 0) lines.setPositions(output.lines);
    this.pen = new LineSegments2(lines, materials.pen);
    this.pen.renderOrder = 1;
    for (const part of [this.fill, this.pen]) {
      part.raycast = () => undefined;
      part.visible = part === this.fill ? output.indices.length > 0 : output.lines.length > 0;
      group.add(part);
      part.updateMatrixWorld(true);
    }
  }

  dispose(): void {
    for (const part of [this.fill, this.pen]) {
      part.removeFromParent();
      part.geometry.dispose();
    }
  }
}

/** Two angles in radians, -10 for none, the spacing and the tone, a vertex. */
function hatchesOf(elements: Uint32Array, index: ElementIndex): Float32Array {
  const out = new Float32Array(elements.length * 4);
  const known = new Map<number, number[]>();
  elements.forEach((row, vertex) => {
    let values = known.get(row);
    if (!values) {
      const { angles, spacing, tone } = hatchOf(columnValue(index.material, row), columnValue(index.category, row));
      const radians = (angle: number | undefined) => (angle === undefined ? -10 : (angle * Math.PI) / 180);
      values = [radians(angles[0]), radians(angles[1]), spacing, tone];
      known.set(row, values);
    }
    out.set(values, vertex * 4);
  });
  return out;
}
