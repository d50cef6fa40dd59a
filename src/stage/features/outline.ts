import { Box3 as ThreeBox3, Box3Helper, type Scene } from 'three';
import type { Box3 } from '@/core/math/box3';
import type { CoordinateFrame } from '../coordinate-frame';
import type { Feature } from './feature';

const INDIGO = '#34497F';

/** The edges of a box. */
export class Outline implements Feature {
  private lines: Box3Helper | null = null;

  constructor(
    private readonly scene: Scene,
    private readonly frameOfReference: CoordinateFrame,
  ) {}

  /** @param box in project coordinates, or null for none */
  show(box: Box3 | null): void {
    this.dispose();
    if (!box) return;
    const { min, max } = this.frameOfReference.boxToStage(box);
    this.lines = new Box3Helper(new ThreeBox3(min, max), INDIGO);
    this.scene.add(this.lines);
  }

  dispose(): void {
    this.lines?.removeFromParent();
    this.lines?.dispose();
    this.lines = null;
  }
}
