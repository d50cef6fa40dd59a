import { NodeIO, type Document } from '@gltf-transform/core';
import { ALL_EXTENSIONS, type InstancedMesh } from '@gltf-transform/extensions';
import { validateBytes } from 'gltf-validator';
import { MeshoptDecoder } from 'meshoptimizer';
import { describe, expect, it } from 'vitest';
import { emptyBox, expandByBox } from '@/core/math/box3';
import { compose, invertRigid, multiply, transformPoint, Y_UP_TO_Z_UP, type Mat4, type Vec3 } from '@/core/math/mat4';
import { placeGeometry, type Piece } from '../geometry/element-geometry';
import { encodeTile } from './encode-tile';
import { splitPieces, type PartTree } from '../detail/split-pieces';
import { plainSurfaces } from '../pictures/pictures';
import { findRepeats } from '../geometry/repeats';
import { findShares } from '../geometry/shares';
import { field, meshModel, moved, SQUARE } from '../test-model';

const PAINT = plainSurfaces([
  { name: 'Solid', color: [0.2, 0.4, 0.6, 1] },
  { name: 'Glass', color: [1, 1, 1, 0.25] },
]);

async function encode(pieces: Piece[]) {
  const box = emptyBox();
  for (const piece of pieces) expandByBox(box, piece.box);
  return encodeTile(findRepeats(pieces), box, PAINT);
}

async function decode(glb: Uint8Array): Promise<Document> {
  await MeshoptDecoder.ready;
  return new NodeIO()
    .registerExtensions(ALL_EXTENSIONS)
    .registerDependencies({ 'meshopt.decoder': MeshoptDecoder })
    .readBinary(glb);
}

/** The distinct corners of a tile in the revision's frame. */
function corners(document: Document): number[][] {
  const found = new Map<string, number[]>();
  for (const node of document.getRoot().listNodes()) {
    const matrix = multiply(Y_UP_TO_Z_UP, node.getWorldMatrix());
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
      const positions = primitive.getAttribute('POSITION')!;
      for (let i = 0; i < positions.getCount(); i++) {
        const point = transformPoint(matrix, ...(positions.getElement(i, [0, 0, 0]) as [number, number, number]));
        found.set(point.join(), [...point]);
      }
    }
  }
  return [...found.values()];
}

