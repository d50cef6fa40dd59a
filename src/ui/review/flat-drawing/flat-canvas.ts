import { PENS, drawingBounds, groundGrey, scaleBarLength, type DrawnElement } from '@/core/drawing/drawing';
import { hatchLines } from '@/core/drawing/hatch-lines';
import type { Vec3 } from '@/core/math/mat4';
import { measureFigure } from '@/core/measure/figure';
import { layOut, type Picture, type Place } from '@/core/measure/layout';
import type { Measure } from '@/core/measure/measures';
import { cardText } from '@/core/measure/quantities';
import { hatchOf } from '@/core/section/hatch';
import { pathBounds, type Path } from '@/core/section/path';
import { heightOver, inPlane, planeFrame } from '@/core/section/plane';
import type { Reading } from '@/core/units/figures';
import type { FlatSection } from '@/stage/features/cuts/flat-section';
import type { Aim } from '@/stage/features/measures/measures';
import { paintLoupe } from '@/stage/features/measures/loupe';
import { cardSize, paintAim, paintMeasures } from '@/stage/features/measures/paint';
import { moved, toCanvas, wholeView, zoomed, type FlatView } from './flat-view';

const INK = '#26231f';
const TEXT = 13;
/** CSS pixels to a millimetre of pen width. */
const PER_PEN = 3.6;
/** Pixels to a metre from which on pens have their full weight. */
const FULL_WEIGHT = 40;
/** Measures whose places lie in the plane, up to this many metres, belong on the drawing. */
const IN_PLANE = 0.02;
/** Hatches are left out where their lines would be nearer than so many pixels. */
const CLOSEST_HATCH = 2.5;

/** Lines of a drawing, made once and drawn at any scale: metres, y up. */
interface Inked {
  grounds: { grey: number; path: Path2D }[];
  hatches: { spacing: number; path: Path2D }[];
  cut: Path2D;
  open: Path2D;
}

/** A flat drawing on a canvas: moved, zoomed, with the measures that lie in its plane. */
export class FlatCanvas {
  view: FlatView = { scale: 20, middle: [0, 0] };
  private section: FlatSection | null = null;
  private inked: Inked | null = null;
  private measures: readonly Measure[] = [];
  private chosen: string | null = null;
  private aim: Aim | null = null;
  private readonly size = { width: 1, height: 1 };
  /** Whether all of it shows, as nobody has moved or zoomed it. */
  private isWhole = true;
  private frame = 0;
  private readonly still = document.createElement('canvas');

  constructor(
    readonly canvas: HTMLCanvasElement,
    private reading: Reading,
  ) {}

  get bounds(): DOMRect {
    return this.canvas.getBoundingClientRect();
  }

  get extent(): { width: number; height: number } {
    return this.size;
  }

  /** @param isNew whether it is another drawing, to be shown whole */
  show(section: FlatSection | null, isNew: boolean): void {
    this.section = section;
    this.inked = section && inkOf(section.elements);
    if (isNew) this.showWhole();
    this.request();
  }

  showMeasures(measures: readonly Measure[], chosen: string | null, reading: Reading): void {
    Object.assign(this, { measures, chosen, reading });
    this.request();
  }

  showAim(aim: Aim | null): void {
    this.aim = aim;
    this.request();
  }

  showWhole(): void {
    const bounds = this.section && drawingBounds(this.section);
    if (bounds) this.view = wholeView(bounds, this.size);
    this.isWhole = true;
    this.request();
  }

  move(dx: number, dy: number): void {
    this.view = moved(this.view, dx, dy);
    this.isWhole = false;
    this.request();
  }

  zoom(x: number, y: number, times: number): void {
    this.view = zoomed(this.view, this.size, x, y, times);
    this.isWhole = false;
    this.request();
  }

  resize(width: number, height: number): void {
    if (width === 0 || height === 0) return;
    Object.assign(this.size, { width, height });
    this.canvas.width = Math.round(width * devicePixelRatio);
    this.canvas.height = Math.round(height * devicePixelRatio);
    if (this.isWhole) this.showWhole();
    this.request();
  }

  /** The measure whose card lies under a place, in CSS pixels of the canvas. */
  cardAt(x: number, y: number): string | null {
    const context = this.canvas.getContext('2d')!;
    const found = this.laidOut(context).find(
      ({ laid: { card } }) =>
        card && x >= card.x && x <= card.x + card.width && y >= card.y && y <= card.y + card.height,
    );
    return found?.id ?? null;
  }

  dispose(): void {
    cancelAnimationFrame(this.frame);
  }

  private request(): void {
    cancelAnimationFrame(this.frame);
    this.frame = requestAnimationFrame(() => this.paint());
  }

  private paint(): void {
    const context = this.canvas.getContext('2d')!;
    const ratio = this.canvas.width / this.size.width;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.fillStyle = '#FCFAF5';
    context.fillRect(0, 0, this.size.width, this.size.height);
    if (this.inked) this.paintInk(context, this.inked, ratio);
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    this.paintBar(context);
    paintMeasures(
      context,
      this.laidOut(context).map(({ id, laid, text }) => ({
        laid,
        text,
        isStrong: id === this.chosen,
        isHidden: false,
      })),
      TEXT,
    );
    this.paintAim(context);
  }

