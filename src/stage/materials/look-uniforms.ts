import { Color, type IUniform } from 'three';
import { LOOKS, type Style } from '@/core/view/style';
import { paperOf } from './paper';

const INK = '#26231F';
const CHALK = '#E9E0D0';

/** How all models are drawn; one for all materials. */
export class LookUniforms {
  readonly uniforms = {
    look: { value: 0 },
    lookPaper: { value: new Color() },
  } satisfies Record<string, IUniform>;
  readonly ink = new Color(INK);
  inkWeight = 1;

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
}
