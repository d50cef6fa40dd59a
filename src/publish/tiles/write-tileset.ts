import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, constants } from 'node:zlib';
import type { DetailTile } from '@/core/detail/detail-tile';
import { boxCentre, boxDiagonal, boxSize, emptyBox, expandByBox, type Box3 } from '@/core/math/box3';
import { inLanes } from '@/core/lanes';
import type { Threads } from '../threads/threads';
import type { Detail } from '../detail/build-detail';
import { countTriangles, firstLook, type DetailNode } from '../detail/levels';
import type { PlacedGeometry } from '../geometry/element-geometry';
import type { EncodedTile } from './encode-tile';
import type { Surface, WrittenPictures } from '../pictures/pictures';
import { plainBytes } from './plain-bytes';
import { findRepeats, type SharingPiece, type TileContent } from '../geometry/repeats';

/** The first tile takes at most this share of the whole, and never more than so many bytes; what describes it comes on top. */
const FIRST_SHARE = 0.08;
const FIRST_BYTES = 140_000;
/** Triangles; with fewer, a first tile weighs about as much as what stands around them. */
const FEWEST = 64;
/** What is lighter than this, with its pictures, is sent whole at once. */
const WORTH_LEVELS = 12_000;
/** A level with more than this share of the triangles of the next one is not sent. */
const WORTH_SENDING = 0.7;
/** From this error on, pictures are shown small: a metre of a picture then takes a few pixels. */
const SMALL_PICTURES = 0.02;
/** Pictures that a coarse level shows at most; those of the largest surfaces. Each costs a draw call and a request. */
const FAR_PICTURES = 8;
/** Tiles under way at once: some are computed while others are packed. */
const AT_ONCE = 6;

export interface WrittenTileset {
  root: DetailTile;
  /** Rows of elements that show at least one triangle in full detail. */
  shown: Set<number>;
  triangles: number;
  tiles: number;
  /** Levels of detail along the longest branch. */
  levels: number;
  quantisationError: number;
  weight: {
    /** Full detail: every shape written once, as plain as in the file; then with shared, rounded vertices. */
    once: number;
    rounded: number;
    /** Tiles of full detail, as stored and as sent. */
    full: number;
    fullBrotli: number;
    /** All coarser tiles, as sent. */
    coarserBrotli: number;
    /** Tileset and first tile with its pictures, as sent. */
    firstLook: number;
  };
}

interface Written {
  uri: string;
  tile: EncodedTile;
  brotli: number;
  memory: number;
  /** Bytes of its triangles as they came, but each repeated shape once. */
  once: number;
  /** Bytes of the pictures that it shows, by address. */
  pictures: DetailTile['pictures'];
}

/**
 * Writes a model's surfaces as OGC 3D Tiles 1.1: `tileset.json` and `tiles/*.glb` in levels of detail that replace each
 * other, the first of them small enough to be there at once.
 *
 * @returns null if no triangle survives rounding
 */
