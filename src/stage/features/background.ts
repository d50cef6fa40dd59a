import { CanvasTexture, Color, SRGBColorSpace, type Scene } from 'three';
import type { Style } from '@/core/view/style';
import { paperOf } from '../materials/paper';
import type { Feature } from './feature';

/** Sky from above to the horizon and the haze on the ground, by how high the sun stands: day, low sun, night. */
const SKIES = {
  day: ['#9DBBD6', '#CFDDE6', '#F0E9DC'],
  low: ['#8294B4', '#E0BFA0', '#EAD9C2'],
  night: ['#12151F', '#20263A', '#2A2A33'],
} as const;
/** Degrees above the horizon below which the sun is low. */
const LOW_SUN = 9;
/** Degrees above the horizon below which its light is gone. */
const NIGHT = -4;
const HEIGHT = 256;

/** What shows behind the models. */
export class Background implements Feature {
  private texture: CanvasTexture | null = null;
  private shown = '';

  constructor(private readonly scene: Scene) {}

  /**
   * @param isDim whether the room is dim
   * @param elevation of the sun, degrees; null in the light of a model on a table
   */
  show(style: Style, isDim: boolean, elevation: number | null): void {
    const sky = elevation === null || elevation > LOW_SUN ? 'day' : elevation > NIGHT ? 'low' : 'night';
    const shown = style.background === 'sky' ? sky : paperOf(style, isDim);
    if (shown === this.shown) return;
    this.shown = shown;
    this.dispose();
    if (style.background === 'sky') this.scene.background = this.texture = skyTexture(SKIES[sky]);
    else this.scene.background = new Color(shown);
  }

  dispose(): void {
    this.texture?.dispose();
    this.texture = null;
  }
}

function skyTexture(colours: readonly string[]): CanvasTexture {
  const canvas = Object.assign(document.createElement('canvas'), { width: 2, height: HEIGHT });
  const context = canvas.getContext('2d')!;
  const gradient = context.createLinearGradient(0, 0, 0, HEIGHT);
  colours.forEach((colour, i) => gradient.addColorStop(i / (colours.length - 1), colour));
  context.fillStyle = gradient;
  context.fillRect(0, 0, 2, HEIGHT);
  const texture = new CanvasTexture(canvas);
  texture.colorSpace = SRGBColorSpace;
  return texture;
}
