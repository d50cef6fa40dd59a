import { DataTexture, NearestFilter, RGBAFormat, SRGBColorSpace, UnsignedByteType } from 'three';

const WIDTH = 512;

/** A colour an element in a texture that the materials read, sRGB; clear where the surface keeps its own. */
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

  /** @param colors row -> sRGB parts, each 0..1; all other rows keep their own */
  set(colors: ReadonlyMap<number, readonly [number, number, number]>): void {
    this.texels.fill(0);
    for (const [row, color] of colors) {
      color.forEach((part, i) => (this.texels[row * 4 + i] = Math.round(part * 255)));
      this.texels[row * 4 + 3] = 255;
    }
    this.texture.needsUpdate = true;
  }

  dispose(): void {
    this.texture.dispose();
  }
}
