import { stat } from 'node:fs/promises';
import { setImmediate } from 'node:timers/promises';
import type { Worker } from 'node:worker_threads';
import type { ElementIndex } from '@/core/elements/element-index';
import type { PublishPhase } from '@/core/jobs/phase';
import type { PublishSettings } from '@/core/project/publish-settings';
import type { PublishReport } from '@/core/project/publish-report';
import type { Geometry, PropertySets } from '@/formats/building-model';
import { readModel } from '@/formats/read-model';
import { RestingThread } from '@/formats/resting-thread';
import { startThread } from '@/formats/start-thread';
import type * as MakeRevision from './make-revision';
import type { FacetsAhead } from './geometry/merge-facets';
import { PhaseClock } from './phase-clock';

export interface PublishOptions {
  fileName: string;
  /** Where the revision's folder is made; must be empty or absent. */
  outFolder: string;
  discipline?: string;
  settings?: PublishSettings;
  /** Share of the whole job done, 0..1. */
  onProgress?: (phase: PublishPhase, share: number) => void;
}

export interface PublishedRevision {
  report: PublishReport;
  index: ElementIndex;
  properties: PropertySets[];
}

/** Share of the whole job. */
const READING = 0.55;
/** A smaller file is done sooner than another thread has started. */
const WORTH_A_THREAD = 1_000_000;

/**
 * Reads a model file and writes the published revision: `tileset.json` (3D Tiles 1.1), `tiles/*.glb`, `textures/*.webp`,
 * `elements.json`, `triangles.json` (by row, as in the file), `plans.json`, `report.json`, `preview.png`; text and tiles also precompressed as `.br`.
 * What comes after reading is loaded, and its second thread started, once the reader is well under way.
 *
 * @throws ModelFileError with a sentence for the user if the file cannot be published
 */
export async function publishModel(path: string, options: PublishOptions): Promise<PublishedRevision> {
  const clock = new PhaseClock();
  const { size } = await stat(path);
  const next = new Next(size >= WORTH_A_THREAD);
  let isDone = false;
  try {
    const model = await readModel(path, options.fileName, {
      frame: options.settings?.frame,
      onProgress: (share) => {
        next.prepare();
        options.onProgress?.('reading', READING * share);
      },
      onShapes: (shapes) => next.take(shapes),
    });
    await letGo();
    clock.lap('reading');
    const { makeRevision } = await next.prepare();
    await next.settle();
    const revision = await makeRevision(model, size, options, next.thread, clock);
    isDone = true;
    return revision;
  } finally {
    await next.end(isDone);
  }
}

const secondThread = new RestingThread(() => startThread(import.meta.url, './threads/second-thread'));

/** What comes after reading, and its thread. */
class Next {
  thread: Worker | null = null;
  private module: Promise<typeof MakeRevision> | null = null;
  private ahead: Promise<FacetsAhead> | null = null;

  constructor(private readonly isWorthAThread: boolean) {}

  /** Loads it and starts its thread, the first time that it is asked for. */
  prepare(): Promise<typeof MakeRevision> {
    if (!this.module && this.isWorthAThread) this.thread = secondThread.take();
    return (this.module ??= import('./make-revision'));
  }

  /** Works on shapes that are there before the others. */
  take(shapes: Geometry[]): void {
    const before = this.ahead ?? this.prepare().then(({ FacetsAhead }) => new FacetsAhead());
    this.ahead = before.then(async (ahead) => {
      await ahead.merge(shapes);
      return ahead;
    });
    // What goes wrong is told to whoever waits; until then nobody may.
    this.ahead.catch(() => undefined);
  }

  /** @param isDone whether all went well, so that the thread has nothing more to do and may rest */
  async end(isDone: boolean): Promise<void> {
    if (this.thread) await secondThread.giveBack(this.thread, isDone);
  }

  /** Waits until that is done, and lets go of what was only needed for it. */
  async settle(): Promise<void> {
    await this.ahead;
    this.ahead = null;
  }
}

/** Bytes outside the heap that are worth the time that collecting takes. */
const WORTH_COLLECTING = 200e6;

/**
 * Frees what the reader's library held of the file, in memory of its own that goes only when it is collected: where the
 * process allows it (--expose-gc), and turn by turn, because one thing there holds the next.
 */
async function letGo(): Promise<void> {
  for (let turn = 0; turn < 3 && process.memoryUsage().external > WORTH_COLLECTING; turn++) {
    await setImmediate();
    globalThis.gc?.();
  }
}
