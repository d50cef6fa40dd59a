import { mkdir, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setImmediate } from 'node:timers/promises';
import { forecast } from '@/core/detail/forecast';
import { quantiseBoxes } from '@/core/elements/element-boxes';
import { encodeColumn, type ElementIndex } from '@/core/elements/element-index';
import type { PublishStage } from '@/core/jobs/stage';
import { isEmptyBox } from '@/core/math/box3';
import type { PublishSettings } from '@/core/project/publish-settings';
import type { PublishReport, ReadWarning } from '@/core/project/publish-report';
import type { BuildingModel, PropertySets } from '@/formats/building-model';
import { ModelFileError } from '@/formats/model-file-error';
import { readModel } from '@/formats/read-model';
import { placeGeometry, type PlacedGeometry } from './element-geometry';
import { mend } from './examination/mend';
import { mergeFacets } from './merge-facets';
import { writePictures } from './pictures';
import { reveal } from './reveal';
import { SecondCore } from './second-core';
import { shareGeometries } from './share-geometries';
import { changeSurfaces } from './surfaces/change-surfaces';
import { writeBoth, writeTileset } from './write-tileset';

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

/** Pixels. */
const PREVIEW = { width: 640, height: 400 };

/**
 * Reads a model file and writes the published revision: `tileset.json` (3D Tiles 1.1), `tiles/*.glb`, `textures/*.webp`,
 * `elements.json`, `triangles.json` (by row, as in the file), `report.json`, `preview.png`; text and tiles also precompressed as `.br`.
 *
 * @throws ModelFileError with a sentence for the user if the file cannot be published
 */
export async function publishModel(path: string, options: PublishOptions): Promise<PublishedRevision> {
  const progress = (stage: PublishStage, from: number, to: number) => (share: number) =>
    options.onProgress?.(stage, from + (to - from) * share);
  const clock = new StageClock();

  const prepared = await prepare(path, options, progress('reading', 0, 0.55), clock);
  const { placed, withheld, newCategories, changes, plain, merged } = prepared;
  progress('examining', 0.55, 0.6)(0);
  const agreed = options.settings?.mend ?? [];
  const side = new SecondCore(triangleCount(placed));
  try {
    const examining = side.run('examine', placed, { model: withoutFacts(prepared.model) });
    // Without anything to mend, the tiles need not wait for what is noticed.
    const { model, geometry, mended } =
      agreed.length > 0
        ? mend(prepared.model, placed, await examining, agreed)
        : { model: prepared.model, geometry: placed, mended: [] };
    clock.lap('examining');
    if (isEmptyBox(geometry.extent)) {
      throw new ModelFileError(
        'nothing-inside',
        withheld > 0
          ? `Nothing of “${options.fileName}” is left to show: all that has a surface is withheld.`
          : `“${options.fileName}” holds ${model.elements.guid.length} elements but none of them shows a surface.`,
      );
    }
    await mkdir(options.outFolder, { recursive: true });
    const pictures = await writePictures(
      model,
      new Set(geometry.pieces.map(({ material }) => material)),
      options.outFolder,
    );
    const index = buildIndex(model, geometry);
    const [tiles, preview, { findings }, indexSizes] = await Promise.all([
      writeTileset(geometry, pictures, options.outFolder, progress('tiling', 0.6, 0.97)),
      side.run('picture', geometry, { surfaces: pictures.surfaces, ...PREVIEW }),
      examining,
      writeIndex(index, geometry, options.outFolder),
    ]);
    if (!tiles)
      throw new ModelFileError(
        'nothing-inside',
        `All surfaces of “${options.fileName}” are smaller than a millimetre. Check the unit of length.`,
      );
    await writeFile(join(options.outFolder, 'preview.png'), preview);
    clock.lap('tiling');

    progress('indexing', 0.97, 1)(0);
    const report: PublishReport = {
      source: { ...model.source, bytes: (await stat(path)).size },
      frame: model.frame,
      counts: {
        elements: index.count,
        productsWithShape: model.productsWithShape,
        elementsWithGeometry: tiles.shown.size,
        triangles: tiles.triangles,
        tiles: tiles.tiles,
        levels: tiles.levels,
        storeys: model.storeys.length,
        byCategory: countByCategory(model),
      },
      withheld: { elements: withheld, newCategories },
      findings,
      mended,
      surfaces: changes,
      unread: [...model.warnings, ...pictures.warnings, ...vanished(model, geometry, tiles.shown)],
      leftOut: model.leftOut,
      weight: {
        plain,
        mergedTriangles: merged,
        tiles: tiles.weight.full,
        tilesBrotli: tiles.weight.fullBrotli,
        coarserBrotli: tiles.weight.coarserBrotli,
        pictures: pictures.bytes,
        index: indexSizes.bytes,
        indexBrotli: indexSizes.brotli,
      },
      forecast: forecast(
        tiles.root,
        geometry.extent,
        model.storeys.map(({ elevation }) => elevation - geometry.offset[2]),
        tiles.weight.firstLook,
      ),
      extent: geometry.extent,
      offset: geometry.offset,
      georeference: model.georeference,
      cameras: model.cameras,
      quantisationError: tiles.quantisationError,
      time: clock.laps,
    };
    await writeFile(join(options.outFolder, 'report.json'), JSON.stringify(report, null, 2));
    options.onProgress?.('indexing', 1);
    return { report, index, properties: model.properties };
  } finally {
    await side.end();
  }
}

