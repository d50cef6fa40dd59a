import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { boxSize, emptyBox, expandByBox } from '@/core/math/box3';
import { identity } from '@/core/math/mat4';
import { placeGeometry, type Piece } from '../geometry/element-geometry';
import { field, meshModel, moved, SQUARE } from '../test-model';
import { splitPieces, type PartTree, type TileLimits } from './split-pieces';

const groups = (tree: PartTree): Piece[][] => ('parts' in tree ? [tree.parts] : tree.halves.flatMap(groups));

function splitIntoTiles(from: Piece[], limits: TileLimits): Piece[][] {
  return groups(splitPieces(from, limits));
}

const triangles = (tile: Piece[]) => tile.reduce((sum, piece) => sum + piece.indices.length / 3, 0);

function size(tile: Piece[]): number {
  const box = emptyBox();
  for (const piece of tile) expandByBox(box, piece.box);
  return Math.max(...boxSize(box));
}

/** The area of all triangles in the plane: nothing may be lost or doubled. */
function area(tiles: Piece[][]): number {
  let sum = 0;
  for (const { positions, indices } of tiles.flat()) {
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [indices[i]! * 3, indices[i + 1]! * 3, indices[i + 2]! * 3] as [number, number, number];
      const [ux, uy] = [positions[b]! - positions[a]!, positions[b + 1]! - positions[a + 1]!];
      const [vx, vy] = [positions[c]! - positions[a]!, positions[c + 1]! - positions[a + 1]!];
      sum += (ux * vy - uy * vx) / 2;
    }
  }
  return sum;
}

function pieces(mesh: { positions: number[]; indices: number[] }, at: number[][]): Piece[] {
  return placeGeometry(meshModel(mesh.positions, mesh.indices, at)).pieces;
}

describe('tiles', () => {
  it('cut a mesh of any size into parts below the limits, losing nothing', () => {
    const tiles = splitIntoTiles(pieces(field(60, 4), [moved(0, 0, 0)]), { triangles: 500, drawn: 500, size: 100 });
    expect(Math.max(...tiles.map(triangles))).toBeLessThanOrEqual(500);
    expect(Math.max(...tiles.map(size))).toBeLessThanOrEqual(100);
    expect(area(tiles)).toBeCloseTo(240 * 240, 6);
  });

  it('remember of every part which piece it is from and how much of it it covers', () => {
    const tree = splitPieces([...pieces(SQUARE, [moved(0, 0, 0)]), ...pieces(field(30, 1), [moved(2, 0, 0)])], {
      triangles: 500,
      drawn: 500,
      size: 100,
    });
    const parts = (at: PartTree): { source: number; covers: number; isCut: boolean }[] =>
      'parts' in at ? at.parts : at.halves.flatMap(parts);
    const covered = [0, 0];
    for (const part of parts(tree)) covered[part.source]! += part.covers;
    expect(covered).toEqual([2, 1800]);
    expect(parts(tree).map(({ source, isCut }) => isCut === (source === 1))).not.toContain(false);
  });

  it('end for a mesh whose triangles all have one centre', () => {
    const [square] = pieces(SQUARE, [moved(0, 0, 0)]);
    const heap = { ...square!, indices: Uint32Array.from({ length: 3000 }, (_, i) => i % 3) };
    expect(splitIntoTiles([heap], { triangles: 300, drawn: 300, size: 100 }).flat().length).toBe(4);
  });

  it('stay small and full wherever the elements lie', () => {
    const places = fc.array(fc.tuple(fc.integer({ min: -900, max: 900 }), fc.integer({ min: -900, max: 900 })), {
      minLength: 1,
      maxLength: 60,
    });
    fc.assert(
      fc.property(places, (at) => {
        const tiles = splitIntoTiles(
          pieces(
            SQUARE,
            at.map(([x, y]) => moved(x, y, 0)),
          ),
          { triangles: 20, drawn: 20, size: 127 },
        );
        for (const tile of tiles) {
          expect(triangles(tile)).toBeLessThanOrEqual(20);
          expect(size(tile)).toBeLessThanOrEqual(127);
        }
        expect(new Set(tiles.flat().map((piece) => piece.element)).size).toBe(at.length);
        expect(area(tiles)).toBeCloseTo(at.length, 6);
      }),
    );
  });

  it('keep one far stray from costing the building its precision', () => {
    const tiles = splitIntoTiles(pieces(SQUARE, [moved(0, 0, 0), moved(8, 3, 0), moved(50_000, 0, 0)]), {
      triangles: 40_000,
      drawn: 40_000,
      size: 127,
    });
    expect(tiles.map((tile) => tile.length).sort()).toEqual([1, 2]);
  });

  it('put a plain ground apart instead of cutting it into crumbs', () => {
    const ground = pieces(field(2, 200), [moved(0, 0, 0)]);
    const house = pieces(SQUARE, [moved(10, 10, 0)]).map((piece) => ({ ...piece, element: 1 }));
    const tiles = splitIntoTiles([...ground, ...house], { triangles: 40_000, drawn: 40_000, size: 127 });
    expect(tiles.map((tile) => tile.map((piece) => piece.element))).toEqual([[0], [1]]);
  });

  it('count what stands there many times once, as long as not too much is drawn', () => {
    const crowd = pieces(
      field(10, 0.1),
      Array.from({ length: 12 }, (_, i) => moved(i * 2, 0, 0)),
    );
    const each = crowd[0]!.indices.length / 3;
    const shares = crowd.map(() => ({ shape: 0, motion: identity() }));
    const tiles = (drawn: number, known = shares) =>
      groups(splitPieces(crowd, { triangles: each * 2, drawn, size: 127 }, known)).map((parts) => parts.length);
    expect(tiles(each * 100)).toEqual([12]);
    expect(tiles(each * 6)).toEqual([6, 6]);
    expect(Math.max(...tiles(each * 100, []))).toBe(2);
  });
});
