import { DataTexture, NearestFilter, RGBAFormat, SRGBColorSpace, UnsignedByteType } from 'three';

const WIDTH = 512;

/** What the fourth number of a texel says: to take its colour, to be solid, or both; at nought the surface stays as it is. */
export const PAINT = 255;
export const PAINT_AND_SOLID = 170;
export const SOLID = 85;

/** How elements look other than in the file: a colour an element, sRGB, in a texture that the materials read. */
export class ElementPaint {
  readonly texture: DataTexture;
  private readonly texels: Uint8Array;

  constructor(readonly count: number) {
    const height = Math.max(1, Math.ceil(count / WIDTH));
    this.texels = new Uint8Array(WIDTH * height * 4);
    this.texture = new DataTexture(this.texels, WIDTH, height, RGBAFormat, UnsignedByteType);
    this.texture.colorSpace = SRGBColorSpace;
    this.texture.minFilter = this.texture.magFilter = NearestFilter;
    this.texture.needsUpdate = true;
  }

  /**
   * @param colors row -> sRGB parts, each 0..1; all other rows keep their own
   * @param solid rows that cannot be seen through, whatever their surface says
   */
  set(colors: ReadonlyMap<number, readonly [number, number, number]>, solid: Iterable<number> = []): void {
    this.texels.fill(0);
    for (const row of solid) this.texels[row * 4 + 3] = SOLID;
    for (const [row, color] of colors) {
      color.forEach((part, i) => (this.texels[row * 4 + i] = Math.round(part * 255)));
      this.texels[row * 4 + 3] = this.texels[row * 4 + 3] === SOLID ? PAINT_AND_SOLID : PAINT;
    }
    this.texture.needsUpdate = true;
  }

  dispose(): void {
    this.texture.dispose();
  }
}
