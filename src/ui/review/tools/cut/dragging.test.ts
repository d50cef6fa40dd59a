import { describe, expect, it, vi } from 'vitest';
import { boxAbout, NO_CUTS, planeAt, turnAxis, type Cuts } from '@/core/cut/cuts';
import type { Vec3 } from '@/core/math/mat4';
import type { Press } from '@/stage/input/pointer-taker';
import { dragHandle, type SpaceRay } from './dragging';

/** Seen from the south, far away and level: a press at x, y looks at x metres east and y metres up. */
const fromSouth = ({ x, y }: Press): SpaceRay => ({ origin: [x, -100, y], direction: [0, 1, 0] });
const fromAbove = ({ x, y }: Press): SpaceRay => ({ origin: [x, y, 100], direction: [0, 0, -1] });
const at = (x: number, y: number) => ({ x, y }) as Press;

const east = planeAt('a', [1, 0, 0], [1, 0, 0]);
const CUTS: Cuts = {
  ...NO_CUTS,
  planes: [east, planeAt('b', [0, 0, 3], [0, 0, 1])],
  box: boxAbout([0, 0, 0, 2, 2, 2], 0),
};
const arrow = { part: 'arrow', plane: east, at: [1, 0, 0] as Vec3, direction: east.normal } as const;

function hand(rayAt: (press: Press) => SpaceRay) {
  return { cuts: CUTS, rayAt, onMove: vi.fn<(cuts: Cuts) => void>(), onEnd: vi.fn<(cuts: Cuts) => void>() };
}

describe('a hand at a handle', () => {
  it('moves a plane along its arrow by as much as it goes that way, and no other', () => {
    const dragging = hand(fromSouth);
    const drag = dragHandle(arrow, at(1.2, 0), dragging);
    drag.move([], at(3.2, 5));
    const [moved] = dragging.onMove.mock.calls.at(-1)!;
    expect(moved.planes[0]!.offset).toBeCloseTo(3, 9);
    expect(moved.planes[1]).toBe(CUTS.planes[1]);
    drag.end(false);
    expect(dragging.onEnd).toHaveBeenCalledWith(moved);
  });

  it('leaves everything as it was when it is interrupted, or looks along the arrow', () => {
    const interrupted = hand(fromSouth);
    const drag = dragHandle(arrow, at(1, 0), interrupted);
    drag.move([], at(4, 0));
    drag.end(true);
    expect(interrupted.onEnd).toHaveBeenCalledWith(CUTS);
    const along = hand(({ y }) => ({ origin: [-100, 0, y], direction: [1, 0, 0] }));
    dragHandle(arrow, at(0, 0), along).move([], at(0, 5));
    expect(along.onMove).not.toHaveBeenCalled();
  });

  it('turns a plane by its ring as far as it goes round', () => {
    const dragging = hand(fromAbove);
    const drag = dragHandle({ part: 'ring', plane: east, at: [1, 0, 0], axis: turnAxis(east) }, at(2, 0), dragging);
    drag.move([], at(1, 1)); // a quarter, against the clock
    const [turned] = dragging.onMove.mock.calls.at(-1)!;
    turned.planes[0]!.normal.forEach((one, axis) => expect(one).toBeCloseTo([0, 1, 0][axis]!, 9));
    expect(turned.planes[0]!.middle).toEqual([1, 0, 0]);
  });

  it('moves one face of the box', () => {
    const dragging = hand(fromSouth);
    dragHandle({ part: 'face', face: 0, at: [2, 1, 1], direction: [1, 0, 0] }, at(2, 1), dragging).move([], at(2.5, 1));
    const [{ box }] = dragging.onMove.mock.calls.at(-1)!;
    expect(box!.size[0]).toBeCloseTo(2.5, 9);
    expect(box!.middle[0]).toBeCloseTo(1.25, 9);
  });
});
