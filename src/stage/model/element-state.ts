import { DataTexture, NearestFilter, RGFormat, UnsignedByteType } from 'three';

/** Elements a line of the textures that hold something of each. */
export const TEXELS_ACROSS = 512;

/** Two bytes an element in a texture that the materials read: changing any number of elements is one upload. */
export class ElementState {
  readonly texture: DataTexture;
  readonly flags: Uint16Array;

  constructor(readonly count: number) {
    const height = Math.max(1, Math.ceil(count / TEXELS_ACROSS));
    this.flags = new Uint16Array(TEXELS_ACROSS * height);
    this.texture = new DataTexture(
      new Uint8Array(this.flags.buffer),
      TEXELS_ACROSS,
      height,
      RGFormat,
      UnsignedByteType,
    );
    this.texture.minFilter = this.texture.magFilter = NearestFilter;
    this.texture.unpackAlignment = 2;
    this.texture.needsUpdate = true;
  }

  set(flags: Uint16Array): void {
    this.flags.set(flags);
    this.texture.needsUpdate = true;
  }

  dispose(): void {
    this.texture.dispose();
  }
}
