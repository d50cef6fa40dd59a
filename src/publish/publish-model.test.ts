import { existsSync } from 'node:fs';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliDecompressSync } from 'node:zlib';
import { NodeIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { validateBytes } from 'gltf-validator';
import { MeshoptDecoder } from 'meshoptimizer';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { decodeBox } from '@/core/elements/element-boxes';
import type { ElementIndex } from '@/core/elements/element-index';
import { multiply, transformPoint, Y_UP_TO_Z_UP } from '@/core/math/mat4';
import { architectureIfc } from '@/demo/library/architecture';
import type { BuildingModel } from '@/formats/building-model';
import { emptyElementTable } from '@/formats/building-model';
import { placeGeometry, splitSpatially } from './element-geometry';
import { publishModel, type PublishedRevision } from './publish-model';
import { weldPieces } from './weld';

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
    const tileset = JSON.parse(await readFile(join(out, 'tileset.json'), 'utf8')) as {
      asset: { version: string };
      root: { children: { content: { uri: string } }[] };
    };
    expect(tileset.asset.version).toBe('1.1');
    expect(tileset.root.children.length).toBe(
      (await readdir(join(out, 'tiles'))).filter((name) => name.endsWith('.glb')).length,
    );
    for (const { content } of tileset.root.children) {
      const { issues } = await validateBytes(new Uint8Array(await readFile(join(out, content.uri))));
      expect(issues.numErrors).toBe(0);
      expect(issues.numWarnings).toBe(0);
    }
  });

  it('shows every element of the index where its box says, in its own colour', async () => {
    await MeshoptDecoder.ready;
    const io = new NodeIO()
      .registerExtensions(ALL_EXTENSIONS)
      .registerDependencies({ 'meshopt.decoder': MeshoptDecoder });
    const index = JSON.parse(await readFile(join(out, 'elements.json'), 'utf8')) as ElementIndex;
    const quantised = new Uint16Array(Uint8Array.from(Buffer.from(index.boxes, 'base64')).buffer);
    const seen = new Set<number>();
    const slack = 0.003; // a tile's step and the box's step
    for (const name of (await readdir(join(out, 'tiles'))).filter((file) => file.endsWith('.glb'))) {
      const document = await io.read(join(out, 'tiles', name));
      for (const node of document.getRoot().listNodes()) {
        const matrix = multiply(Y_UP_TO_Z_UP, node.getWorldMatrix());
        for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
          const positions = primitive.getAttribute('POSITION')!;
          const features = primitive.getAttribute('_FEATURE_ID_0')!;
          expect(primitive.getAttribute('NORMAL')).toBeNull();
          for (let i = 0; i < positions.getCount(); i++) {
            const row = features.getScalar(i);
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

  it('tells of itself: counts, weights, progress that only grows, a preview picture', async () => {
    const { report, index, properties } = revision;
    expect(report.counts.elements).toBe(index.count);
    expect(properties.length).toBe(index.count);
    expect(Object.values(report.counts.byCategory).reduce((sum, n) => sum + n, 0)).toBe(index.count);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.at(-1)).toBe(1);
    expect(index.discipline.values).toEqual(['Architecture']);
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

function model(positions: number[], indices: number[], matrix: number[]): BuildingModel {
  const elements = emptyElementTable();
  elements.guid.push('g');
  return {
    source: { format: 'glTF', schema: '2.0', fileName: 'x', program: '' },
    elements,
    geometries: [{ positions: Float32Array.from(positions), indices: Uint32Array.from(indices) }],
    materials: [{ name: '', color: [1, 0.5, 0, 1] }],
    placements: [{ element: 0, geometry: 0, material: 0, matrix: Float64Array.from(matrix) }],
    properties: [{}],
    storeys: [],
    georeference: null,
    cameras: [],
    warnings: [],
    leftOut: [],
    productsWithShape: 1,
  };
}

const MOVED = (x: number, y: number, z: number) => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1];
const SHEET = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0];

describe('placing', () => {
  it('moves a model at survey coordinates near zero by whole metres and says by how much', () => {
    const { offset, extent } = placeGeometry(model(SHEET, [0, 1, 2, 0, 2, 3], MOVED(402180.25, 5712440.5, 87)));
    expect(offset).toEqual([402181, 5712441, 87]);
    extent.forEach((value, i) =>
      expect(value + offset[i % 3]!).toBeCloseTo([402180.25, 5712440.5, 87, 402181.25, 5712441.5, 87][i]!, 6),
    );
  });

  it('keeps the outside of a mirrored placement outside', () => {
    const mirrored = placeGeometry(model(SHEET, [0, 1, 2], [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]));
    expect([...mirrored.pieces[0]!.indices]).toEqual([0, 2, 1]);
  });

  it('splits a mesh of any size into parts below the limit, losing no triangle', () => {
    const n = 60;
    const positions: number[] = [];
    const indices: number[] = [];
    for (let y = 0; y <= n; y++) for (let x = 0; x <= n; x++) positions.push(x, y, 0);
    for (let y = 0; y < n; y++)
      for (let x = 0; x < n; x++) {
        const a = y * (n + 1) + x;
        indices.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1);
      }
    const groups = splitSpatially(placeGeometry(model(positions, indices, MOVED(0, 0, 0))).pieces, 500);
    const sizes = groups.map((group) => group.reduce((sum, piece) => sum + piece.indices.length / 3, 0));
    expect(Math.max(...sizes)).toBeLessThanOrEqual(500);
    expect(sizes.reduce((a, b) => a + b)).toBe(2 * n * n);
  });
});

describe('welding', () => {
  it('joins what agrees, keeps elements apart, drops what has no area, writes linear colour', () => {
    const { pieces } = placeGeometry(model([...SHEET, 0, 0, 0, 1, 1, 0], [0, 1, 2, 4, 5, 3, 0, 1, 1], MOVED(0, 0, 0)));
    const materials = [{ name: '', color: [1, 0.5, 0, 1] as [number, number, number, number] }];
    const grid = { origin: [0, 0, 0] as [number, number, number], step: 1 / 65535 };
    const mesh = weldPieces(pieces, materials, grid, 65535, true)!;
    expect(mesh.indices.length / 3).toBe(2);
    expect(mesh.features.length).toBe(4);
    expect([...mesh.colors.slice(0, 4)]).toEqual([65535, Math.round(0.2140411 * 65535), 0, 65535]);
    const two = weldPieces([pieces[0]!, { ...pieces[0]!, element: 1 }], materials, grid, 65535, true)!;
    expect(two.features.length).toBe(8);
    expect(weldPieces(pieces, materials, grid, 65535, false)).toBeNull();
  });
});
