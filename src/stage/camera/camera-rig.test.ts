import fc from 'fast-check';
import { Plane, Vector3 } from 'three';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { CameraPose } from '@/core/view/camera';
import { CoordinateFrame } from '../coordinate-frame';
import { PointerArbiter } from '../input/pointer-arbiter';
import type { Press } from '../input/pointer-taker';
import { CameraRig } from './camera-rig';
import { Turning } from './turning';
import { windowPose } from './window-pose';

/** As much of an HTML element as the rig touches: 800 x 600 pixels at the page's (100, 50). */
class Surface extends EventTarget {
  readonly clientWidth = 800;
  readonly clientHeight = 600;
  getBoundingClientRect() {
    return { left: 100, top: 50, width: 800, height: 600 };
  }
  setPointerCapture() {}

  fire(type: string, fields: object): Event {
    const event = Object.assign(new Event(type, { cancelable: true }), {
      pointerId: 1,
      pointerType: 'mouse',
      button: 0,
      buttons: 1,
      shiftKey: false,
      ...fields,
    });
    this.dispatchEvent(event);
    return event;
  }

  drag(from: [number, number], to: [number, number], fields: object = {}): void {
    this.fire('pointerdown', { clientX: from[0], clientY: from[1], ...fields });
    this.fire('pointermove', { clientX: to[0], clientY: to[1], ...fields });
    this.fire('pointerup', { clientX: to[0], clientY: to[1], ...fields });
  }
}

const START: CameraPose = { position: [0, -20, 12], target: [0, 0, 0], fov: 50 };
const GROUND = new Plane(new Vector3(0, 0, 1), 0);
let surface: Surface;
let rig: CameraRig;
let arbiter: PointerArbiter;
let quiet: boolean;
const events = {
  onMove: vi.fn<(byHand: boolean) => void>(),
  onRest: vi.fn<(byHand: boolean) => void>(),
  onTap: vi.fn<(x: number, y: number) => void>(),
  onDoubleTap: vi.fn<(x: number, y: number) => void>(),
  onHover: vi.fn<(x: number, y: number) => void>(),
  onLeave: vi.fn<() => void>(),
};

