import { DataTexture, NearestFilter, RedFormat, UnsignedByteType } from 'three';

const WIDTH = 512;

/** One byte an element in a texture that the materials read: changing any number of elements is one upload. */
export class ElementState {
  readonly texture: DataTexture;
  readonly flags: Uint8Array;

  constructor(readonly count: number) {
    const height = Math.max(1, Math.ceil(count / WIDTH));
    this.flags = new Uint8Array(WIDTH * height);
    this.texture = new DataTexture(this.flags, WIDTH, height, RedFormat, UnsignedByteType);
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
