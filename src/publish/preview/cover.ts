import type { Box3 } from '@/core/math/box3';
import type { Raster } from './raster';

/** Pixels along the side of a block. */
const BLOCK = 16;
/** The blocks are looked at anew after so many questions, then after twice as many, and so on. */
const FIRST_LOOK = 128;

/**
 * Tells what is hidden by what has been drawn: the farthest depth of every block of pixels (after the hierarchical
 * Z-buffer of N. Greene, M. Kass, G. Miller, 1993). Somewhat out of date, which errs on the side of drawing.
 */
export class Cover {
  private readonly across: number;
  private readonly down: number;
  private readonly farthest: Float32Array;
  private asked = 0;
  private nextLook = FIRST_LOOK;

  constructor(
    private readonly raster: Raster,
    private readonly depth: Float32Array,
  ) {
    this.across = Math.ceil(raster.width / BLOCK);
    this.down = Math.ceil(raster.height / BLOCK);
    this.farthest = new Float32Array(this.across * this.down).fill(Infinity);
  }

  hides(box: Box3): boolean {
    if (++this.asked === this.nextLook) {
      this.nextLook *= 2;
      this.look();
    }
    const seen = this.raster.bounds(box);
    if (!seen) return false;
    const block = (pixel: number, last: number) => Math.min(last - 1, Math.max(0, Math.floor(pixel / BLOCK)));
    const [left, right] = [block(seen.left, this.across), block(seen.right, this.across)];
    const [top, bottom] = [block(seen.top, this.down), block(seen.bottom, this.down)];
    for (let row = top; row <= bottom; row++)
      for (let column = left; column <= right; column++)
        if (this.farthest[row * this.across + column]! >= seen.nearest) return false;
    return true;
  }

  private look(): void {
    const { width, height } = this.raster;
    this.farthest.fill(0);
    for (let y = 0; y < height; y++) {
      const row = Math.floor(y / BLOCK) * this.across;
      for (let block = 0; block < this.across; block++) {
        const start = y * width + block * BLOCK;
        const end = Math.min(start + BLOCK, (y + 1) * width);
        let far = this.farthest[row + block]!;
        for (let pixel = start; pixel < end; pixel++) if (this.depth[pixel]! > far) far = this.depth[pixel]!;
        this.farthest[row + block] = far;
      }
    }
  }
}
