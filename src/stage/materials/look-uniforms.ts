import { Color, type IUniform } from 'three';
import { LOOKS, type Style } from '@/core/view/style';

export const PAPER = '#F1EBE0';
const DARK = '#211F1C';
const INK = '#26231F';
const CHALK = '#E9E0D0';

/** How all models are drawn; one for all materials. */
export class LookUniforms {
  readonly uniforms = {
    look: { value: 0 },
    lookPaper: { value: new Color(PAPER) },
  } satisfies Record<string, IUniform>;
  readonly ink = new Color(INK);
  inkWeight = 1;

  get isClear(): boolean {
    return this.uniforms.look.value === LOOKS.indexOf('clear');
  }

  set({ look, ink, background, colour }: Style): void {
    this.uniforms.look.value = LOOKS.indexOf(look);
    const paper = background === 'dark' ? DARK : background === 'plain' ? colour : PAPER;
    this.uniforms.lookPaper.value.set(paper);
    // Lines show on what they are drawn on: on dark paper as chalk, where nothing but lines is drawn.
    const { r, g, b } = new Color(paper);
    const isDark = 0.2126 * r + 0.7152 * g + 0.0722 * b < 0.15;
    this.ink.set(look === 'ink' && isDark ? CHALK : INK);
    this.inkWeight = ink;
  }
}
