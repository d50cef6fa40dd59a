import { stat } from 'node:fs/promises';
import { setImmediate } from 'node:timers/promises';
import type { ElementIndex } from '@/core/elements/element-index';
import type { PublishStage } from '@/core/jobs/stage';
import type { PublishSettings } from '@/core/project/publish-settings';
import type { PublishReport } from '@/core/project/publish-report';
import type { BuildingModel, PropertySets } from '@/formats/building-model';
import { readModel } from '@/formats/read-model';
import { startThread } from '@/formats/start-thread';
import { placeGeometry, type PlacedGeometry } from './element-geometry';
import { mergeFacets } from './merge-facets';
import { reveal } from './reveal';
import { shareGeometries } from './share-geometries';
import { StageClock } from './stage-clock';
import { changeSurfaces } from './surfaces/change-surfaces';

export interface PublishOptions {
  fileName: string;
  /** Where the revision's folder is made; must be empty or absent. */
  outFolder: string;
  discipline?: string;
  settings?: PublishSettings;
  /** Share of the whole job done, 0..1. */
  onProgress?: (stage: PublishStage, share: number) => void;
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
 * `elements.json`, `triangles.json` (by row, as in the file), `report.json`, `preview.png`; text and tiles also precompressed as `.br`.
 * What comes after reading is loaded, and its second thread started, while the reader waits for its own.
 *
 * @throws ModelFileError with a sentence for the user if the file cannot be published
 */
export async function publishModel(path: string, options: PublishOptions): Promise<PublishedRevision> {
  const clock = new StageClock();
  const { size } = await stat(path);
  const preparing = prepare(path, options, clock);
  const making = import('./make-revision');
  const thread = size < WORTH_A_THREAD ? null : startThread(import.meta.url, './core-thread');
  try {
    const prepared = await preparing;
    const { makeRevision } = await making;
    return await makeRevision(prepared, size, options, thread, clock);
  } finally {
    await thread?.terminate();
  }
}

/** What is to be published: elements with their triangles in place, and what was done so far. */
export interface Prepared {
  /** Where nothing is to be mended, without its shapes: with those in place they would be held twice. */
  model: BuildingModel;
  placed: PlacedGeometry;
  withheld: number;
  newCategories: string[];
  changes: PublishReport['surfaces'];
  /** Bytes that the triangles would take as they came. */
  plain: number;
  /** Triangles that went with the facets of one plane. */
  merged: number;
}

/** Reads a file, leaves what is to be revealed, changes surfaces, merges facets, puts everything in its place. */
async function prepare(
  path: string,
  { fileName, discipline, settings = {}, onProgress: tell }: PublishOptions,
  clock: StageClock,
): Promise<Prepared> {
  const onProgress = (share: number) => tell?.('reading', READING * share);
  const { frame, reveal: rule, surfaces = [] } = settings;
  const mends = settings.mend !== undefined && settings.mend.length > 0;
  const whole = await readModel(path, fileName, { onProgress, frame });
  if (discipline) whole.elements.discipline = whole.elements.discipline.map((own) => own || discipline);
  await letGo();
  const { model, withheld, newCategories } = rule
    ? reveal(whole, rule)
    : { model: whole, withheld: 0, newCategories: [] };
  const changed = changeSurfaces(model, surfaces);
  clock.lap('reading');
  const merged = await mergeFacets(shareGeometries(changed.model));
  return {
    model: mends ? merged.model : { ...merged.model, geometries: [], placements: [] },
    placed: placeGeometry(merged.model),
    withheld,
    newCategories,
    changes: changed.changes,
    plain: plainBytes(model),
    merged: merged.saved,
  };
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

/** What the triangles would take as they are: every placement apart, vertices of six 32-bit numbers. */
function plainBytes({ placements, geometries }: BuildingModel): number {
  return placements.reduce((sum, { geometry }) => {
    const { positions, indices } = geometries[geometry]!;
    return sum + (positions.length / 3) * 24 + indices.length * 4;
  }, 0);
}
