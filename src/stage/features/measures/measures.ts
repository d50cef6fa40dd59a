import type { Vector3 } from 'three';
import { Vector4, type Camera } from 'three';
import { cutFaces, isCutAway, type CutFace, type Cuts } from '@/core/cut/cuts';
import { WHOLE_PICTURE, type PictureArea } from '@/core/framing';
import type { Vec3 } from '@/core/math/mat4';
import { measureFigure, type MeasureFigure } from '@/core/measure/figure';
import { layOut, type Picture, type Place } from '@/core/measure/layout';
import type { Measure } from '@/core/measure/measures';
import { cardText } from '@/core/measure/quantities';
import { add, scale } from '@/core/math/vec3';
import type { SnapKind } from '@/core/snap/choose-snap';
import { FIRST_READING, type Reading } from '@/core/units/figures';
import type { CoordinateFrame } from '../../coordinate-frame';
import type { Feature } from '../feature';
import { paintLoupe } from './loupe';
import { cardSize, paintAim, paintMeasures, type Context2D } from './paint';

/** A place that somebody points at, to be marked. */
export interface Aim {
  point: Vec3;
  kind: SnapKind;
  /** What is said beside it. */
  word: string;
  /** Whether a finger covers it, so that it is shown in a loupe above. */
  isCovered: boolean;
}

/** What the feature asks of the stage. */
interface Around {
  camera(): Camera & { near: number };
  /** The picture of the last frame, with its pixels to a CSS pixel. */
  drawn(): HTMLCanvasElement;
  isBehind(point: Vec3): boolean;
  /** What the interface leaves of the picture. */
  free(): PictureArea;
}

/** Height of the text on cards, CSS pixels. */
const TEXT = 13;
/** A moment without movement, after which is looked what lies behind something. */
const REST_MS = 180;
/** Milliseconds for which that may hold up everything else, and how many places of a measure are looked at. */
const LOOK_MS = 6;
const MOST_LOOKED_AT = 3;
/** Metres by which a place may lie beyond a cut: measures end on its faces. */
const SLACK = 0.005;

/** Measures over the picture: on a canvas of its own, so that a line that grows does not draw the model anew. */
export class Measures implements Feature {
  private readonly canvas = document.createElement('canvas');
  private measures: readonly Measure[] = [];
  private figures: MeasureFigure[] = [];
  private faces: readonly CutFace[] = [];
  private isSpread = false;
  private strong: string | null = null;
  private aim: Aim | null = null;
  private reading: Reading = FIRST_READING;
  private hidden = new Set<string>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly size = { width: 1, height: 1 };

  constructor(
    element: HTMLElement,
    private readonly frame: CoordinateFrame,
    private readonly around: Around,
  ) {
    this.canvas.style.cssText = 'position:absolute;inset:0;width:100%;height:100%;pointer-events:none';
    this.canvas.setAttribute('aria-hidden', 'true');
    element.append(this.canvas);
  }

  show(measures: readonly Measure[], cuts: Cuts, isSpread: boolean): void {
    this.measures = measures;
    this.figures = measures.map(measureFigure);
    this.faces = cutFaces(cuts);
    this.isSpread = isSpread;
    this.paint();
  }

  /** Points one of them out. */
  point(strong: string | null): void {
    this.strong = strong;
    this.paint();
  }

  showAim(aim: Aim | null): void {
    this.aim = aim;
    this.paint();
  }

  /** How figures are read; every person's own. */
  read(reading: Reading): void {
    this.reading = reading;
    this.paint();
  }

  /** The measure whose card lies under a place, in CSS pixels of the stage. */
  cardAt(x: number, y: number): string | null {
    const context = this.canvas.getContext('2d')!;
    const found = this.laidOut(context, TEXT, () => this.around.free()).find(({ laid: { card } }) => {
      return card && x >= card.x && x <= card.x + card.width && y >= card.y && y <= card.y + card.height;
    });
    return found?.id ?? null;
  }

  resize(width: number, height: number): void {
    Object.assign(this.size, { width, height });
    this.canvas.width = Math.round(width * devicePixelRatio);
    this.canvas.height = Math.round(height * devicePixelRatio);
    this.paint();
  }

  /** After every frame of the model, and whenever something of a measure changes. */
  paint(): void {
    clearTimeout(this.timer);
    const context = this.canvas.getContext('2d')!;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.clearRect(0, 0, this.canvas.width, this.canvas.height);
    context.scale(this.canvas.width / this.size.width, this.canvas.height / this.size.height);
    const laid = this.laidOut(context, TEXT, () => this.around.free());
    this.canvas.style.display = laid.length > 0 || this.aim ? 'block' : 'none';
    this.paintLaid(context, laid, TEXT);
    const at = this.aim && this.place(this.aim.point);
    if (this.aim && at) {
      if (this.aim.isCovered) paintLoupe(context, this.around.drawn(), at, this.aim, this.size, TEXT);
      else paintAim(context, at, this.aim.kind, this.aim.word, TEXT);
    }
    if (this.measures.length > 0) this.timer = setTimeout(() => this.look(), REST_MS);
  }

