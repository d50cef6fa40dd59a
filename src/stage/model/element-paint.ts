import { DataTexture, NearestFilter, RGBAFormat, SRGBColorSpace, UnsignedByteType } from 'three';
import type { ColourParts } from '@/core/elements/element-colours';
import { TEXELS_ACROSS } from './element-state';

/** Bits of a texel's fourth number: to take its colour, to be solid, to show what is seen from behind. */
export const PAINTED = 1;
export const SOLID = 2;
export const BACKS = 4;
/** The bits above these count how many times an element is lifted. */
export const LIFT_BITS = 3;
const MOST_LIFTS = 31;

/** How elements look other than in the file, by row. */
export interface Paint {
  colors?: ReadonlyMap<number, ColourParts>;
  /** Not to be seen through, whatever their surface says. */
  solid?: Iterable<number>;
  /** Whose faces show when they are seen from behind. */
  backs?: Iterable<number>;
  /** How many times as much as one lift they are nearer to whoever looks. */
  lifts?: ReadonlyMap<number, number>;
}

/** How elements look other than in the file: a colour and some bits an element, in a texture that the materials read. */
export class ElementPaint {
  readonly texture: DataTexture;
  private readonly texels: Uint8Array;

  constructor(readonly count: number) {
    const height = Math.max(1, Math.ceil(count / TEXELS_ACROSS));
    this.texels = new Uint8Array(TEXELS_ACROSS * height * 4);
    this.texture = new DataTexture(this.texels, TEXELS_ACROSS, height, RGBAFormat, UnsignedByteType);
    this.texture.colorSpace = SRGBColorSpace;
    this.texture.minFilter = this.texture.magFilter = NearestFilter;
    this.texture.needsUpdate = true;
  }

  /** Rows that are not named look as in the file, whatever was set before. */
  set({ colors = new Map(), solid = [], backs = [], lifts = new Map() }: Paint): void {
    this.texels.fill(0);
    for (const [row, color] of colors) {
      color.forEach((part, i) => (this.texels[row * 4 + i] = Math.round(part * 255)));
      this.add(row, PAINTED);
    }
    for (const row of solid) this.add(row, SOLID);
    for (const row of backs) this.add(row, BACKS);
    for (const [row, times] of lifts) this.add(row, Math.min(times, MOST_LIFTS) << LIFT_BITS);
    this.texture.needsUpdate = true;
  }

  private add(row: number, bits: number): void {
    this.texels[row * 4 + 3]! |= bits;
  }

  dispose(): void {
    this.texture.dispose();
  }
}