describe('a tile', () => {
  it('is a valid GLB with one primitive for what is solid and one for what lets light through', async () => {
    const { pieces } = placeGeometry(meshModel(SQUARE.positions, SQUARE.indices, [moved(0, 0, 0), moved(2, 0, 0)]));
    pieces[1]!.material = 1;
    const tile = (await encode(pieces))!;
    const { issues } = await validateBytes(tile.glb);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    const document = await decode(tile.glb);
    const [mesh] = document.getRoot().listMeshes();
    expect(mesh!.listPrimitives().map((primitive) => primitive.getMaterial()!.getAlphaMode())).toEqual([
      'OPAQUE',
      'BLEND',
    ]);
    expect(mesh!.listPrimitives()[1]!.getAttribute('COLOR_0')!.getElement(0, [])[3]).toBeCloseTo(0.25, 2);
    expect([tile.triangles, [...tile.elements]]).toEqual([4, [0, 1]]);
  });

  it('stays below half a megabyte where that can be: what would be larger packed loosely is packed tightly', async () => {
    const n = 312;
    const { positions, indices } = field(n, 0.007);
    for (let i = 0; i < positions.length; i += 3) positions[i + 2] = 0.01 * Math.sin(i * 12.9898) ** 2;
    const tile = (await encode(placeGeometry(meshModel(positions, indices, [moved(0, 0, 0)])).pieces))!;
    expect(tile.glb.length).toBeLessThan(500_000);
    expect(tile.triangles).toBe(n * n * 2);
    const [primitive] = (await decode(tile.glb)).getRoot().listMeshes()[0]!.listPrimitives();
    expect(primitive!.getAttribute('POSITION')!.getCount()).toBe((n + 1) ** 2);
  });

  it('keeps its promise about rounding', async () => {
    const { pieces } = placeGeometry(meshModel(SQUARE.positions, SQUARE.indices, [moved(0.1234567, 77.7654321, 3)]));
    const far = placeGeometry(meshModel(SQUARE.positions, SQUARE.indices, [moved(100.3, 0, 0)])).pieces;
    const tile = (await encode([...pieces, ...far]))!;
    expect(tile.quantisationError).toBeLessThan(0.001);
    const points = corners(await decode(tile.glb));
    for (const exact of [
      [0.1234567, 77.7654321, 3],
      [101.3, 1, 0],
    ]) {
      const error = Math.min(
        ...points.map((point) => Math.max(...point.map((value, axis) => Math.abs(value - exact[axis]!)))),
      );
      expect(error).toBeLessThanOrEqual(tile.quantisationError + 1e-9);
    }
  });

  it('meets its neighbour without a crack where a surface was cut', async () => {
    const { pieces } = placeGeometry(
      meshModel(...(Object.values(field(40, 1.37)) as [number[], number[]]), [moved(0.4, 0.6, 0)]),
    );
    const tree = splitPieces(pieces, { triangles: 1600, drawn: 1600, size: 127 }) as { halves: [PartTree, PartTree] };
    const [left, right] = tree.halves.map((half) => (half as { parts: Piece[] }).parts);
    const [a, b] = await Promise.all(
      [left!, right!].map(async (tile) => corners(await decode((await encode(tile))!.glb))),
    );
    const keys = new Set(a!.map((point) => point.map((value) => value.toFixed(9)).join()));
    const shared = b!.filter((point) => keys.has(point.map((value) => value.toFixed(9)).join()));
    // 41 x 41 points; the seam is one row of 41, and some of its neighbours where the cut goes between two triangles.
    expect(a!.length + b!.length - shared.length).toBe(41 * 41);
    expect(shared.length).toBeGreaterThanOrEqual(41);
  });

  it('is none where rounding leaves no triangle', async () => {
    const { pieces } = placeGeometry(
      meshModel(SQUARE.positions, SQUARE.indices, [[1e-6, 0, 0, 0, 0, 1e-6, 0, 0, 0, 0, 1e-6, 0, 0, 0, 0, 1]]),
    );
    const wide = placeGeometry(meshModel(SQUARE.positions, SQUARE.indices, [moved(90, 0, 0)])).pieces;
    expect((await encode([...pieces, ...wide.map((piece) => ({ ...piece, element: 7 }))]))!.elements).toEqual(
      new Set([7]),
    );
    expect(await encodeTile(findRepeats(pieces), [0, 0, 0, 90, 1, 1], PAINT)).toBeNull();
  });

  it('writes what stands there many times once, and puts it where it stood', async () => {
    const chair = {
      positions: BLOCKS.flatMap(block),
      indices: BLOCKS.flatMap((_, i) => BOX_FACES.map((v) => v + i * 8)),
    };
    const places = Array.from({ length: 40 }, (_, i) => {
      const angle = i * 0.7;
      return compose(
        [i * 1.1, (i % 7) * 1.3, (i % 3) * 3.2],
        [0, 0, Math.sin(angle / 2), Math.cos(angle / 2)],
        [1, 1, 1],
      );
    });
    const { pieces } = placeGeometry(
      meshModel(
        chair.positions,
        chair.indices,
        places.map((place) => [...place]),
      ),
    );
    const shares = findShares(pieces);
    const box = emptyBox();
    for (const piece of pieces) expandByBox(box, piece.box);
    const once = (await encodeTile(
      findRepeats(pieces.map((piece, i) => ({ ...piece, share: shares[i]! }))),
      box,
      PAINT,
    ))!;
    const drawn = (await encodeTile(findRepeats(pieces), box, PAINT))!;
    expect(once.glb.length).toBeLessThan(drawn.glb.length / 2);
    expect([once.triangles, once.elements]).toEqual([drawn.triangles, drawn.elements]);
    expect((await validateBytes(once.glb)).issues.numErrors).toBe(0);

    const document = await decode(once.glb);
    const node = document.getRoot().listNodes()[0]!;
    const instances = node.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing')!;
    expect([...instances.getAttribute('_FEATURE_ID_0')!.getArray()!]).toEqual(pieces.map(({ element }) => element));
    const own = corners(document); // of the shape itself, in the frame of the node
    const world = node.getWorldMatrix();
    const local = own.map((point) => transformPoint(invert(multiply(Y_UP_TO_Z_UP, world)), ...(point as Vec3)));
    for (const [i, piece] of pieces.entries()) {
      const [t, r, s] = ['TRANSLATION', 'ROTATION', 'SCALE'].map((name) =>
        instances.getAttribute(name)!.getElement(i, []),
      );
      const matrix = multiply(Y_UP_TO_Z_UP, multiply(world, compose(t!, r!, s!)));
      const told = local.map((point) => transformPoint(matrix, ...point));
      for (let v = 0; v < piece.positions.length; v += 3) {
        const exact = piece.positions.subarray(v, v + 3);
        const error = Math.min(
          ...told.map((point) => Math.max(...point.map((value, axis) => Math.abs(value - exact[axis]!)))),
        );
        expect(error).toBeLessThanOrEqual(once.quantisationError);
      }
    }
    expect(once.quantisationError).toBeLessThan(0.001);
  });
});

/** Seat, back and four legs, as corners of boxes in metres. */
const BLOCKS: [from: Vec3, to: Vec3][] = [
  [
    [0, 0, 0.42],
    [0.45, 0.45, 0.46],
  ],
  [
    [0, 0.41, 0.46],
    [0.45, 0.45, 0.9],
  ],
  ...[0, 0.41].flatMap((x) =>
    [0, 0.41].map((y): [Vec3, Vec3] => [
      [x, y, 0],
      [x + 0.04, y + 0.04, 0.42],
    ]),
  ),
];
const BOX_FACES = [
  0, 2, 1, 0, 3, 2, 4, 5, 6, 4, 6, 7, 0, 1, 5, 0, 5, 4, 1, 2, 6, 1, 6, 5, 2, 3, 7, 2, 7, 6, 3, 0, 4, 3, 4, 7,
];

function block([a, b]: [Vec3, Vec3]): number[] {
  return [a[2], b[2]].flatMap((z) => [a[0], a[1], z, b[0], a[1], z, b[0], b[1], z, a[0], b[1], z]);
}

/** The inverse of a matrix that turns, moves and scales alike in all directions. */
function invert(m: Mat4): Mat4 {
  const scale = Math.hypot(m[0]!, m[1]!, m[2]!);
  const shrunk = multiply(m, compose([0, 0, 0], [0, 0, 0, 1], [1 / scale, 1 / scale, 1 / scale]));
  return multiply(compose([0, 0, 0], [0, 0, 0, 1], [1 / scale, 1 / scale, 1 / scale]), invertRigid(shrunk));
}