  /** Into a picture of the view. @param perPixel of the picture to a CSS pixel of the stage */
  paintInto(context: OffscreenCanvasRenderingContext2D, perPixel: number): void {
    context.save();
    context.scale(perPixel, perPixel);
    // Small pictures get text that is still read.
    const text = TEXT * Math.min(2.2, Math.max(1, 0.75 / perPixel));
    this.paintLaid(
      context,
      this.laidOut(context, text, () => WHOLE_PICTURE),
      text,
    );
    context.restore();
  }

  dispose(): void {
    clearTimeout(this.timer);
    this.canvas.remove();
  }

  private paintLaid(context: Context2D, laid: ReturnType<Measures['laidOut']>, text: number): void {
    paintMeasures(
      context,
      laid.map(({ id, laid: one, words }) => ({
        laid: one,
        text: words,
        isStrong: id === this.strong,
        isHidden: this.hidden.has(id),
      })),
      text,
    );
  }

  private laidOut(context: Context2D, text: number, free: () => PictureArea) {
    const shown = this.isSpread
      ? []
      : this.measures.flatMap((measure, i) => (this.isAway(measure) ? [] : [{ measure, figure: this.figures[i]! }]));
    // What the page covers is asked in vain where there is nothing to lay out.
    if (shown.length === 0) return [];
    const words = shown.map(({ measure }) => {
      const figure = cardText(measure, this.reading);
      return measure.name ? `${measure.name}: ${figure}` : figure;
    });
    const sizes = words.map((one) => cardSize(context, one, text));
    const laid = layOut(
      shown.map(({ figure }) => figure),
      sizes,
      this.pictureWithin(free()),
      text,
    );
    return shown.map(({ measure: { id } }, i) => ({ id, laid: laid[i]!, words: words[i]! }));
  }

  /** What is cut away is not there, and neither is what was measured of it. */
  private isAway({ points }: Measure): boolean {
    if (this.faces.length === 0) return false;
    return points.every((point) =>
      this.faces.some((face) => isCutAway([face], add(point, scale(face.plane.normal, -SLACK)))),
    );
  }

  private pictureWithin({ left, top, right, bottom }: PictureArea): Picture {
    const { width, height } = this.size;
    return {
      ...this.size,
      free: { left: left * width, top: top * height, right: right * width, bottom: bottom * height },
      place: (point) => this.place(point),
      line: (a, b) => {
        const camera = this.around.camera();
        // Clipped before the camera, in its own coordinates.
        const [from, to] = [a, b].map((end) => this.frame.toStage(end).applyMatrix4(camera.matrixWorldInverse)) as [
          Vector3,
          Vector3,
        ];
        const near = -camera.near;
        if (from.z > near && to.z > near) return null;
        if (from.z > near) from.lerpVectors(to, from, (near - to.z) / (from.z - to.z));
        else if (to.z > near) to.lerpVectors(from, to, (near - from.z) / (to.z - from.z));
        return [this.onScreen(from, camera), this.onScreen(to, camera)];
      },
    };
  }

  private place(point: Vec3): Place | null {
    const camera = this.around.camera();
    const at = this.frame.toStage(point).applyMatrix4(camera.matrixWorldInverse);
    return at.z > -camera.near ? null : this.onScreen(at, camera);
  }

  /** @param at in the camera's coordinates */
  private onScreen(at: Vector3, { projectionMatrix }: Camera): Place {
    const { x, y, w } = new Vector4(at.x, at.y, at.z, 1).applyMatrix4(projectionMatrix);
    return { x: ((x / w + 1) / 2) * this.size.width, y: ((1 - y / w) / 2) * this.size.height };
  }

  /** Looks which of them lie behind something, a few at a time, so that nothing else has to wait. */
  private look(): void {
    const { measures } = this;
    const hidden = new Set<string>();
    let next = 0;
    const go = () => {
      if (measures !== this.measures) return;
      const until = performance.now() + LOOK_MS;
      for (; next < measures.length && performance.now() < until; next++) {
        const { id, points } = measures[next]!;
        if (points.slice(0, MOST_LOOKED_AT).every((point) => this.around.isBehind(point))) hidden.add(id);
      }
      if (next < measures.length) this.timer = setTimeout(go, 0);
      else this.hide(hidden);
    };
    go();
  }

  private hide(hidden: Set<string>): void {
    const isSame = hidden.size === this.hidden.size && [...hidden].every((id) => this.hidden.has(id));
    this.hidden = hidden;
    if (isSame) return;
    this.paint();
    clearTimeout(this.timer);
  }
}
