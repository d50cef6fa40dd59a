import type { Vec3 } from '@/core/math/mat4';
import type { Stage } from './stage';

/**
 * The current view as JPEG, without the interface, `width` pixels wide.
 *
 * @param mark a place in project coordinates to ring in the picture
 */
export function pictureOf(stage: Stage, width: number, mark: Vec3 | null = null): Promise<Blob> {
  const canvas = stage.snapshot(width);
  const at = mark && stage.project(mark);
  if (at) {
    const context = canvas.getContext('2d')!;
    const scale = stage.snapshotScale(width);
    context.beginPath();
    context.arc(at.x * scale, at.y * scale, width / 40, 0, 2 * Math.PI);
    for (const [lineWidth, colour] of [
      [width / 100, '#FCFAF5'],
      [width / 200, '#34497F'],
    ] as const) {
      context.lineWidth = lineWidth;
      context.strokeStyle = colour;
      context.stroke();
    }
  }
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.82 });
}
