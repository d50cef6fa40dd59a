import { expect, it } from 'vitest';
import { boxAbout, NO_CUTS, planeAt } from '@/core/cut/cuts';
import { boxSize, emptyBox, expandByPoint } from '@/core/math/box3';
import { box } from '@/core/section/test-solids';
import { clippedPieces } from './clip-pieces';

it('surfaces end at the faces of cuts', () => {
  const { positions, indices } = box([0, 0, 0], [4, 4, 4]);
  const piece = {
    element: 0,
    material: 0,
    positions: Float64Array.from(positions),
    indices: Uint32Array.from(indices),
    colors: null,
    normals: null,
    uvs: null,
    box: emptyBox(),
  };
  const sizeOf = (cuts: Parameters<typeof clippedPieces>[1]) => {
    const extent = emptyBox();
    for (const { positions: left } of clippedPieces([piece], cuts))
      for (let at = 0; at < left.length; at += 3) expandByPoint(extent, left[at]!, left[at + 1]!, left[at + 2]!);
    return boxSize(extent);
  };
  expect(sizeOf(NO_CUTS)).toEqual([4, 4, 4]);
  expect(sizeOf({ ...NO_CUTS, planes: [planeAt('a', [0, 0, 1], [0, 0, 1])] })).toEqual([4, 4, 1]);
  // Of its surface the box holds a part of the bottom only.
  expect(sizeOf({ ...NO_CUTS, box: boxAbout([1, 1, -1, 3, 3, 3], 0) })).toEqual([2, 2, 0]);
});
