import { Color, Vector2, type IUniform } from 'three';
import { LOOKS, type Style } from '@/core/view/style';
import { paperOf } from './paper';

const INK = '#26231F';
const CHALK = '#E9E0D0';
/** Pixels that lines are wide at most: in pictures many times as large as the screen. */
const WIDEST = 12;

/** How all models are drawn; one for all materials. */
export class LookUniforms {
  readonly uniforms = {
    look: { value: 0 },
    lookPaper: { value: new Color() },
    /** Pixels between the strokes of which a line is made. */
    inkStep: { value: 0 },
    /** A pixel as a part of half the picture. */
    inkPixel: { value: new Vector2() },
  } satisfies Record<string, IUniform>;
  readonly ink = new Color(INK);
  inkWeight = 1;
  /** Lines are a pixel wide, as the graphics card draws them; wider ones are so many of them side by side. */
  inkStrokes = 1;

  /** Whether nothing but lines is drawn. */
  get isInkAlone(): boolean {
    return this.uniforms.look.value === LOOKS.indexOf('ink');
  }

  get isClear(): boolean {
    return this.uniforms.look.value === LOOKS.indexOf('clear');
  }

  /** @param isDim whether the room is dim */
  set(style: Style, isDim: boolean): void {
    const { look, ink } = style;
    this.uniforms.look.value = LOOKS.indexOf(look);
    // Lines show on what they are drawn on: on dark paper as chalk, where nothing but lines is drawn.
    const { r, g, b } = this.uniforms.lookPaper.value.set(paperOf(style, isDim));
    const isDark = 0.2126 * r + 0.7152 * g + 0.0722 * b < 0.15;
    this.ink.set(look === 'ink' && isDark ? CHALK : INK);
    this.inkWeight = ink;
  }

  /** Fits the width of lines to a picture. @param ratio its pixels to one of the screen */
  drawOn(width: number, height: number, ratio: number): void {
    const pixels = Math.min(WIDEST, Math.max(1, this.inkWeight * ratio));
    this.inkStrokes = Math.ceil(pixels);
    this.uniforms.inkStep.value = this.inkStrokes > 1 ? (pixels - 1) / (this.inkStrokes - 1) : 0;
    this.uniforms.inkPixel.value.set(2 / width, 2 / height);
  }
}