export async function writeTileset(
  { top, wholes, coarsener }: Detail,
  { extent, offset }: Pick<PlacedGeometry, 'extent' | 'offset'>,
  pictures: WrittenPictures,
  outFolder: string,
  threads: Threads,
  onProgress: (share: number) => void,
): Promise<WrittenTileset | null> {
  await mkdir(join(outFolder, 'tiles'), { recursive: true });
  const isLight = wholes.reduce((sum, triangles) => sum + triangles, 0) < LIGHT.triangles;
  const writer = new TileWriter(pictures, outFolder, threads, isLight ? BROTLI_QUALITY.light : BROTLI_QUALITY.heavy);
  const sum = { triangles: 0, once: 0, rounded: 0, full: 0, fullBrotli: 0, quantisationError: 0 };
  const fullPictures = new Map<string, number>();
  const shown = new Set<number>();
  const leaves = leavesOf(top);
  const coarser = top.children.flatMap(worthSending);
  const triangles = leaves.reduce((sum, leaf) => sum + countTriangles(leaf.parts), 0);
  const look = (most: number) => firstLook(top, wholes, pictures.surfaces, most, coarsener);
  const most = Math.max(FEWEST, Math.floor(triangles * FIRST_SHARE));
  const written = new Map<DetailNode, Written>();
  let done = 0;
  const writeLeaves = inLanes(leaves, AT_ONCE, async (leaf) => {
    const tile = await writer.write(leaf.parts, 0);
    letGo(leaf, top);
    onProgress((0.7 * ++done) / leaves.length);
    if (!tile) return;
    written.set(leaf, tile);
    for (const element of tile.tile.elements) shown.add(element);
    sum.triangles += tile.tile.triangles;
    for (const [address, bytes] of tile.pictures) fullPictures.set(address, bytes);
    sum.once += tile.once;
    sum.rounded += tile.tile.bytesUnpacked;
    sum.full += tile.tile.glb.length;
    sum.fullBrotli += tile.brotli;
    sum.quantisationError = Math.max(sum.quantisationError, tile.tile.quantisationError);
  });
  // The first look is made meanwhile: while the last tiles are packed, nothing else is to be computed.
  const [ahead] = await Promise.all([look(most), writeLeaves]);
  if (written.size === 0) return null;
  await inLanes(coarser, AT_ONCE, async (node) => {
    const tile = await writer.write(node.parts, node.error);
    letGo(node, top);
    if (tile) written.set(node, tile);
  });

  const full = sum.fullBrotli + bytesOf(fullPictures);
  const isWorthLevels = full >= WORTH_LEVELS || top.children.length > 0;
  const first = isWorthLevels ? await writeFirst(ahead, most, look, full, writer) : null;
  let root = describe(top, written);
  if (first) {
    const { uri } = first.written;
    const children = top.children.length > 0 ? root.children : [root];
    const { pictures } = first.written;
    root = { box: top.box, error: first.error, cost: costOf(first.written), pictures, uri, children };
  }
  // Without a first tile of its own, the top is a leaf.
  const firstWritten = first?.written ?? written.get(top);
  const tileset = JSON.stringify({
    asset: { version: '1.1', extras: { offset } },
    geometricError: Math.max(boxDiagonal(extent), root.error),
    root: { ...tileJson(root), refine: 'REPLACE' },
  });
  const tilesetSize = await writeBoth(join(outFolder, 'tileset.json'), Buffer.from(tileset));
  onProgress(1);
  return {
    root,
    shown,
    triangles: sum.triangles,
    tiles: writer.count,
    levels: depthOf(root),
    quantisationError: sum.quantisationError,
    weight: {
      once: sum.once,
      rounded: sum.rounded,
      full: sum.full,
      fullBrotli: sum.fullBrotli,
      coarserBrotli: writer.brotli - sum.fullBrotli,
      firstLook: tilesetSize.brotli + (firstWritten ? firstWritten.brotli + bytesOf(firstWritten.pictures) : 0),
    },
  };
}

/** What is written is not held any longer, but for the top, from which the first look is made. */
function letGo(node: DetailNode, top: DetailNode): void {
  if (node !== top) node.parts = [];
}

type Look = Awaited<ReturnType<typeof firstLook>>;

/**
 * Makes the first tile as good as its budget allows. Half of that may go to pictures; all are small.
 *
 * @param best the look of most triangles
 * @param lookOf one of at most so many
 * @param full bytes of full detail with its pictures, as sent
 * @returns null if no triangle of it survives rounding
 */
