import { DataTexture, NearestFilter, RedFormat, UnsignedByteType } from 'three';

/** Elements a line of the textures that hold something of each. */
export const TEXELS_ACROSS = 512;

/** One byte an element in a texture that the materials read: changing any number of elements is one upload. */
export class ElementState {
  readonly texture: DataTexture;
  readonly flags: Uint8Array;

  constructor(readonly count: number) {
    const height = Math.max(1, Math.ceil(count / TEXELS_ACROSS));
    this.flags = new Uint8Array(TEXELS_ACROSS * height);
    this.texture = new DataTexture(this.flags, TEXELS_ACROSS, height, RedFormat, UnsignedByteType);
    this.texture.minFilter = this.texture.magFilter = NearestFilter;
    this.texture.unpackAlignment = 1;
    this.texture.needsUpdate = true;
  }

  set(flags: Uint8Array): void {
    this.flags.set(flags);
    this.texture.needsUpdate = true;
  }

  dispose(): void {
    this.texture.dispose();
  }
}
