import { EventEmitter } from 'node:events';
import { expect, it, vi } from 'vitest';
import { Pulse } from './pulse';
import { Shapes } from './shapes';
import type { BuildOrder } from './tessellate';
import type { TessellationWord } from './tessellate-thread';

/** What threads were asked for, one after the other, and what becomes of each. */
const orders: BuildOrder[] = [];
const fates: ((thread: EventEmitter, pulse: Pulse) => void)[] = [];

/** A thread whose library does what a test wants: no small file is known at which the real one breaks down. */
class Thread extends EventEmitter {
  private pulse = new Pulse();

  postMessage(word: TessellationWord): void {
    if ('file' in word) this.pulse = new Pulse(word.pulse);
    else setImmediate(() => fates[orders.push(word.order) - 1]!(this, this.pulse));
  }

  terminate(): Promise<number> {
    return Promise.resolve(1);
  }

  ref(): void {}

  unref(): void {}
}

vi.mock('../start-thread', () => ({ startThread: () => new Thread() }));

function breakDown(thread: EventEmitter): void {
  // As an error comes from another thread: a copy that has lost its class.
  thread.emit('error', Object.assign(new Error('memory access out of bounds'), { name: 'RuntimeError' }));
}

function build(...becomes: typeof fates) {
  orders.length = 0;
  fates.splice(0, Infinity, ...becomes);
  const shapes = new Shapes({ bytes: new SharedArrayBuffer(8), schema: 'IFC4' });
  shapes.begin([7]);
  return shapes
    .build({ onProgress: () => undefined, onShapes: () => undefined, onPlacements: () => undefined })
    .finally(() => shapes.end());
}

it('leaves out the product at which the library breaks down, and builds the others with a new one', async () => {
  const failures = await build(
    (thread, pulse) => {
      pulse.opened();
      breakDown(thread);
    },
    (thread, pulse) => {
      pulse.opened();
      pulse.building(300);
      breakDown(thread);
    },
    (thread, pulse) => {
      pulse.opened();
      thread.emit('message', { madeSense: true });
    },
  );
  expect([...failures!]).toEqual([[300, 'the reader failed on its shape (memory access out of bounds)']]);
  expect(orders).toEqual([
    { classes: [7], from: 0, without: [], oneByOne: false },
    { classes: [7], from: 0, without: [], oneByOne: true },
    { classes: [7], from: 0, without: [300], oneByOne: true },
  ]);
});

it('does not begin again and again where no product is to blame', async () => {
  const atOnce: (typeof fates)[number] = (thread, pulse) => {
    pulse.opened();
    breakDown(thread);
  };
  expect(await build(atOnce, atOnce)).toBeNull();
  expect(orders).toHaveLength(2);
});

it('goes on after what was handed over', async () => {
  const none = new Uint32Array();
  const items = { id: none, positionsTo: none, indicesTo: none, positions: new Float32Array(), indices: none };
  const placements = { product: none, item: none, colour: new Float64Array(), matrix: new Float64Array() };
  const shown = { items, placements, failures: new Map([[100, 'odd']]), until: 64 };
  const failures = await build(
    (thread, pulse) => {
      pulse.opened();
      thread.emit('message', { shown });
      breakDown(thread);
    },
    (thread) => void thread.emit('message', { madeSense: true }),
  );
  expect(orders[1]).toMatchObject({ from: 64, without: [], oneByOne: true });
  expect([...failures!]).toEqual([[100, 'odd']]);
});

it('says so where it breaks down before it has opened the file, and of any other error', async () => {
  await expect(build(breakDown)).rejects.toThrow('memory access out of bounds');
  await expect(
    build((thread, pulse) => {
      pulse.opened();
      thread.emit('error', new Error('disk full'));
    }),
  ).rejects.toThrow('disk full');
  expect(orders).toHaveLength(1);
});
