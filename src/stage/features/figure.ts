import type { Group, Scene } from 'three';
import { isEmptyBox, type Box3 } from '@/core/math/box3';
import type { CoordinateFrame } from '../coordinate-frame';
import type { Feature } from './feature';
import { person } from './person-figure';

/** A person, 1.70 m tall, beside a box: for scale. */
export class Figure implements Feature {
  private group: Group | null = null;

  constructor(
    private readonly scene: Scene,
    private readonly frameOfReference: CoordinateFrame,
  ) {}

  /** @param box in project coordinates, or null for nobody */
  stand(box: Box3 | null): void {
    this.dispose();
    if (!box || isEmptyBox(box)) return;
    this.group = person();
    // At the side that the first view has on its left, on the model's lowest level.
    this.frameOfReference.toStage([box[0] - 0.6, box[1], box[2]], this.group.position);
    this.scene.add(this.group);
  }

  get isThere(): boolean {
    return this.group !== null;
  }

  dispose(): void {
    this.group?.removeFromParent();
    this.group = null;
  }
}