/** What is to be published: elements with their triangles in place, and what was done so far. */
interface Prepared {
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
  { fileName, discipline, settings = {} }: PublishOptions,
  onProgress: (share: number) => void,
  clock: StageClock,
): Promise<Prepared> {
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

function triangleCount({ pieces }: PlacedGeometry): number {
  return pieces.reduce((sum, { indices }) => sum + indices.length / 3, 0);
}

/** What an examination looks at beside the placed triangles. */
function withoutFacts(model: BuildingModel): BuildingModel {
  return { ...model, geometries: [], placements: [], textures: [], properties: [], warnings: [], leftOut: [] };
}

class StageClock {
  readonly laps: Record<string, number> = {};
  private last = performance.now();

  lap(stage: string): void {
    const now = performance.now();
    this.laps[stage] = Math.round(now - this.last);
    this.last = now;
  }
}

/** Writes what lists need of the elements, and their triangles. Returns the weight of the first. */
async function writeIndex(
  index: ElementIndex,
  geometry: PlacedGeometry,
  outFolder: string,
): Promise<{ bytes: number; brotli: number }> {
  const write = (name: string, content: unknown) =>
    writeBoth(join(outFolder, name), Buffer.from(JSON.stringify(content)));
  const [sizes] = await Promise.all([
    write('elements.json', index),
    write('triangles.json', trianglesByRow(index.count, geometry)),
  ]);
  return sizes;
}

function trianglesByRow(count: number, { pieces }: PlacedGeometry): number[] {
  const triangles = new Array<number>(count).fill(0);
  for (const { element, indices } of pieces) triangles[element]! += indices.length / 3;
  return triangles;
}

function buildIndex(model: BuildingModel, geometry: PlacedGeometry): ElementIndex {
  const { elements } = model;
  const quantised = quantiseBoxes(geometry.elementBoxes, geometry.extent);
  return {
    count: elements.guid.length,
    guid: elements.guid,
    name: elements.name,
    category: encodeColumn(elements.category),
    material: encodeColumn(elements.material),
    system: encodeColumn(elements.system),
    room: encodeColumn(elements.room),
    discipline: encodeColumn(elements.discipline),
    storey: elements.storey,
    parent: elements.parent,
    storeys: model.storeys,
    extent: geometry.extent,
    boxes: Buffer.from(quantised.buffer).toString('base64'),
  };
}

/** Elements so small that no triangle of theirs is left after rounding. */
function vanished(model: BuildingModel, geometry: PlacedGeometry, shown: Set<number>): ReadWarning[] {
  const { guid, name, category } = model.elements;
  const gone = new Set(geometry.pieces.map((piece) => piece.element).filter((element) => !shown.has(element)));
  return [...gone].map((row) => ({
    guid: guid[row],
    name: name[row],
    category: category[row],
    reason: 'its surfaces are smaller than the rounding of positions (at most two millimetres), so nothing of it shows',
  }));
}

/** What the triangles would take as they are: every placement apart, vertices of six 32-bit numbers. */
function plainBytes({ placements, geometries }: BuildingModel): number {
  return placements.reduce((sum, { geometry }) => {
    const { positions, indices } = geometries[geometry]!;
    return sum + (positions.length / 3) * 24 + indices.length * 4;
  }, 0);
}

function countByCategory(model: BuildingModel): Record<string, number> {
  const counts: Record<string, number> = {};
  for (const category of model.elements.category) counts[category] = (counts[category] ?? 0) + 1;
  return counts;
}
