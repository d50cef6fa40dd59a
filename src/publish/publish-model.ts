import { mkdir, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, constants } from 'node:zlib';
import { quantiseBoxes } from '@/core/elements/element-boxes';
import { encodeColumn, type ElementIndex } from '@/core/elements/element-index';
import { boxCentre, boxDiagonal, boxSize, emptyBox, expandByBox, isEmptyBox, type Box3 } from '@/core/math/box3';
import type { PublishSettings } from '@/core/project/publish-settings';
import type { PublishReport, ReadWarning } from '@/core/project/publish-report';
import type { BuildingModel, PropertySets } from '@/formats/building-model';
import { ModelFileError } from '@/formats/model-file-error';
import { readModel } from '@/formats/read-model';
import { placeGeometry, type PlacedGeometry } from './element-geometry';
import { encodeTile } from './encode-tile';
import { examine } from './examination/examine';
import { mend } from './examination/mend';
import { overview, renderPreview } from './preview';
import { reveal } from './reveal';
import { splitIntoTiles, type TileLimits } from './split-tiles';

export type PublishStage = 'reading' | 'examining' | 'tiling' | 'indexing' | 'picturing';

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

/**
 * Tiles of this many triangles weigh between 50 and 500 kB for ordinary buildings. Up to this size, 16-bit positions
 * round by less than a millimetre.
 */
const TILE: TileLimits = { triangles: 40_000, size: 127 };

const brotli = promisify(brotliCompress);

/**
 * Reads a model file and writes the published revision: `tileset.json` (3D Tiles 1.1), `tiles/*.glb`, `elements.json`,
 * `report.json`, `preview.png`; text and tiles also precompressed as `.br`.
 *
 * @throws ModelFileError with a sentence for the user if the file cannot be published
 */
export async function publishModel(path: string, options: PublishOptions): Promise<PublishedRevision> {
  const progress = (stage: PublishStage, from: number, to: number) => (share: number) =>
    options.onProgress?.(stage, from + (to - from) * share);
  const clock = new StageClock();

  const { frame, reveal: rule, mend: agreed = [] } = options.settings ?? {};
  const whole = await readModel(path, options.fileName, { onProgress: progress('reading', 0, 0.55), frame });
  if (options.discipline) whole.elements.discipline.fill(options.discipline);
  const revealed = rule ? reveal(whole, rule) : { model: whole, withheld: 0, newCategories: [] };
  const { withheld, newCategories } = revealed;
  clock.lap('reading');

  progress('examining', 0.55, 0.6)(0);
  const placed = placeGeometry(revealed.model);
  const examination = examine(revealed.model, placed);
  const { model, geometry, mended } = mend(revealed.model, placed, examination, agreed);
  clock.lap('examining');
  if (isEmptyBox(geometry.extent)) {
    throw new ModelFileError(
      'nothing-inside',
      withheld > 0
        ? `Nothing of “${options.fileName}” is left to show: all that has a surface is withheld.`
        : `“${options.fileName}” holds ${model.elements.guid.length} elements but none of them shows a surface.`,
    );
  }
  await mkdir(join(options.outFolder, 'tiles'), { recursive: true });
  const tiles = await writeTiles(model, geometry, options.outFolder, progress('tiling', 0.6, 0.9));
  clock.lap('tiling');

  progress('indexing', 0.9, 0.95)(0);
  const index = buildIndex(model, geometry);
  const indexSizes = await writeBoth(join(options.outFolder, 'elements.json'), Buffer.from(JSON.stringify(index)));
  clock.lap('indexing');

  progress('picturing', 0.95, 1)(0);
  await writeFile(
    join(options.outFolder, 'preview.png'),
    await renderPreview(geometry.pieces, model.materials, overview(geometry.extent), 640, 400),
  );
  clock.lap('picturing');

  const report: PublishReport = {
    source: { ...model.source, bytes: (await stat(path)).size },
    frame: model.frame,
    counts: {
      elements: index.count,
      productsWithShape: model.productsWithShape,
      elementsWithGeometry: tiles.shown.size,
      triangles: tiles.triangles,
      tiles: tiles.count,
      storeys: model.storeys.length,
      byCategory: countByCategory(model),
    },
    withheld: { elements: withheld, newCategories },
    findings: examination.findings,
    mended,
    unread: [...model.warnings, ...vanished(model, geometry, tiles.shown)],
    leftOut: model.leftOut,
    weight: { tiles: tiles.bytes, tilesBrotli: tiles.brotli, index: indexSizes.bytes, indexBrotli: indexSizes.brotli },
    extent: geometry.extent,
    offset: geometry.offset,
    georeference: model.georeference,
    cameras: model.cameras,
    quantisationError: tiles.quantisationError,
    time: clock.laps,
  };
  await writeFile(join(options.outFolder, 'report.json'), JSON.stringify(report, null, 2));
  options.onProgress?.('picturing', 1);
  return { report, index, properties: model.properties };
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

async function writeTiles(
  model: BuildingModel,
  geometry: PlacedGeometry,
  outFolder: string,
  onProgress: (share: number) => void,
) {
  const groups = splitIntoTiles(geometry.pieces, TILE);
  const shown = new Set<number>();
  const sum = { triangles: 0, bytes: 0, brotli: 0, quantisationError: 0, count: 0 };
  const children: object[] = [];
  for (const [i, group] of groups.entries()) {
    const box = emptyBox();
    for (const piece of group) expandByBox(box, piece.box);
    const tile = await encodeTile(group, box, model.materials);
    onProgress((i + 1) / groups.length);
    if (!tile) continue;
    const name = `tiles/${sum.count}.glb`;
    const sizes = await writeBoth(join(outFolder, name), tile.glb);
    sum.count++;
    for (const element of tile.elements) shown.add(element);
    sum.triangles += tile.triangles;
    sum.bytes += sizes.bytes;
    sum.brotli += sizes.brotli;
    sum.quantisationError = Math.max(sum.quantisationError, tile.quantisationError);
    children.push({ boundingVolume: { box: boundingBox(box) }, geometricError: 0, content: { uri: name } });
  }
  const tileset = {
    asset: { version: '1.1', extras: { offset: geometry.offset } },
    geometricError: boxDiagonal(geometry.extent),
    root: {
      boundingVolume: { box: boundingBox(geometry.extent) },
      geometricError: boxDiagonal(geometry.extent),
      refine: 'ADD',
      children,
    },
  };
  await writeBoth(join(outFolder, 'tileset.json'), Buffer.from(JSON.stringify(tileset)));
  return { ...sum, shown };
}

/** 3D Tiles' oriented box: centre, then half axes. */
function boundingBox(box: Box3): number[] {
  const [x, y, z] = boxSize(box).map((size) => Math.max(size / 2, 0.005));
  return [...boxCentre(box), x!, 0, 0, 0, y!, 0, 0, 0, z!];
}

/** Writes a file and, where it is smaller, its Brotli twin for sending. */
async function writeBoth(path: string, content: Uint8Array): Promise<{ bytes: number; brotli: number }> {
  const packed = await brotli(content, {
    params: { [constants.BROTLI_PARAM_QUALITY]: 9, [constants.BROTLI_PARAM_SIZE_HINT]: content.length },
  });
  await writeFile(path, content);
  if (packed.length < content.length) await writeFile(`${path}.br`, packed);
  return { bytes: content.length, brotli: Math.min(packed.length, content.length) };
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

function countByCategory(model: BuildingModel): Record<string, number> {
  const counts: Record<string, number> = {};
  for (const category of model.elements.category) counts[category] = (counts[category] ?? 0) + 1;
  return counts;
}
