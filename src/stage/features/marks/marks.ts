import type { Scene } from 'three';
import { cutFaces, type Cuts } from '@/core/cut/cuts';
import { closeness } from '@/core/mark/closeness';
import { distanceToMark, handlesOf } from '@/core/mark/edit-mark';
import { INK_COLOURS, PEN_WIDTHS, type Mark } from '@/core/mark/marks';
import { markShape } from '@/core/mark/shapes';
import type { Plane } from '@/core/section/plane';
import type { CameraPose } from '@/core/view/camera';
import type { CoordinateFrame } from '../../coordinate-frame';
import type { Feature } from '../feature';
import type { Context2D } from '../measures/paint';
import { SurfaceLines } from './surface-lines';

/** Height of written words by the pen, in pens, and at least as a part of half the picture. */
const TEXT_PENS = 4.5;
const LEAST_TEXT = 0.055;
const LINE_HEIGHT = 1.25;
const FONT = '"Atkinson Hyperlegible", sans-serif';
/** A mark that shows less than this is not there for a hand. */
const THERE = 0.4;
const PAPER = '#FCFAF5';
const HANDLE = 7;

/** Marks over the picture, on a canvas of their own, and those that lie on surfaces. */
export class Marks implements Feature {
  private readonly canvas = document.createElement('canvas');
  private readonly surface: SurfaceLines;
  private marks: readonly Mark[] = [];
  private planes: readonly Plane[] = [];
  /** What is being drawn, here and by others. */
  private growing: readonly Mark[] = [];
  private chosen: string | null = null;
  private readonly size = { width: 1, height: 1 };

  /** @param camera from where one looks @param onSurfaces called when the picture itself has to be drawn anew */
  constructor(
    element: HTMLElement,
    scene: Scene,
    frame: CoordinateFrame,
    private readonly camera: () => CameraPose,
    private readonly onSurfaces: () => void,
  ) {
    this.surface = new SurfaceLines(scene, frame);
    this.canvas.style.cssText = 'position:absolute;inset:0;width:100%;height:100%;pointer-events:none';
    this.canvas.setAttribute('aria-hidden', 'true');
    element.append(this.canvas);
  }

  /** @param cuts what is cut away takes along what was drawn on it */
  show(marks: readonly Mark[], cuts: Cuts): void {
    this.marks = marks;
    this.planes = cutFaces(cuts).map(({ plane }) => plane);
    this.refresh();
  }

  /** What is being drawn; it replaces a mark of the same id. */
  grow(growing: readonly Mark[]): void {
    this.growing = growing;
    this.refresh();
  }

  /** Shows the handles of one of them. */
  choose(chosen: string | null): void {
    this.chosen = chosen;
    this.paint();
  }

  /** The mark under a place, the topmost first. @param x, y CSS pixels of the stage @param reach pixels */
  markAt(x: number, y: number, reach: number): Mark | null {
    const camera = this.camera();
    const half = this.size.height / 2;
    const [u, v] = this.toView(x, y);
    const context = this.canvas.getContext('2d')!;
    return (
      [...this.marks].reverse().find((mark) => {
        if (!mark.camera || closeness(mark.camera, camera) < THERE) return false;
        const { width, height } = textSize(context, mark, half);
        return (
          distanceToMark(mark, u, v, width / half, height / half) * half <= reach + (PEN_WIDTHS[mark.pen] * half) / 2
        );
      }) ?? null
    );
  }

  /** Which handle of the chosen mark lies under a place: the number of its point. */
  handleAt(x: number, y: number, reach: number): number | null {
    const mark = this.marks.find(({ id }) => id === this.chosen);
    const at = (mark ? handlesOf(mark) : []).findIndex((handle) => {
      const [hx, hy] = this.toScreen(handle);
      return Math.hypot(hx - x, hy - y) <= reach + HANDLE;
    });
    return at < 0 ? null : at;
  }

  /** A place in parts of half the picture, from its middle. */
  toView(x: number, y: number): [number, number] {
    const half = this.size.height / 2;
    return [(x - this.size.width / 2) / half, (half - y) / half];
  }

  resize(width: number, height: number): void {
    Object.assign(this.size, { width, height });
    this.canvas.width = Math.round(width * devicePixelRatio);
    this.canvas.height = Math.round(height * devicePixelRatio);
    this.surface.resize(width, height);
    this.paint();
  }

  /** After every frame of the model, and whenever a mark changes. */
  paint(): void {
    const context = this.canvas.getContext('2d')!;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.clearRect(0, 0, this.canvas.width, this.canvas.height);
    const drawn = this.drawn;
    this.canvas.style.display = drawn.length > 0 ? 'block' : 'none';
    if (drawn.length === 0) return;
    context.scale(this.canvas.width / this.size.width, this.canvas.height / this.size.height);
    this.paintAll(context, drawn);
    const chosen = this.marks.find(({ id }) => id === this.chosen);
    if (chosen) this.paintHandles(context, chosen);
  }

