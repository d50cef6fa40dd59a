import { CanvasTexture, Color, SRGBColorSpace, type Scene } from 'three';
import type { Style } from '@/core/view/style';
import { PAPER } from '../materials/look-uniforms';
import type { Feature } from './feature';

/** Sky from above to the horizon and the haze on the ground, by how high the sun stands: day, low sun, night. */
const SKIES = {
  day: ['#9DBBD6', '#CFDDE6', '#F0E9DC'],
  low: ['#8294B4', '#E0BFA0', '#EAD9C2'],
  night: ['#12151F', '#20263A', '#2A2A33'],
} as const;
/** Degrees above the horizon below which the sun is low. */
const LOW_SUN = 9;
const HEIGHT = 256;
const DIM_PAPER = '#1B1916';

/** What shows behind the models. */
export class Background implements Feature {
  private texture: CanvasTexture | null = null;
  private shown = '';

  private isDim = false;

  constructor(private readonly scene: Scene) {
    scene.background = new Color(PAPER);
  }

  /** Whether paper is dark, as for a dim room. @see show */
  dim(isDim: boolean): void {
    this.isDim = isDim;
  }

  /** @param elevation of the sun, degrees; null in the light of a model on a table */
  show({ background, colour }: Style, elevation: number | null): void {
    const sky = elevation === null || elevation > LOW_SUN ? 'day' : elevation > -4 ? 'low' : 'night';
    const key = background === 'sky' ? sky : background === 'plain' ? colour : `${background}${this.isDim}`;
    if (key === this.shown) return;
    this.shown = key;
    this.dispose();
    if (background === 'sky') this.scene.background = this.texture = skyTexture(SKIES[sky]);
    else
      this.scene.background = new Color(
        background === 'dark' ? '#211F1C' : background === 'plain' ? colour : this.isDim ? DIM_PAPER : PAPER,
      );
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
