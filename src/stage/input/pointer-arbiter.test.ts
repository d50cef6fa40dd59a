import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { PointerArbiter } from './pointer-arbiter';
import type { Drag, PointerTaker } from './pointer-taker';

class Surface extends EventTarget {
  setPointerCapture() {}
  fire(type: string, fields: object = {}): void {
    const event = Object.assign(new Event(type, { cancelable: true }), {
      pointerId: 1,
      pointerType: 'touch',
      clientX: 0,
      clientY: 0,
      button: 0,
      buttons: 1,
      shiftKey: false,
      pressure: 0.5,
      ...fields,
    });
    this.dispatchEvent(event);
  }
}

let surface: Surface;
let arbiter: PointerArbiter;
let log: string[];

/** A taker that writes down what it gets; it takes drags only where told to. */
function taker(name: string, takes: (keyof PointerTaker)[]): PointerTaker {
  const drag = (): Drag => ({
    fingers: (fingers) => void log.push(`${name} fingers ${fingers.length}`),
    move: () => void log.push(`${name} move`),
    end: (cancelled) => void log.push(`${name} end${cancelled ? ' cancelled' : ''}`),
  });
  const take = (what: keyof PointerTaker) => () => {
    log.push(`${name} ${what}`);
    return takes.includes(what);
  };
  return {
    press: () => (takes.includes('press') ? drag() : null),
    tap: take('tap'),
    doubleTap: take('doubleTap'),
    longPress: take('longPress'),
    key: take('key'),
  };
}

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('WheelEvent', { DOM_DELTA_LINE: 1 });
  log = [];
  surface = new Surface();
  arbiter = new PointerArbiter(surface as unknown as HTMLElement, taker('camera', ['press', 'tap', 'key']));
});
afterEach(() => {
  arbiter.dispose();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const drag = () => {
  surface.fire('pointerdown');
  surface.fire('pointermove', { clientX: 50 });
  surface.fire('pointerup', { clientX: 50 });
};

describe('a gesture', () => {
  it('goes to handles, then the tool, then the camera', () => {
    drag();
    arbiter.tool = taker('tool', ['press']);
    drag();
    arbiter.handles.push(taker('handle', []), taker('arrow', ['press']));
    drag();
    expect(log).toEqual(['camera move', 'camera end', 'tool move', 'tool end', 'arrow move', 'arrow end']);
  });

  it('belongs to whoever took it until its last finger is up, whatever else comes', () => {
    arbiter.tool = taker('tool', ['press']);
    surface.fire('pointerdown');
    arbiter.handles.push(taker('handle', ['press']));
    surface.fire('pointerdown', { pointerId: 2 });
    surface.fire('pointermove', { clientX: 50 });
    surface.fire('pointerup');
    surface.fire('pointercancel', { pointerId: 2 });
    expect(log).toEqual(['tool fingers 2', 'tool move', 'tool fingers 1', 'tool end cancelled']);
  });

  it('that is a tap is offered until somebody takes it', () => {
    arbiter.tool = taker('tool', []);
    arbiter.base.push(taker('selecting', ['tap']));
    surface.fire('pointerdown');
    surface.fire('pointermove', { clientX: 3 });
    surface.fire('pointerup', { clientX: 3 });
    expect(log.filter((line) => line.endsWith('tap'))).toEqual(['tool tap', 'selecting tap']);
  });

  it('that rests is a long press, and then no tap', () => {
    arbiter.tool = taker('tool', ['longPress']);
    surface.fire('pointerdown');
    vi.advanceTimersByTime(1000);
    surface.fire('pointerup');
    expect(log).toEqual(['tool longPress', 'camera end']);
  });

  it('that rests is taken over by whoever answers with a drag, which then hears of the smallest move', () => {
    const loupe: PointerTaker = {
      longPress: () => ({ move: () => void log.push('loupe move'), end: () => void log.push('loupe end') }),
    };
    arbiter.tool = loupe;
    surface.fire('pointerdown');
    vi.advanceTimersByTime(1000);
    surface.fire('pointermove', { clientX: 1 });
    surface.fire('pointerup', { clientX: 1 });
    expect(log).toEqual(['camera end cancelled', 'loupe move', 'loupe end']);
  });

  it('that moves is no long press', () => {
    surface.fire('pointerdown');
    surface.fire('pointermove', { clientX: 50 });
    vi.advanceTimersByTime(1000);
    expect(log).toEqual(['camera move']);
  });
});

it('keys go the same way', () => {
  arbiter.tool = taker('tool', ['key']);
  surface.fire('keydown', { key: 'x' });
  arbiter.tool = null;
  surface.fire('keydown', { key: 'x' });
  expect(log).toEqual(['tool key', 'camera key']);
});

it('a key that somebody took means nothing to the page around', () => {
  const around = vi.fn();
  const event = Object.assign(new Event('keydown', { cancelable: true }), { key: 'x', stopPropagation: around });
  arbiter.tool = taker('tool', ['key']);
  surface.dispatchEvent(event);
  expect(around).toHaveBeenCalled();
});

describe('a gesture that is given up', () => {
  it('goes on as the camera’s, as soon as a second finger means that', () => {
    const drawing = taker('tool', ['press']);
    const press = drawing.press!;
    drawing.press = (first) => ({ ...press(first)!, fingers: (fingers) => fingers.length > 1 });
    arbiter.tool = drawing;
    surface.fire('pointerdown', { pointerId: 1 });
    surface.fire('pointermove', { pointerId: 1, clientX: 40 });
    surface.fire('pointerdown', { pointerId: 2, clientX: 90 });
    surface.fire('pointermove', { pointerId: 2, clientX: 140 });
    surface.fire('pointerup', { pointerId: 2 });
    surface.fire('pointerup', { pointerId: 1 });
    expect(log).toEqual(['tool move', 'tool end cancelled', 'camera fingers 2', 'camera move', 'camera fingers 1', 'camera end']); // prettier-ignore
  });
});
