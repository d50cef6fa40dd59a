import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Worker } from 'node:worker_threads';
import { forecast } from '@/core/detail/forecast';
import { boxColumns, quantiseBoxes } from '@/core/elements/element-boxes';
import { encodeColumn, type ElementIndex } from '@/core/elements/element-index';
import type { PublishPhase } from '@/core/jobs/phase';
import { isEmptyBox } from '@/core/math/box3';
import type { PublishReport, ReadWarning } from '@/core/project/publish-report';
import type { BuildingModel } from '@/formats/building-model';
import { ModelFileError } from '@/formats/model-file-error';
import { Threads } from './threads/threads';
import { buildDetail } from './detail/build-detail';
import type { PlacedGeometry } from './geometry/element-geometry';
import { mend } from './examination/mend';
import { writePictures } from './pictures/pictures';
import { plainBytes } from './tiles/plain-bytes';
import { prepare, type Prepared } from './prepare';
import type { PublishedRevision, PublishOptions } from './publish-model';
import type { PhaseClock } from './phase-clock';
import { writeBoth, writeTileset } from './tiles/write-tileset';

export { FacetsAhead } from './geometry/merge-facets';

/** Pixels. */
const PREVIEW = { width: 640, height: 400 };

/**
 * Prepares a model that was read, examines it and writes its revision.
 *
 * @param whole what is withheld included
 * @param bytes of the file
 * @param thread another one that works on it, or null
 * @throws ModelFileError if nothing of it shows
 */
export async function makeRevision(
  whole: BuildingModel,
  bytes: number,
  options: PublishOptions,
  thread: Worker | null,
  clock: PhaseClock,
): Promise<PublishedRevision> {
  const progress = (phase: PublishPhase, from: number, to: number) => (share: number) =>
    options.onProgress?.(phase, from + (to - from) * share);
  progress('examining', 0.55, 0.6)(0);
  const { discipline, settings = {} } = options;
  if (discipline) whole.elements.discipline = whole.elements.discipline.map((own) => own || discipline);
  const prepared = await prepare(whole, settings);
  const { placed, withheld, newCategories, changes, plain, merged } = prepared;
  const agreed = settings.mend ?? [];
  refuseEmpty(placed, prepared, options);
  const threads = new Threads(thread);
  const examining = threads.beside('examine', { model: withoutFacts(prepared.model), geometry: placed });
  // Without anything to mend, the tiles need not wait for what is noticed.
  const { model, geometry, mended } =
    agreed.length > 0
      ? await mend(prepared.model, placed, await examining, agreed)
      : { model: prepared.model, geometry: placed, mended: [] };
  refuseEmpty(geometry, prepared, options);
  clock.lap('examining');
  await mkdir(options.outFolder, { recursive: true });
  const pictures = await writePictures(
    model,
    new Set(geometry.pieces.map(({ material }) => material)),
    options.outFolder,
  );
  const index = buildIndex(model, geometry);
  const [tiles, preview, { findings }, indexSizes, plans] = await Promise.all([
    buildDetail(geometry, threads, progress('tiling', 0.6, 0.77)).then((detail) =>
      writeTileset(detail, geometry, pictures, options.outFolder, threads, progress('tiling', 0.77, 0.97)),
    ),
    // By this thread, as long as the other is busy with the above.
    threads.anywhere('picture', { geometry, surfaces: pictures.surfaces, ...PREVIEW }),
    examining,
    writeIndex(index, geometry, options.outFolder),
    threads.anywhere('plans', { model: { elements: model.elements, storeys: model.storeys }, geometry }),
  ]);
  threads.end();
  if (!tiles)
    throw new ModelFileError(
      'nothing-inside',
      `All surfaces of “${options.fileName}” are smaller than a millimetre. Check the unit of length.`,
    );
  await writeFile(join(options.outFolder, 'preview.png'), preview);
  await writeBoth(join(options.outFolder, 'plans.json'), Buffer.from(JSON.stringify(plans)));
  clock.lap('tiling');

  progress('indexing', 0.97, 1)(0);
  const report: PublishReport = {
    source: { ...model.source, bytes: bytes },
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
      steps: {
        tidied: geometry.pieces.reduce((sum, piece) => sum + plainBytes(piece), 0),
        once: tiles.weight.once,
        rounded: tiles.weight.rounded,
      },
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
}

function refuseEmpty({ extent }: PlacedGeometry, { model, withheld }: Prepared, { fileName }: PublishOptions): void {
  if (!isEmptyBox(extent)) return;
  throw new ModelFileError(
    'nothing-inside',
    withheld > 0
      ? `Nothing of “${fileName}” is left to show: all that has a surface is withheld.`
      : `“${fileName}” holds ${model.elements.guid.length} elements but none of them shows a surface.`,
  );
}

/** What an examination looks at beside the placed triangles. */
function withoutFacts(model: BuildingModel): BuildingModel {
  return { ...model, geometries: [], placements: [], textures: [], properties: [], warnings: [], leftOut: [] };
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
    ...typeColumn(model),
    material: encodeColumn(elements.material),
    system: encodeColumn(elements.system),
    room: encodeColumn(elements.room),
    discipline: encodeColumn(elements.discipline),
    storey: elements.storey,
    parent: elements.parent,
    storeys: model.storeys,
    extent: geometry.extent,
    boxes: boxColumns(quantised),
  };
}

/** Kinds within categories, where the file tells any. */
function typeColumn({ properties }: BuildingModel): Pick<ElementIndex, 'type'> {
  const types = properties.map((sets) => String(sets.Identity?.Type ?? ''));
  return types.some(Boolean) ? { type: encodeColumn(types) } : {};
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

function countByCategory(model: BuildingModel): Record<string, number> {
  const counts: Record<string, number> = {};
  for (const category of model.elements.category) counts[category] = (counts[category] ?? 0) + 1;
  return counts;
}
