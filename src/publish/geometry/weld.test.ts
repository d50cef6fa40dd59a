import { describe, expect, it } from 'vitest';
import { placeGeometry } from './element-geometry';
import { plainSurfaces, type Surface } from '../pictures/pictures';
import { meshModel, moved, SQUARE } from '../test-model';
import { weldPieces } from './weld';

const ORANGE = plainSurfaces([{ name: '', color: [1, 0.5, 0, 1] }]);
const GRID = { origin: [0, 0, 0] as [number, number, number], step: 1 / 65535 };

describe('welding', () => {
  it('joins what agrees, keeps elements apart, drops what has no area, writes linear colour', () => {
    const { pieces } = placeGeometry(
      meshModel([...SQUARE.positions, 0, 0, 0, 1, 1, 0], [0, 1, 2, 4, 5, 3, 0, 1, 1], [moved(0, 0, 0)]),
    );
    const [mesh, ...others] = weldPieces(pieces, ORANGE, GRID, 65535);
    expect(others).toEqual([]);
    expect(mesh).toMatchObject({ mode: 'solid', curved: false, texture: -1, normals: null, uvs: null });
    expect(mesh!.indices.length / 3).toBe(2);
    expect(mesh!.features.length).toBe(4);
    // sRGB 128 of 255 is 0.2158605 linear (IEC 61966-2-1).
    expect([...mesh!.colors.slice(0, 4)]).toEqual([65535, Math.round(0.2158605 * 65535), 0, 65535]);
    const [two] = weldPieces([pieces[0]!, { ...pieces[0]!, element: 1 }], ORANGE, GRID, 65535);
    expect(two!.features.length).toBe(8);
  });

  it('takes the colours of painted vertices before the material, and keeps differently painted corners apart', () => {
    const model = meshModel(SQUARE.positions, SQUARE.indices, [moved(0, 0, 0)]);
    model.geometries[0]!.colors = Uint8Array.from([0, 1, 2, 3].flatMap((i) => [i * 85, 0, 0, 255]));
    const [mesh] = weldPieces(placeGeometry(model).pieces, ORANGE, GRID, 65535);
    const reds = [...mesh!.colors].filter((_, i) => i % 4 === 0).sort((a, b) => a - b);
    expect(reds).toEqual([0, 0.0908417, 0.4019778, 1].map((linear) => Math.round(linear * 65535)));
    model.geometries[0]!.colors[3] = 100; // one corner lets light through: so does the piece
    const glass = weldPieces(placeGeometry(model).pieces, ORANGE, GRID, 65535);
    expect(glass.map(({ mode }) => mode)).toEqual(['see-through']);
  });

  it('gives curved faces a mesh of their own whose normals turn with the frame', () => {
    const [piece] = placeGeometry(meshModel(SQUARE.positions, SQUARE.indices, [moved(0, 0, 0)])).pieces;
    // The second triangle's corners lean towards +X, -Y and up; the first is flat.
    const normals = new Int8Array(12);
    for (const vertex of [0, 2, 3]) normals.set([40, -30, 117], vertex * 3);
    const meshes = weldPieces([{ ...piece!, normals }], ORANGE, GRID, 65535);
    expect(meshes.map(({ curved, indices }) => [curved, indices.length])).toEqual([
      [false, 3],
      [true, 3],
    ]);
    expect([...meshes[1]!.normals!.slice(0, 3)]).toEqual([40, 117, 30]); // (x, z, -y)
  });

  it('keeps the places in a picture, near zero however far it repeats, and shows the plain colour without them', () => {
    const model = meshModel(SQUARE.positions, SQUARE.indices, [moved(0, 0, 0)]);
    model.materials = [{ name: '', color: [1, 1, 1, 1], texture: 0 }];
    model.geometries[0]!.uvs = Float32Array.of(900, 7.5, 901.25, 7.5, 901.25, 8, 900, 8);
    const surfaces: Surface[] = [{ ...model.materials[0]!, plain: [0, 0, 1, 1] }];
    const [piece] = placeGeometry(model).pieces;
    const [mesh] = weldPieces([piece!], surfaces, GRID, 65535);
    expect([...mesh!.uvs!]).toEqual([0, 0.5, 1.25, 0.5, 1.25, 1, 0, 1]);
    expect([...mesh!.colors.slice(0, 4)]).toEqual([65535, 65535, 65535, 65535]);
    const [plain] = weldPieces([{ ...piece!, uvs: null }], surfaces, GRID, 65535);
    expect([plain!.texture, ...plain!.colors.slice(0, 3)]).toEqual([-1, 0, 0, 65535]);
  });
});
