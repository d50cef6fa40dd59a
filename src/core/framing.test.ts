import fc from 'fast-check';
import { PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { framingPose, uncovered, WHOLE_PICTURE, type PictureArea } from './framing';
import { boxCorner, type Box3 } from './math/box3';
import type { Vec3 } from './math/mat4';
import type { CameraPose } from './view/camera';

/** Where the corners of a box stand in the picture, by three.js: shares from the upper left corner. */
function seen(box: Box3, { position, target, fov }: CameraPose, aspect: number): { x: number; y: number }[] {
  const camera = new PerspectiveCamera(fov, aspect, 0.01, 1e5);
  camera.up.set(0, 0, 1);
  camera.position.set(...position);
  camera.lookAt(...target);
  camera.updateMatrixWorld();
  return [0, 1, 2, 3, 4, 5, 6, 7].map((corner) => {
    const { x, y } = new Vector3(...boxCorner(box, corner)).project(camera);
    return { x: (x + 1) / 2, y: (1 - y) / 2 };
  });
}

const BOX: Box3 = [10, -4, 2, 22, 9, 8];
const AWAY: Vec3 = [0.62, -0.86, 0.62];

describe('what is left of a picture', () => {
  const page = { left: 0, top: 0, right: 1280, bottom: 800 };

  it('is what the ring around it leaves: bars at top and bottom, a column on the left, a drawer on the right', () => {
    const bar = { left: 0, top: 0, right: 1280, bottom: 56 };
    const column = { left: 20, top: 112, right: 94, bottom: 370 };
    const cards = { left: 20, top: 636, right: 1260, bottom: 784 };
    const drawer = { left: 940, top: 76, right: 1260, bottom: 610 };
    const free = uncovered(page, [bar, column, cards, drawer]);
    expect(free).toEqual({ left: 94 / 1280, top: 0.07, right: 940 / 1280, bottom: 636 / 800 });
    expect(uncovered(page, [])).toEqual(WHOLE_PICTURE);
  });

  it('is the upper part on a phone, whose drawer comes from below', () => {
    const free = uncovered({ left: 0, top: 0, right: 390, bottom: 844 }, [
      { left: 8, top: 320, right: 382, bottom: 760 },
    ]);
    expect(free).toEqual({ ...WHOLE_PICTURE, bottom: 320 / 844 });
  });
});

describe('framing', () => {
  it('fills the free part of the picture with the box, but for a margin', () => {
    const area = fc
      .record({
        left: fc.double({ min: 0, max: 0.3, noNaN: true }),
        top: fc.double({ min: 0, max: 0.3, noNaN: true }),
        right: fc.double({ min: 0.7, max: 1, noNaN: true }),
        bottom: fc.double({ min: 0.7, max: 1, noNaN: true }),
      })
      .filter(({ right, bottom, left, top }) => right > left && bottom > top);
    const part = fc.double({ min: -1, max: 1, noNaN: true });
    const away = fc.tuple(part, part, part).filter(([x, y]) => Math.hypot(x, y) > 0.05);
    fc.assert(
      fc.property(
        area,
        away,
        fc.double({ min: 25, max: 90, noNaN: true }),
        fc.double({ min: 0.5, max: 2.2, noNaN: true }),
        (free: PictureArea, from, fov, aspect) => {
          const points = seen(BOX, framingPose(BOX, from, fov, aspect, free), aspect);
          const [x, y] = [points.map((point) => point.x), points.map((point) => point.y)];
          const gaps = [
            Math.min(...x) - free.left,
            free.right - Math.max(...x),
            Math.min(...y) - free.top,
            free.bottom - Math.max(...y),
          ];
          const margins = [free.right - free.left, free.bottom - free.top].map((size) => size * 0.04);
          const beyond = gaps.map((gap, side) => gap - margins[side >> 1]!);
          for (const gap of beyond) expect(gap).toBeGreaterThan(-1e-6);
          // It touches both margins either across or along.
          expect(Math.min(beyond[0]! + beyond[1]!, beyond[2]! + beyond[3]!)).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('keeps a distance from what is tiny, and looks at what is far from zero', () => {
    const near = framingPose([0, 0, 0, 0.01, 0.01, 0.01], AWAY, 50, 1.5);
    expect(Math.hypot(...near.position)).toBeGreaterThan(1);
    const move = [4e5, 5.7e6, 80];
    const far = framingPose(BOX.map((part, i) => part + move[i % 3]!) as Box3, AWAY, 50, 1.5);
    const here = framingPose(BOX, AWAY, 50, 1.5);
    far.position.forEach((part, i) => expect(part - move[i]!).toBeCloseTo(here.position[i]!, 6));
    far.target.forEach((part, i) => expect(part - move[i]!).toBeCloseTo(here.target[i]!, 6));
  });

  it('still shows something where nearly everything is covered', () => {
    const { position } = framingPose(BOX, AWAY, 50, 1.5, { left: 0.5, top: 0.5, right: 0.5, bottom: 0.5 });
    expect(position.every(Number.isFinite)).toBe(true);
    expect(Math.hypot(...position)).toBeLessThan(200);
  });
});
