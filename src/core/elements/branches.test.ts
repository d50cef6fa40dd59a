import { describe, expect, it } from 'vitest';
import { branchesBy } from './branches';
import { encodeColumn, type ElementIndex } from './element-index';

const index = {
  count: 4,
  guid: ['a', 'b', 'c', 'd'],
  category: encodeColumn(['Wall', 'Door', 'Wall', 'Tree']),
  material: encodeColumn(['Layer 10', 'Layer 9', '', '']),
  system: encodeColumn(['', '', '', '']),
  storey: [1, 0, 1, -1],
  storeys: [
    { guid: 's0', name: 'Ground', elevation: 0 },
    { guid: 's1', name: 'First', elevation: 3 },
  ],
} as Partial<ElementIndex> as ElementIndex;

describe('branches', () => {
  it('follow the storeys upwards, the alphabet with its numbers, and end with what has no value', () => {
    expect(branchesBy(index, 'storey', [10, 60, 30, 100])).toEqual([
      { value: 'Ground', rows: [1], weight: 0.3 },
      { value: 'First', rows: [0, 2], weight: 0.2 },
      { value: '', rows: [3], weight: 0.5 },
    ]);
    expect(branchesBy(index, 'material').map((branch) => branch.value)).toEqual(['Layer 9', 'Layer 10', '']);
    expect(branchesBy(index, 'system')).toEqual([{ value: '', rows: [0, 1, 2, 3], weight: 0 }]);
  });

  it('have branches of their own, with their share of the whole', () => {
    expect(branchesBy(index, 'category', [10, 60, 30, 100], [1, 2])).toEqual([
      { value: 'Door', rows: [1], weight: 0.3 },
      { value: 'Wall', rows: [2], weight: 0.15 },
    ]);
  });
});