async function writeFirst(
  best: Look,
  most: number,
  lookOf: (triangles: number) => Promise<Look>,
  full: number,
  writer: TileWriter,
): Promise<{ error: number; written: Written } | null> {
  const budget = Math.min(FIRST_BYTES, Math.max(full * FIRST_SHARE, 1500));
  let [look, triangles] = [best, most];
  for (;;) {
    const encoded = await writer.encode(look.parts, budget / 2);
    if (!encoded) return null;
    const room = budget - bytesOf(encoded.pictures);
    if (encoded.brotli <= room || triangles <= FEWEST) {
      const blur = encoded.pictures.size > 0 ? SMALL_PICTURES : 1e-3;
      return { error: Math.max(look.error, blur), written: await writer.keep(encoded) };
    }
    triangles = Math.max(FEWEST, Math.floor(triangles * Math.min(0.8, (room / encoded.brotli) * 0.95)));
    look = await lookOf(triangles);
  }
}

interface Packed extends Omit<Written, 'uri'> {
  packed: Buffer;
}

/** Encodes tiles and writes them, as they are and packed. */
class TileWriter {
  count = 0;
  brotli = 0;

  constructor(
    readonly pictures: WrittenPictures,
    private readonly outFolder: string,
    private readonly threads: Threads,
    /** Of Brotli, up to 11. */
    private readonly quality: number,
  ) {}

  /** @param small bytes of small pictures at most, as a coarse tile shows them; null for all pictures in full */
  async encode(parts: SharingPiece[], small: number | null): Promise<Packed | null> {
    if (parts.length === 0) return null;
    const box = emptyBox();
    for (const part of parts) expandByBox(box, part.box);
    const size = small === null ? 'full' : 'small';
    const surfaces = small === null ? this.pictures.surfaces : fewPictures(this.pictures, parts, small);
    const addresses = new Map([...this.pictures.files].map(([texture, files]) => [texture, files[size].address]));
    const content = findRepeats(parts);
    const tile = await this.threads.anywhere('encode', { content, box, surfaces, pictures: addresses });
    if (!tile) return null;
    const packed = await pack(tile.glb, this.quality);
    const shown = [...tile.textures].map((texture) => this.pictures.files.get(texture)![size]);
    return {
      tile,
      packed,
      once: plainOnce(content),
      brotli: Math.min(packed.length, tile.glb.length),
      memory: shown.reduce((sum, { memory }) => sum + memory, tile.bytesDrawn),
      pictures: new Map(shown.map(({ address, bytes }) => [address, bytes])),
    };
  }

  async write(parts: SharingPiece[], error: number): Promise<Written | null> {
    const encoded = await this.encode(parts, error > SMALL_PICTURES ? Infinity : null);
    return encoded && this.keep(encoded);
  }

  async keep({ packed, ...tile }: Packed): Promise<Written> {
    const uri = `tiles/${this.count++}.glb`;
    this.brotli += tile.brotli;
    const path = join(this.outFolder, uri);
    const { glb } = tile.tile;
    await writeFile(path, glb);
    if (packed.length < glb.length) await writeFile(`${path}.br`, packed);
    return { uri, ...tile };
  }
}

/** What a tile would take as its triangles came, with each shape that stands there often written once. */
function plainOnce({ single, repeats }: TileContent): number {
  const shapes = new Map(repeats.map(({ piece }) => [piece.positions, piece]));
  return [...single, ...shapes.values()].reduce((sum, piece) => sum + plainBytes(piece), 0);
}

function bytesOf(pictures: DetailTile['pictures']): number {
  return [...pictures.values()].reduce((sum, bytes) => sum + bytes, 0);
}

/** Surfaces of which only those that cover most keep their pictures. */
function fewPictures({ surfaces, files }: WrittenPictures, parts: SharingPiece[], mostBytes: number): Surface[] {
  const covered = new Map<number, number>();
  for (const part of parts) {
    const { texture } = surfaces[part.material]!;
    if (texture === undefined || !part.uvs) continue;
    const [x, y, z] = boxSize(part.box).sort((a, b) => b - a) as [number, number, number];
    covered.set(texture, (covered.get(texture) ?? 0) + x * y + z * x);
  }
  const kept = new Set<number>();
  let room = mostBytes;
  for (const [texture] of [...covered].sort((a, b) => b[1] - a[1]).slice(0, FAR_PICTURES)) {
    const { bytes } = files.get(texture)!.small;
    if (bytes > room) continue;
    room -= bytes;
    kept.add(texture);
  }
  return surfaces.map((surface) =>
    surface.texture === undefined || kept.has(surface.texture) ? surface : { ...surface, texture: undefined },
  );
}

