import type { Vec3 } from '@/core/math/mat4';
import { add, scale } from '@/core/math/vec3';
import { inSpace, planeFrame } from '@/core/section/plane';
import { chooseSnap } from '@/core/snap/choose-snap';
import { cutFaceArea, cutFeatures } from '@/core/snap/cut-features';
import type { ElementFeatures } from '@/core/snap/element-features';
import { isInRegion } from '@/core/section/region';
import type { FlatElement, FlatSection } from '@/stage/features/cuts/flat-section';
import type { Drag, PointerTaker, Press } from '@/stage/input/pointer-taker';
import type { Pointable } from '../tools/measure/pointable';
import { pressInMiddle } from '../tools/measure/pointable';
import { elementBounds, type FlatCanvas } from './flat-canvas';
import { toDrawing } from './flat-view';

/** Pixels by which one key stroke moves, and times it zooms. */
const STEP = 40;
const ZOOM = 1.25;

/** A flat drawing as something on which places are pointed at. */
export function flatPointable(flat: FlatCanvas, section: FlatSection): Pointable {
  const frame = planeFrame(section.plane);
  const { normal } = section.plane;
  const bounds = section.elements.map(elementBounds);
  const features = new WeakMap<FlatElement, ElementFeatures>();
  const place = (x: number, y: number): Vec3 => inSpace(frame, [x, y]);
  const at = ({ x, y }: Press) => {
    const { left, top } = flat.bounds;
    return toDrawing(flat.view, flat.extent, x - left, y - top);
  };
  const sight = (press: Press) => ({ origin: add(inSpace(frame, at(press)), normal), direction: scale(normal, -1) });
  return {
    placeAt: (press, kinds, reach, from) => {
      const [x, y] = at(press);
      const near = reach / flat.view.scale;
      const around = section.elements.filter((_, i) => {
        const [x0, y0, x1, y1] = bounds[i]!;
        return x > x0 - near && x < x1 + near && y > y0 - near && y < y1 + near;
      });
      const point = place(x, y);
      const snap = chooseSnap(
        {
          ...sight(press),
          metresPerPixel: () => 1 / flat.view.scale,
          reach,
          kinds,
          from,
          surface: null,
        },
        around.map((element) => ({ element, features: featuresOf(element), isSeen: () => true })),
      );
      const under = around.find(({ regions }) => regions.some((region) => isInRegion(region, x, y))) ?? null;
      const element = snap?.source?.element ?? under;
      const found = snap ?? { kind: 'face' as const, point, line: null };
      return {
        kind: found.kind,
        point: found.point,
        line: found.line,
        element: element?.ref ?? null,
        normal,
        about: false,
        cut: under && (() => cutFaceArea(under, place)),
      };
    },
    sight,
    showAim: (mark) => flat.showAim(mark),
    sharpen: () => Promise.resolve(),
    cardAt: ({ x, y }) => {
      const { left, top } = flat.bounds;
      return flat.cardAt(x - left, y - top);
    },
    middle: () => pressInMiddle(flat.bounds),
  };

  function featuresOf(element: FlatElement): ElementFeatures {
    const known = features.get(element);
    if (known) return known;
    const made = cutFeatures(element, place);
    features.set(element, made);
    return made;
  }
}

/** Moves and zooms a flat drawing: dragged, pinched, by the wheel and by keys. */
export function flatMoving(flat: FlatCanvas): PointerTaker {
  return {
    press: (press) => new Moving(flat, press),
    wheel: ({ x, y }, amount) => {
      const { left, top } = flat.bounds;
      flat.zoom(x - left, y - top, Math.exp(-amount));
      return true;
    },
    key: ({ key, ctrlKey, metaKey, altKey }) => {
      if (ctrlKey || metaKey || altKey) return false;
      const { width, height } = flat.extent;
      const moves: Record<string, [number, number]> = {
        ArrowLeft: [STEP, 0],
        ArrowRight: [-STEP, 0],
        ArrowUp: [0, STEP],
        ArrowDown: [0, -STEP],
      };
      const move = moves[key];
      if (move) flat.move(...move);
      else if (key === '+' || key === '=') flat.zoom(width / 2, height / 2, ZOOM);
      else if (key === '-') flat.zoom(width / 2, height / 2, 1 / ZOOM);
      else if (key === 'Home') flat.showWhole();
      else return false;
      return true;
    },
  };
}

class Moving implements Drag {
  private middle: { x: number; y: number; apart: number };

  constructor(
    private readonly flat: FlatCanvas,
    press: Press,
  ) {
    this.middle = middleOf([press]);
  }

  fingers(fingers: readonly Press[]): void {
    this.middle = middleOf(fingers);
  }

  move(fingers: readonly Press[]): void {
    const now = middleOf(fingers);
    this.flat.move(now.x - this.middle.x, now.y - this.middle.y);
    const { left, top } = this.flat.bounds;
    if (this.middle.apart > 0 && now.apart > 0)
      this.flat.zoom(now.x - left, now.y - top, now.apart / this.middle.apart);
    this.middle = now;
  }

  end(): void {
    // What was moved stays where it is.
  }
}

function middleOf(fingers: readonly Press[]): { x: number; y: number; apart: number } {
  const x = fingers.reduce((sum, one) => sum + one.x, 0) / fingers.length;
  const y = fingers.reduce((sum, one) => sum + one.y, 0) / fingers.length;
  const [a, b] = fingers;
  return { x, y, apart: a && b ? Math.hypot(a.x - b.x, a.y - b.y) : 0 };
}
