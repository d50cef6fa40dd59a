import { Ray, Vector3 } from 'three';
import type { StageModel } from './model/stage-model';

/** Where one looks for the sky: straight up, and around at a slant. */
const DIRECTIONS = [
  new Vector3(0, 0, 1),
  ...Array.from({ length: 8 }, (_, i) => {
    const turn = (i * Math.PI) / 4;
    return new Vector3(Math.cos(turn), Math.sin(turn), 0.9).normalize();
  }),
];

/** Which part of the sky is seen from a place on the stage, 0..1, by the surfaces that the screen has. */
export function openness(models: readonly StageModel[], from: Vector3): number {
  const open = DIRECTIONS.filter((direction) => {
    const ray = new Ray(from.clone(), direction.clone());
    return !models.some((model) => model.raycast(ray));
  });
  return open.length / DIRECTIONS.length;
}