  /** Into a picture of the view. @param perPixel of the picture to a CSS pixel of the stage */
  paintInto(context: OffscreenCanvasRenderingContext2D, perPixel: number): void {
    context.save();
    context.scale(perPixel, perPixel);
    this.paintAll(context, this.drawn);
    context.restore();
  }

  dispose(): void {
    this.surface.dispose();
    this.canvas.remove();
  }

  private refresh(): void {
    const growing = new Set(this.growing.map(({ id }) => id));
    if (this.surface.show([...this.marks.filter(({ id }) => !growing.has(id)), ...this.growing], this.planes))
      this.onSurfaces();
    this.paint();
  }

  /** What lies over the view, with how much of it shows. */
  private get drawn(): { mark: Mark; share: number }[] {
    const camera = this.camera();
    const growing = new Set(this.growing.map(({ id }) => id));
    return [...this.marks.filter(({ id }) => !growing.has(id)), ...this.growing].flatMap((mark) => {
      const share = mark.camera ? closeness(mark.camera, camera) : 0;
      return share > 0 ? [{ mark, share }] : [];
    });
  }

  private paintAll(context: Context2D, drawn: readonly { mark: Mark; share: number }[]): void {
    for (const { mark, share } of drawn) {
      context.globalAlpha = share;
      if (mark.kind === 'text') this.paintText(context, mark);
      else this.paintShape(context, mark);
    }
    context.globalAlpha = 1;
  }

  private paintShape(context: Context2D, mark: Mark): void {
    const half = this.size.height / 2;
    const { path, isFilled } = markShape(mark, half, [this.size.width / 2, half]);
    const shape = new Path2D(path);
    const colour = INK_COLOURS[mark.ink];
    if (isFilled) {
      context.fillStyle = colour;
      context.fill(shape);
      return;
    }
    context.lineJoin = context.lineCap = 'round';
    context.strokeStyle = colour;
    context.lineWidth = PEN_WIDTHS[mark.pen] * half;
    context.stroke(shape);
  }

  private paintText(context: Context2D, mark: Mark): void {
    const half = this.size.height / 2;
    const [x, y] = this.toScreen([mark.points[0]!, mark.points[1]!]);
    const { size, lines } = textSize(context, mark, half);
    context.font = `bold ${size}px ${FONT}`;
    context.textBaseline = 'alphabetic';
    context.lineJoin = 'round';
    lines.forEach((line, i) => {
      const base = y - (lines.length - 1 - i) * size * LINE_HEIGHT - size * 0.2;
      // A rim of paper keeps words legible on whatever they lie.
      context.strokeStyle = mark.ink === 'chalk' ? INK_COLOURS.ink : PAPER;
      context.lineWidth = size * 0.28;
      context.strokeText(line, x, base);
      context.fillStyle = INK_COLOURS[mark.ink];
      context.fillText(line, x, base);
    });
  }

  private paintHandles(context: Context2D, mark: Mark): void {
    const half = this.size.height / 2;
    const { width, height } = textSize(context, mark, half);
    const ends = mark.kind === 'text' ? [[mark.points[0]!, mark.points[1]!]] : handlesOf(mark);
    const xs = mark.points.filter((_, i) => i % 2 === 0);
    const ys = mark.points.filter((_, i) => i % 2 === 1);
    const [left, top] = this.toScreen([Math.min(...xs), Math.max(...ys)]);
    const [right, bottom] = this.toScreen([Math.max(...xs), Math.min(...ys)]);
    context.setLineDash([5, 4]);
    context.lineWidth = 1.5;
    context.strokeStyle = INK_COLOURS.indigo;
    context.strokeRect(left - 8, top - 8 - height, right - left + 16 + width, bottom - top + 16 + height);
    context.setLineDash([]);
    for (const end of ends) {
      const [x, y] = this.toScreen(end as [number, number]);
      context.beginPath();
      context.arc(x, y, HANDLE, 0, 2 * Math.PI);
      context.fillStyle = PAPER;
      context.fill();
      context.stroke();
    }
  }

  private toScreen([u, v]: readonly [number, number]): [number, number] {
    const half = this.size.height / 2;
    return [this.size.width / 2 + u * half, half - v * half];
  }
}

/** How large written words are, in pixels; nothing for all other marks. */
function textSize(context: Context2D, { kind, text, pen }: Mark, half: number) {
  const size = Math.max(LEAST_TEXT, PEN_WIDTHS[pen] * TEXT_PENS) * half;
  const lines = kind === 'text' ? text.split('\n') : [];
  context.font = `bold ${size}px ${FONT}`;
  const width = Math.max(0, ...lines.map((line) => context.measureText(line).width));
  return { size, lines, width, height: lines.length * size * LINE_HEIGHT };
}