beforeEach(() => {
  vi.useFakeTimers();
  vi.resetAllMocks();
  quiet = false;
  vi.stubGlobal('matchMedia', () => ({ matches: quiet }));
  vi.stubGlobal('WheelEvent', { DOM_DELTA_LINE: 1 });
  surface = new Surface();
  const element = surface as unknown as HTMLElement;
  rig = new CameraRig(element, new CoordinateFrame(), events);
  arbiter = new PointerArbiter(element, new Turning(rig, element, groundAt));
  const taken = (listener: (x: number, y: number) => void) => (press: Press) => {
    listener(press.x, press.y);
    return true;
  };
  arbiter.base.push({
    tap: taken(events.onTap),
    doubleTap: taken(events.onDoubleTap),
    hover: (press) => (press ? taken(events.onHover)(press) : (events.onLeave(), true)),
  });
  rig.resize(800, 600);
  rig.pose = START;
});
afterEach(() => {
  arbiter.dispose();
  rig.dispose();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

function groundAt(x: number, y: number): Vector3 | null {
  return rig.ray(x, y).intersectPlane(GROUND, new Vector3());
}

/** Where a point stands on the page, in pixels. */
function onPage(point: Vector3): [number, number] {
  const { x, y } = point.clone().project(rig.camera);
  return [100 + ((x + 1) / 2) * 800, 50 + ((1 - y) / 2) * 600];
}

function near(actual: ArrayLike<number>, expected: ArrayLike<number>, digits = 6): void {
  Array.from(expected).forEach((value, i) => expect(actual[i]).toBeCloseTo(value, digits));
}

const somewhere = fc.tuple(fc.integer({ min: 200, max: 800 }), fc.integer({ min: 300, max: 600 }));

describe('the point under the hand', () => {
  it('stays under it while panning, wherever one takes hold', () => {
    fc.assert(
      fc.property(somewhere, somewhere, (from, to) => {
        fc.pre(Math.hypot(to[0] - from[0], to[1] - from[1]) > 8);
        rig.pose = START;
        const held = groundAt(...from)!;
        surface.drag(from, to, { buttons: 2 });
        near(onPage(held), to, 4);
      }),
    );
  });

  it('stays where it is while zooming, with the wheel and with two fingers', () => {
    fc.assert(
      fc.property(somewhere, fc.integer({ min: -240, max: 240 }), (at, deltaY) => {
        rig.pose = START;
        const held = groundAt(...at)!;
        const far = rig.camera.position.distanceTo(held);
        surface.fire('wheel', { clientX: at[0], clientY: at[1], deltaY, deltaMode: 0, ctrlKey: false });
        near(onPage(held), at, 4);
        const now = rig.camera.position.distanceTo(held);
        expect(Math.sign(now - far)).toBe(Math.sign(deltaY));
      }),
    );
    rig.pose = START;
    const between = groundAt(500, 400)!;
    const far = rig.camera.position.distanceTo(between);
    const finger = (id: number, x: number, type: string) =>
      surface.fire(type, { pointerId: id, pointerType: 'touch', clientX: x, clientY: 400 });
    finger(1, 450, 'pointerdown');
    finger(2, 550, 'pointerdown');
    finger(1, 400, 'pointermove');
    finger(2, 600, 'pointermove');
    near(onPage(between), [500, 400], 4);
    expect(rig.camera.position.distanceTo(between)).toBeCloseTo(far / 2, 4);
    expect(events.onTap).not.toHaveBeenCalled();
  });

  it('is the centre of turning: it keeps its place and its distance, and the horizon stays level', () => {
    fc.assert(
      fc.property(somewhere, somewhere, (from, to) => {
        fc.pre(Math.hypot(to[0] - from[0], to[1] - from[1]) > 8);
        rig.pose = START;
        const pivot = groundAt(...from)!;
        const distance = rig.camera.position.distanceTo(pivot);
        surface.drag(from, to);
        near(onPage(pivot), from, 3);
        expect(rig.camera.position.distanceTo(pivot)).toBeCloseTo(distance, 6);
        const sideways = new Vector3(1, 0, 0).applyQuaternion(rig.camera.quaternion);
        expect(sideways.z).toBeCloseTo(0, 6);
      }),
    );
  });

  it('never turns over the top', () => {
    for (let i = 0; i < 12; i++) surface.drag([500, 300], [500, 640]);
    const down = rig.target.clone().sub(rig.camera.position).normalize();
    expect(Math.abs(Math.asin(down.z))).toBeLessThan((89.01 * Math.PI) / 180);
    expect(Math.abs(down.z)).toBeGreaterThan(0.99);
  });
});

describe('a drawn window', () => {
  it('becomes the picture: its middle in the middle, half of its size twice as large, with perspective and without', () => {
    for (const parallel of [undefined, true] as const) {
      rig.pose = { ...START, ...(parallel && { parallel }) };
      const middle = groundAt(480, 400)!;
      const beside = groundAt(520, 400)!;
      const before = onPage(beside)[0] - onPage(middle)[0];
      rig.pose = windowPose(rig, surface.getBoundingClientRect(), { x: 280, y: 250 }, { x: 680, y: 550 }, groundAt)!;
      near(onPage(middle), [500, 350], 3);
      // Sideways at the same depth everything is twice as large.
      expect((onPage(beside)[0] - onPage(middle)[0]) / before).toBeCloseTo(2, 1);
    }
    expect(
      windowPose(rig, surface.getBoundingClientRect(), { x: 300, y: 300 }, { x: 303, y: 302 }, groundAt),
    ).toBeNull();
  });
});

describe('without perspective', () => {
  it('what is far is as large as what is near, and what is under the hand stays there while zooming', () => {
    rig.pose = { ...START, parallel: true };
    const width = (y: number) => Math.abs(onPage(new Vector3(1, y, 0))[0] - onPage(new Vector3(0, y, 0))[0]);
    expect(width(15)).toBeCloseTo(width(-5), 6);
    const held = groundAt(430, 380)!;
    surface.fire('wheel', { clientX: 430, clientY: 380, deltaY: -120, deltaMode: 0, ctrlKey: false });
    near(onPage(held), [430, 380], 3);
    expect(rig.pose.parallel).toBe(true);
    // A line of sight ends at what it is drawn to.
    const at = new Vector3(3, 4, 0);
    const { ray, distance } = rig.sightTo(at);
    near(ray.at(distance, new Vector3()).toArray(), at.toArray(), 6);
  });
});

describe('hands', () => {
  it('tap without moving, tap twice, drag, let go', () => {
    surface.fire('pointerdown', { clientX: 300, clientY: 300 });
    surface.fire('pointermove', { clientX: 302, clientY: 301 });
    surface.fire('pointerup', { clientX: 302, clientY: 301 });
    expect(events.onTap.mock.calls).toEqual([[302, 301]]);
    expect(events.onMove).not.toHaveBeenCalled();
    surface.drag([304, 300], [304, 300]);
    expect(events.onDoubleTap.mock.calls).toEqual([[304, 300]]);
    surface.drag([304, 300], [304, 300]);
    expect(events.onTap).toHaveBeenCalledTimes(2); // a third tap starts anew

    surface.drag([300, 300], [400, 300]);
    expect(events.onMove).toHaveBeenLastCalledWith(true);
    expect(events.onRest).not.toHaveBeenCalled();
    vi.advanceTimersByTime(300);
    expect(events.onRest.mock.calls).toEqual([[true]]);
  });

  it('neither taps with the second button nor when the system takes the finger away', () => {
    surface.drag([300, 300], [300, 300], { button: 2, buttons: 2 });
    surface.fire('pointerdown', { clientX: 300, clientY: 300, pointerType: 'touch' });
    surface.fire('pointercancel', { clientX: 300, clientY: 300, pointerType: 'touch' });
    surface.fire('pointerup', { clientX: 300, clientY: 300, pointerType: 'touch' });
    expect(events.onTap).not.toHaveBeenCalled();
  });

  it('hover with a mouse, not with a finger', () => {
    surface.fire('pointermove', { clientX: 1, clientY: 2 });
    surface.fire('pointermove', { clientX: 3, clientY: 4, pointerType: 'touch' });
    expect(events.onHover.mock.calls).toEqual([[1, 2]]);
    surface.fire('pointerleave', {});
    expect(events.onLeave).toHaveBeenCalled();
  });

  it('reach every movement by keys, and leave other keys alone', () => {
    const key = (name: string, shiftKey = false) => surface.fire('keydown', { key: name, shiftKey }).defaultPrevented;
    expect(key('Tab')).toBe(false);
    rig.pose = START;
    expect(key('+')).toBe(true);
    const distance = Math.hypot(...START.position);
    expect(rig.camera.position.length()).toBeCloseTo(distance * 0.85, 6);
    key('-');
    near(rig.pose.position, START.position);
    key('ArrowLeft');
    key('ArrowRight');
    near(rig.pose.position, START.position);
    key('ArrowRight', true);
    expect(rig.pose.target[0]).toBeGreaterThan(0.5);
    expect(rig.pose.position[2]).toBeCloseTo(START.position[2], 6);
  });
});

describe('flights', () => {
  const goal: CameraPose = { position: [30, 0, 4], target: [10, 5, 1], fov: 40 };

  it('arrive exactly, and come to rest once', () => {
    const start = performance.now();
    rig.flights.flyTo(goal);
    expect([rig.flights.isFlying, rig.destination]).toEqual([true, goal]);
    rig.flights.step(start + 350);
    expect(events.onRest).not.toHaveBeenCalled();
    expect(events.onMove).toHaveBeenLastCalledWith(false);
    rig.flights.step(start + 5000);
    expect(rig.flights.isFlying).toBe(false);
    near(rig.pose.position, goal.position);
    expect(rig.fov).toBe(40);
    expect(events.onRest).toHaveBeenCalledTimes(1);
  });

  it('end where a hand takes hold', () => {
    rig.flights.flyTo(goal);
    rig.flights.step(performance.now() + 200);
    const here = rig.pose;
    surface.fire('pointerdown', { clientX: 300, clientY: 300 });
    rig.flights.step(performance.now() + 5000);
    expect(rig.pose).toEqual(here);
    expect(rig.flights.isFlying).toBe(false);
  });

  it('have the last word over a hand that has just let go', () => {
    surface.drag([400, 300], [480, 320]);
    rig.flights.flyTo(START);
    vi.advanceTimersByTime(2000);
    expect(events.onRest.mock.calls.filter(([byHand]) => byHand)).toHaveLength(0);
    surface.drag([400, 300], [480, 320]);
    rig.jumpTo(START);
    vi.advanceTimersByTime(2000);
    expect(events.onRest.mock.calls.filter(([byHand]) => byHand)).toHaveLength(0);
  });

  it('are jumps where the system asks for no motion', () => {
    quiet = true;
    rig.flights.flyTo(goal);
    expect(rig.flights.isFlying).toBe(false);
    near(rig.pose.target, goal.target);
    expect(events.onRest).toHaveBeenCalledTimes(1);
  });

  it('glide after a stream of poses without settling by themselves', () => {
    rig.flights.glideTo(goal);
    for (let i = 0; i < 40; i++) rig.flights.step(performance.now());
    near(rig.pose.position, goal.position);
    expect(rig.flights.isFlying).toBe(false);
    expect(events.onRest).not.toHaveBeenCalled();
  });
});

it('speaks project coordinates outside and keeps small numbers inside', () => {
  rig.frame.origin = [2_500_000, 6_700_000, 0];
  const pose: CameraPose = { position: [2_500_010, 6_700_020, 5], target: [2_500_000, 6_700_000, 1], fov: 50 };
  rig.pose = pose;
  expect(rig.camera.position.toArray()).toEqual([10, 20, 5]);
  expect(rig.pose).toEqual(pose);
});
