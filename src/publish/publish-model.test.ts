import { existsSync } from 'node:fs';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliDecompressSync } from 'node:zlib';
import { Document, NodeIO, type Node, type Primitive } from '@gltf-transform/core';
import { ALL_EXTENSIONS, type InstancedMesh } from '@gltf-transform/extensions';
import { validateBytes } from 'gltf-validator';
import { MeshoptDecoder } from 'meshoptimizer';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boxesOfColumns, decodeBox } from '@/core/elements/element-boxes';
import type { ElementIndex } from '@/core/elements/element-index';
import { compose, multiply, transformPoint, Y_UP_TO_Z_UP, type Mat4 } from '@/core/math/mat4';
import { architectureIfc } from '@/demo/library/architecture';
import { readModel } from '@/formats/read-model';
import { publishModel, type PublishedRevision } from './publish-model';

interface TileJson {
  geometricError: number;
  content?: { uri: string };
  children?: TileJson[];
}

interface Tileset {
  asset: { version: string };
  root: TileJson;
}

function tilesOf(tile: TileJson): TileJson[] {
  return [tile, ...(tile.children ?? []).flatMap(tilesOf)];
}

describe('a published revision', () => {
  let folder: string;
  let out: string;
  let revision: PublishedRevision;
  const shares: number[] = [];
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'publish-'));
    out = join(folder, 'revision');
    await writeFile(join(folder, 'library.ifc'), architectureIfc(1));
    revision = await publishModel(join(folder, 'library.ifc'), {
      fileName: 'library.ifc',
      outFolder: out,
      discipline: 'Architecture',
      onProgress: (_, share) => shares.push(share),
    });
  });
  afterAll(() => rm(folder, { recursive: true }));

  it('consists of open formats; every GLB passes the Khronos validator', async () => {
    const tileset = JSON.parse(await readFile(join(out, 'tileset.json'), 'utf8')) as Tileset;
    expect(tileset.asset.version).toBe('1.1');
    const named = tilesOf(tileset.root).flatMap(({ content }) => content?.uri ?? []);
    const there = (await readdir(join(out, 'tiles'))).filter((name) => name.endsWith('.glb'));
    expect(named.sort()).toEqual(there.map((name) => `tiles/${name}`).sort());
    for (const uri of named) {
      const { issues } = await validateBytes(new Uint8Array(await readFile(join(out, uri))));
      expect(issues.numErrors).toBe(0);
      expect(issues.numWarnings).toBe(0);
    }
  });

  it('begins with a first look of at most a tenth, and is never off by more below than above', async () => {
    const { root } = JSON.parse(await readFile(join(out, 'tileset.json'), 'utf8')) as Tileset;
    const { weight, forecast } = revision.report;
    const sizeOf = async (path: string) => (await readFile(join(out, `${path}.br`))).length;
    const first = (await sizeOf(root.content!.uri)) + (await sizeOf('tileset.json'));
    expect(first).toBe(forecast!.firstLook);
    expect(first).toBeLessThan(0.1 * weight.tilesBrotli);
    for (const tile of tilesOf(root)) {
      for (const child of tile.children ?? []) expect(child.geometricError).toBeLessThanOrEqual(tile.geometricError);
      if (!tile.children) expect(tile.geometricError).toBe(0);
    }
  });

  it('says what is left after each step, as its files tell', async () => {
    const { plain, steps, tiles } = revision.report.weight;
    await MeshoptDecoder.ready;
    const { root } = JSON.parse(await readFile(join(out, 'tileset.json'), 'utf8')) as Tileset;
    const sum = { unpacked: 0, stored: 0 };
    for (const { content } of tilesOf(root).filter(({ children }) => !children)) {
      const glb = await readFile(join(out, content!.uri));
      sum.stored += glb.length;
      const document = await reader().readBinary(glb);
      for (const accessor of document.getRoot().listAccessors()) sum.unpacked += accessor.getByteLength();
    }
    expect([steps!.rounded, tiles]).toEqual([sum.unpacked, sum.stored]);
    expect(plain).toBeGreaterThan(steps!.tidied);
    expect(steps!.once).toBeLessThan(steps!.tidied);
    expect(steps!.rounded).toBeLessThan(steps!.once);
  });

  it('shows every element of the index where its box says, in its own colour', async () => {
    await MeshoptDecoder.ready;
    const io = reader();
    const index = JSON.parse(await readFile(join(out, 'elements.json'), 'utf8')) as ElementIndex;
    const quantised = boxesOfColumns(index.boxes);
    const seen = new Set<number>();
    const slack = 0.003; // a tile's step and the box's step
    const { root } = JSON.parse(await readFile(join(out, 'tileset.json'), 'utf8')) as Tileset;
    for (const tile of tilesOf(root).filter(({ children }) => !children)) {
      const document = await io.read(join(out, tile.content!.uri));
      for (const node of document.getRoot().listNodes()) {
        const world = multiply(Y_UP_TO_Z_UP, node.getWorldMatrix());
        for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
          const positions = primitive.getAttribute('POSITION')!;
          for (const { matrix, rowOf } of placesOf(node, primitive, world))
            for (let i = 0; i < positions.getCount(); i++) {
              const row = rowOf(i);
              const point = transformPoint(matrix, ...(positions.getElement(i, [0, 0, 0]) as [number, number, number]));
              const box = decodeBox(quantised, row, index.extent);
              const outside = point.some((value, axis) => value < box[axis]! - slack || value > box[axis + 3]! + slack);
              if (outside) expect.fail(`element ${index.name[row]} has a vertex outside its box`);
              seen.add(row);
            }
        }
      }
    }
    expect(seen.size).toBe(revision.report.counts.elementsWithGeometry);
    expect(revision.report.counts.productsWithShape).toBe(seen.size);
    expect(revision.report.quantisationError).toBeLessThan(0.001);
  });

  it('can be read again as glTF, element by element', async () => {
    const { root } = JSON.parse(await readFile(join(out, 'tileset.json'), 'utf8')) as Tileset;
    const rows = new Set<number>();
    for (const { content } of tilesOf(root).filter(({ children }) => !children)) {
      const { elements, placements } = await readModel(join(out, content!.uri), 'tile.glb');
      for (const { element } of placements) rows.add(Number(/\d+$/.exec(elements.name[element]!)![0]));
    }
    const { guid } = revision.index;
    expect(rows.size).toBe(revision.report.counts.elementsWithGeometry);
    expect(Math.max(...rows)).toBeLessThan(guid.length);
  });

  it('tells of itself: counts, weights, progress that only grows, a preview picture', async () => {
    const { report, index, properties } = revision;
    expect(report.counts.elements).toBe(index.count);
    expect(properties.length).toBe(index.count);
    expect(Object.values(report.counts.byCategory).reduce((sum, n) => sum + n, 0)).toBe(index.count);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.at(-1)).toBe(1);
    // Classes that say their discipline keep it; the rest is of the file's own.
    expect([...index.discipline.values].sort()).toEqual(['Architecture', 'Building services', 'Interior', 'Landscape']);
    const packed = await readFile(join(out, 'elements.json.br'));
    expect(brotliDecompressSync(packed)).toEqual(await readFile(join(out, 'elements.json')));
    expect(packed.length).toBe(report.weight.indexBrotli);
    const { width, height, channels } = await sharp(join(out, 'preview.png')).metadata();
    expect([width, height, channels]).toEqual([640, 400, 3]);
    const { channels: colours } = await sharp(join(out, 'preview.png')).stats();
    expect(Math.max(...colours.map((colour) => colour.stdev))).toBeGreaterThan(15); // not an empty sheet
    expect(existsSync(join(out, 'report.json'))).toBe(true);
  });
});