  private paintInk(context: CanvasRenderingContext2D, { grounds, hatches, cut, open }: Inked, ratio: number): void {
    const { scale, middle } = this.view;
    const { width, height } = this.size;
    context.setTransform(
      ratio * scale,
      0,
      0,
      -ratio * scale,
      ratio * (width / 2 - middle[0] * scale),
      ratio * (height / 2 + middle[1] * scale),
    );
    // Seen from far, pens are finer, so that a plan does not clog.
    const weight = PER_PEN * Math.min(1, Math.max(0.4, scale / FULL_WEIGHT));
    const pen = (millimetres: number) => (millimetres * weight) / scale;
    context.lineJoin = 'round';
    context.setLineDash([]);
    for (const { grey, path } of grounds) {
      context.fillStyle = `rgb(${grey},${grey},${grey})`;
      context.fill(path, 'evenodd');
    }
    context.strokeStyle = INK;
    context.lineWidth = pen(PENS.hatch);
    for (const { spacing, path } of hatches) if (spacing * scale >= CLOSEST_HATCH) context.stroke(path);
    context.lineWidth = pen(PENS.open);
    context.stroke(open);
    context.lineWidth = pen(PENS.cut);
    context.stroke(cut);
  }

  private paintBar(context: CanvasRenderingContext2D): void {
    const metres = scaleBarLength(this.size.width / this.view.scale);
    const length = metres * this.view.scale;
    const y = this.size.height - 14;
    context.beginPath();
    context.moveTo(14, y - 5);
    context.lineTo(14, y + 5);
    context.moveTo(14, y);
    context.lineTo(14 + length, y);
    context.moveTo(14 + length, y - 5);
    context.lineTo(14 + length, y + 5);
    context.lineWidth = 1.4;
    context.strokeStyle = INK;
    context.stroke();
    context.font = '12px system-ui, sans-serif';
    context.fillStyle = INK;
    context.textAlign = 'left';
    context.textBaseline = 'middle';
    context.fillText(`${metres} m`, 20 + length, y);
  }

  private paintAim(context: CanvasRenderingContext2D): void {
    const at = this.aim && this.place(this.aim.point);
    if (!this.aim || !at) return;
    if (!this.aim.isCovered) return paintAim(context, at, this.aim.kind, this.aim.word, TEXT);
    this.still.width = this.canvas.width;
    this.still.height = this.canvas.height;
    this.still.getContext('2d')!.drawImage(this.canvas, 0, 0);
    paintLoupe(context, this.still, at, this.aim, this.size, TEXT);
  }

  private laidOut(context: CanvasRenderingContext2D) {
    const { section } = this;
    const shown = this.measures.filter(
      ({ points }) => section && points.every((point) => Math.abs(heightOver(section.plane, point)) < IN_PLANE),
    );
    const texts = shown.map((one) => (one.name ? `${one.name}: ` : '') + cardText(one, this.reading));
    const picture: Picture = {
      ...this.size,
      free: { left: 0, top: 0, right: this.size.width, bottom: this.size.height },
      place: (point) => this.place(point),
      line: (a, b) => [this.place(a)!, this.place(b)!],
    };
    const sizes = texts.map((text) => cardSize(context, text, TEXT));
    const laid = layOut(shown.map(measureFigure), sizes, picture, TEXT);
    return shown.map(({ id }, i) => ({ id, laid: laid[i]!, text: texts[i]! }));
  }

  private place(point: Vec3): Place | null {
    if (!this.section) return null;
    return toCanvas(this.view, this.size, inPlane(planeFrame(this.section.plane), point));
  }
}

function inkOf(elements: readonly DrawnElement[]): Inked {
  const grounds = new Map<number, Path2D>();
  const hatches = new Map<number, Path2D>();
  const [cut, open] = [new Path2D(), new Path2D()];
  const of = (paths: Map<number, Path2D>, key: number) => {
    const known = paths.get(key) ?? new Path2D();
    paths.set(key, known);
    return known;
  };
  for (const { material, category, regions, lines } of elements) {
    const hatch = hatchOf(material, category);
    const ground = of(grounds, groundGrey(hatch.tone));
    for (const region of regions) {
      for (const loop of [region.border, ...region.holes]) {
        trace(ground, loop, true);
        trace(cut, loop, true);
      }
      const lined = of(hatches, hatch.spacing);
      for (const [x1, y1, x2, y2] of hatchLines(region, hatch)) {
        lined.moveTo(x1, y1);
        lined.lineTo(x2, y2);
      }
    }
    for (const line of lines) trace(open, line, false);
  }
  return {
    grounds: [...grounds].map(([grey, path]) => ({ grey, path })),
    hatches: [...hatches].map(([spacing, path]) => ({ spacing, path })),
    cut,
    open,
  };
}

function trace(into: Path2D, path: Path, isLoop: boolean): void {
  for (let at = 0; at < path.length; at += 2)
    if (at === 0) into.moveTo(path[0]!, path[1]!);
    else into.lineTo(path[at]!, path[at + 1]!);
  if (isLoop) into.closePath();
}

/** Bounds of all that is drawn of an element. */
export function elementBounds({ regions, lines }: DrawnElement): [number, number, number, number] {
  const all = [...regions.map(({ border }) => border), ...lines].map(pathBounds);
  return [
    Math.min(...all.map((one) => one[0])),
    Math.min(...all.map((one) => one[1])),
    Math.max(...all.map((one) => one[2])),
    Math.max(...all.map((one) => one[3])),
  ];
}
