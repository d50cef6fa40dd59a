import { BufferAttribute, BufferGeometry, Color, LineDashedMaterial, LineSegments, type Scene } from 'three';
import type { Feature } from './feature';

const SOFT_INK = new Color('#5F584E');
/** So many lines can be followed with the eye. */
const MOST_LINES = 400;

/** A thin line from where something stands to where it belongs. */
export interface Leader {
  from: readonly [number, number, number];
  to: readonly [number, number, number];
  /** How much it is worth a line, such as the size of what was moved. */
  weight: number;
}

/** Thin dashed lines that tell where what was moved belongs. */
export class Leaders implements Feature {
  private readonly material = new LineDashedMaterial({
    color: SOFT_INK,
    transparent: true,
    opacity: 0.55,
    depthWrite: false,
  });
  private lines: LineSegments<BufferGeometry, LineDashedMaterial> | null = null;

  constructor(private readonly scene: Scene) {}

  /** @param leaders in stage coordinates; of very many, those of the heaviest */
  show(leaders: readonly Leader[]): void {
    this.clear();
    if (leaders.length === 0) return;
    const drawn = [...leaders].sort((a, b) => b.weight - a.weight).slice(0, MOST_LINES);
    const geometry = new BufferGeometry();
    const corners = drawn.flatMap(({ from, to }) => [...from, ...to]);
    geometry.setAttribute('position', new BufferAttribute(Float32Array.from(corners), 3));
    geometry.computeBoundingSphere();
    this.lines = new LineSegments(geometry, this.material);
    this.lines.computeLineDistances();
    const size = geometry.boundingSphere!.radius;
    this.material.dashSize = size / 150;
    this.material.gapSize = size / 220;
    this.lines.renderOrder = 5;
    this.scene.add(this.lines);
  }

  dispose(): void {
    this.clear();
    this.material.dispose();
  }

  private clear(): void {
    this.lines?.removeFromParent();
    this.lines?.geometry.dispose();
    this.lines = null;
  }
}