describe('a published thing with a heavy picture', () => {
  it('shows at once with a small one', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'publish-'));
    try {
      await writeFile(join(folder, 'table.glb'), await pictured());
      const out = join(folder, 'revision');
      const { report } = await publishModel(join(folder, 'table.glb'), { fileName: 'table.glb', outFolder: out });
      const { root } = JSON.parse(await readFile(join(out, 'tileset.json'), 'utf8')) as Tileset;
      const first = await readFile(join(out, root.content!.uri));
      const json = first.subarray(20, 20 + first.readUInt32LE(12)).toString(); // a GLB begins with it
      const [picture] = (JSON.parse(json) as { images: { uri: string }[] }).images;
      const small = await readFile(join(out, 'tiles', picture!.uri));
      const { firstLook, devices } = report.forecast!;
      const whole = report.weight.tilesBrotli + report.weight.pictures;
      expect(firstLook).toBeGreaterThan(small.length);
      expect(firstLook).toBeLessThan(whole / 10);
      expect(devices.every(({ bytes }) => bytes > whole / 2)).toBe(true); // near it, the picture is seen in full
    } finally {
      await rm(folder, { recursive: true });
    }
  });
});

/** A square with a picture of noise, which no packing makes light. */
async function pictured(): Promise<Uint8Array> {
  let state = 1;
  const noise = Uint8Array.from({ length: 512 * 512 * 3 }, () => (state = (state * 48271) % 2147483647) & 255);
  const png = await sharp(noise, { raw: { width: 512, height: 512, channels: 3 } })
    .png()
    .toBuffer();
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (type: 'VEC2' | 'VEC3' | 'SCALAR', array: Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const texture = document.createTexture('noise').setImage(new Uint8Array(png)).setMimeType('image/png');
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', Float32Array.of(0, 0, 0, 1, 0, 0, 1, 0, 1, 0, 0, 1)))
    .setAttribute('TEXCOORD_0', accessor('VEC2', Float32Array.of(0, 0, 1, 0, 1, 1, 0, 1)))
    .setIndices(accessor('SCALAR', Uint16Array.of(0, 1, 2, 0, 2, 3)))
    .setMaterial(document.createMaterial().setBaseColorTexture(texture));
  const node = document.createNode('table top').setMesh(document.createMesh().addPrimitive(primitive));
  document.createScene().addChild(node);
  return new NodeIO().writeBinary(document);
}

function reader(): NodeIO {
  return new NodeIO().registerExtensions(ALL_EXTENSIONS).registerDependencies({ 'meshopt.decoder': MeshoptDecoder });
}

/** Where a primitive stands: once, with a row a vertex, or in many places, with a row each. */
function placesOf(
  node: Node,
  primitive: Primitive,
  world: Mat4,
): { matrix: Mat4; rowOf: (vertex: number) => number }[] {
  const places = node.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing');
  if (!places) {
    const rows = primitive.getAttribute('_FEATURE_ID_0')!;
    return [{ matrix: world, rowOf: (vertex) => rows.getScalar(vertex) }];
  }
  const rows = places.getAttribute('_FEATURE_ID_0')!;
  const at = (name: string, i: number) => places.getAttribute(name)!.getElement(i, []);
  return Array.from({ length: rows.getCount() }, (_, i) => ({
    matrix: multiply(world, compose(at('TRANSLATION', i), at('ROTATION', i), at('SCALE', i))),
    rowOf: () => rows.getScalar(i),
  }));
}
