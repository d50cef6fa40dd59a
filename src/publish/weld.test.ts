import { describe, expect, it } from 'vitest';
import { placeGeometry } from './element-geometry';
import { meshModel, moved, SQUARE } from './test-model';
import { weldPieces } from './weld';

describe('welding', () => {
  it('joins what agrees, keeps elements apart, drops what has no area, writes linear colour', () => {
    const { pieces } = placeGeometry(
      meshModel([...SQUARE.positions, 0, 0, 0, 1, 1, 0], [0, 1, 2, 4, 5, 3, 0, 1, 1], [moved(0, 0, 0)]),
    );
    const materials = [{ name: '', color: [1, 0.5, 0, 1] as [number, number, number, number] }];
    const grid = { origin: [0, 0, 0] as [number, number, number], step: 1 / 65535 };
    const mesh = weldPieces(pieces, materials, grid, 65535, true)!;
    expect(mesh.indices.length / 3).toBe(2);
    expect(mesh.features.length).toBe(4);
    expect([...mesh.colors.slice(0, 4)]).toEqual([65535, Math.round(0.2158605 * 65535), 0, 65535]);
    // sRGB 128 of 255 is 0.2158605 linear (IEC 61966-2-1).
    const two = weldPieces([pieces[0]!, { ...pieces[0]!, element: 1 }], materials, grid, 65535, true)!;
    expect(two.features.length).toBe(8);
    expect(weldPieces(pieces, materials, grid, 65535, false)).toBeNull();
  });

  it('takes the colours of painted vertices before the material, and keeps differently painted corners apart', () => {
    const model = meshModel(SQUARE.positions, SQUARE.indices, [moved(0, 0, 0)]);
    model.geometries[0]!.colors = Uint8Array.from([0, 1, 2, 3].flatMap((i) => [i * 85, 0, 0, 255]));
    const { pieces } = placeGeometry(model);
    const grid = { origin: [0, 0, 0] as [number, number, number], step: 1 / 65535 };
    const mesh = weldPieces(pieces, model.materials, grid, 65535, true)!;
    const reds = [...mesh.colors].filter((_, i) => i % 4 === 0).sort((a, b) => a - b);
    expect(reds).toEqual([0, 0.0908417, 0.4019778, 1].map((linear) => Math.round(linear * 65535)));
    model.geometries[0]!.colors[3] = 100; // one corner lets light through: so does the piece
    const glass = placeGeometry(model).pieces;
    expect(weldPieces(glass, model.materials, grid, 65535, true)).toBeNull();
    expect(weldPieces(glass, model.materials, grid, 65535, false)).not.toBeNull();
  });
});
