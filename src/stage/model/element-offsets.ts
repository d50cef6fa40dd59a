import { DataTexture, FloatType, NearestFilter, RGBAFormat, type IUniform } from 'three';
import { TEXELS_ACROSS } from './element-state';

/**
 * By how much elements stand beside their place, in a texture that the materials read. Nothing is kept as long as everything
 * stands where it belongs.
 */
export class ElementOffsets {
  readonly textureUniform: IUniform<DataTexture> = { value: floatTexture(new Float32Array(4), 1, 1) };
  /** What is applied of the offsets, 0..1. */
  readonly shareUniform: IUniform<number> = { value: 0 };
  private offsets: Float32Array | null = null;

  constructor(readonly count: number) {}

  /** @param offsets three lengths an element in metres, along the axes of the stage; null puts everything in its place */
  set(offsets: Float32Array | null): void {
    this.offsets = offsets;
    this.shareUniform.value = offsets ? 1 : 0;
    if (!offsets) return;
    const height = Math.max(1, Math.ceil(this.count / TEXELS_ACROSS));
    let { value: texture } = this.textureUniform;
    if (texture.image.width !== TEXELS_ACROSS) {
      texture.dispose();
      texture = floatTexture(new Float32Array(TEXELS_ACROSS * height * 4), TEXELS_ACROSS, height);
      this.textureUniform.value = texture;
    }
    const texels = texture.image.data as Float32Array;
    for (let row = 0; row < this.count; row++)
      for (let axis = 0; axis < 3; axis++) texels[row * 4 + axis] = offsets[row * 3 + axis]!;
    texture.needsUpdate = true;
  }

  get isSpread(): boolean {
    return this.offsets !== null;
  }

  /** Offset of an element, in metres. */
  at(row: number): [number, number, number] {
    if (!this.offsets) return [0, 0, 0];
    return [this.offsets[row * 3]!, this.offsets[row * 3 + 1]!, this.offsets[row * 3 + 2]!];
  }

  dispose(): void {
    this.textureUniform.value.dispose();
  }
}

function floatTexture(data: Float32Array<ArrayBuffer>, width: number, height: number): DataTexture {
  const texture = new DataTexture(data, width, height, RGBAFormat, FloatType);
  texture.minFilter = texture.magFilter = NearestFilter;
  texture.needsUpdate = true;
  return texture;
}
