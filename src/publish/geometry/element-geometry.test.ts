import { describe, expect, it } from 'vitest';
import { transformPoint } from '@/core/math/mat4';
import { placeGeometry } from './element-geometry';
import { meshModel, moved, SQUARE } from '../test-model';

describe('placing', () => {
  it('moves a model at survey coordinates near zero by whole metres and says by how much', () => {
    const { offset, extent } = placeGeometry(
      meshModel(SQUARE.positions, SQUARE.indices, [moved(402180.25, 5712440.5, 87)]),
    );
    expect(offset).toEqual([402181, 5712441, 87]);
    extent.forEach((value, i) =>
      expect(value + offset[i % 3]!).toBeCloseTo([402180.25, 5712440.5, 87, 402181.25, 5712441.5, 87][i]!, 6),
    );
  });

  it('leaves a model near its origin where it is', () => {
    const { offset, extent } = placeGeometry(meshModel(SQUARE.positions, SQUARE.indices, [moved(5, 6, 7)]));
    expect(offset).toEqual([0, 0, 0]);
    expect(extent).toEqual([5, 6, 7, 6, 7, 7]);
  });

  it('keeps the outside of a mirrored placement outside', () => {
    const mirrored = placeGeometry(
      meshModel(SQUARE.positions, [0, 1, 2], [[-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]]),
    );
    expect([...mirrored.pieces[0]!.indices]).toEqual([0, 2, 1]);
  });

  it('says where the pieces come from', () => {
    const far = [moved(402180.25, 5712440.5, 87), moved(402190.25, 5712440.5, 87)];
    const { pieces, offset, origins } = placeGeometry(meshModel(SQUARE.positions, SQUARE.indices, far));
    expect([...origins!.geometry]).toEqual([0, 0]);
    pieces.forEach(({ positions }, i) => {
      const matrix = origins!.matrices.subarray(i * 16, i * 16 + 16);
      expect([...transformPoint(matrix, 1, 1, 0)]).toEqual([...positions.subarray(6, 9)]);
    });
    expect(origins!.matrices[12]! + offset[0]).toBe(402180.25);
  });

  it('gives every element its own box', () => {
    const { elementBoxes } = placeGeometry(
      meshModel(SQUARE.positions, SQUARE.indices, [moved(0, 0, 0), moved(3, 0, 2)]),
    );
    expect([...elementBoxes]).toEqual([0, 0, 0, 1, 1, 0, 3, 0, 2, 4, 1, 2]);
  });
});