/** A node and the levels below it, without the leaves, that have lost enough to be worth their bytes. */
function worthSending(node: DetailNode): DetailNode[] {
  const below = node.children.reduce((sum, child) => sum + countTriangles(child.parts), 0);
  const own = node.children.length > 0 && countTriangles(node.parts) <= below * WORTH_SENDING ? [node] : [];
  return [...own, ...node.children.flatMap(worthSending)];
}

function leavesOf(node: DetailNode): DetailNode[] {
  return node.children.length === 0 ? [node] : node.children.flatMap(leavesOf);
}

function costOf({ tile, brotli, memory }: Written): DetailTile['cost'] {
  return {
    triangles: tile.triangles,
    drawCalls: tile.primitives * 2, // a surface and its ink lines
    bytes: brotli,
    memory,
  };
}

/** The tile of a node with those below it; nodes that were not written give way to their children. */
function describe(node: DetailNode, written: Map<DetailNode, Written>): DetailTile & { uri?: string } {
  const own = written.get(node);
  return {
    box: node.box,
    error: node.error,
    cost: own ? costOf(own) : null,
    pictures: own?.pictures ?? new Map<string, number>(),
    ...(own && { uri: own.uri }),
    children: node.children
      .map((child) => describe(child, written))
      .filter((tile) => tile.cost || tile.children.length > 0),
  };
}

function depthOf(tile: DetailTile): number {
  return (tile.cost ? 1 : 0) + Math.max(0, ...tile.children.map(depthOf));
}

interface TileJson {
  boundingVolume: { box: number[] };
  geometricError: number;
  content?: { uri: string };
  extras?: DetailTile['cost'];
  children?: TileJson[];
}

function tileJson({ box, error, cost, uri, children }: DetailTile & { uri?: string }): TileJson {
  return {
    boundingVolume: { box: boundingBox(box) },
    geometricError: Math.round(error * 1e4) / 1e4,
    ...(uri && { content: { uri } }),
    ...(cost && { extras: { ...cost, memory: Math.round(cost.memory) } }),
    ...(children.length > 0 && { children: children.map(tileJson) }),
  };
}

/** 3D Tiles' oriented box: centre, then half axes. */
function boundingBox(box: Box3): number[] {
  const [x, y, z] = boxSize(box).map((size) => Math.max(size / 2, 0.005));
  return [...boxCentre(box), x!, 0, 0, 0, y!, 0, 0, 0, z!];
}

const brotli = promisify(brotliCompress);

/** Of light models the last per cents is worth its time; of heavy ones it would take longer than all the rest. */
const BROTLI_QUALITY = { light: 11, heavy: 6 };
/** Triangles of a light model, bytes of a light file. */
const LIGHT = { triangles: 100_000, bytes: 200_000 };

function pack(content: Uint8Array, quality: number): Promise<Buffer> {
  return brotli(content, {
    params: { [constants.BROTLI_PARAM_QUALITY]: quality, [constants.BROTLI_PARAM_SIZE_HINT]: content.length },
  });
}

/** Writes a text file and, where it is smaller, its Brotli twin for sending. */
export async function writeBoth(path: string, content: Uint8Array): Promise<{ bytes: number; brotli: number }> {
  const packed = await pack(content, content.length < LIGHT.bytes ? BROTLI_QUALITY.light : 9);
  await writeFile(path, content);
  if (packed.length < content.length) await writeFile(`${path}.br`, packed);
  return { bytes: content.length, brotli: Math.min(packed.length, content.length) };
}
