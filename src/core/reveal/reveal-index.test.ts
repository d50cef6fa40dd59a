import { describe, expect, it } from 'vitest';
import { encodeColumn, type ElementIndex } from '../elements/element-index';
import { revealAll, revealBranches, revealedRows } from './reveal-index';

const index: ElementIndex = {
  count: 4,
  guid: ['a', 'b', 'c', 'd'],
  name: ['A', 'B', 'C', 'D'],
  category: encodeColumn(['Wall', 'Door', 'Wall', 'Tree']),
  material: encodeColumn(['Layer 10', 'Layer 9', '', '']),
  system: encodeColumn(['', '', '', '']),
  room: encodeColumn(['', '', '', '']),
  discipline: encodeColumn(['', '', '', '']),
  storey: [1, 0, 1, -1],
  parent: [-1, -1, -1, -1],
  storeys: [
    { guid: 's0', name: 'Ground', elevation: 0 },
    { guid: 's1', name: 'First', elevation: 3 },
  ],
  extent: [0, 0, 0, 1, 1, 1],
  boxes: '',
};

describe('branches', () => {
  it('follow the storeys upwards, the alphabet with its numbers, and end with what has no value', () => {
    expect(revealBranches(index, 'storey')).toEqual([
      { value: 'Ground', count: 1 },
      { value: 'First', count: 2 },
      { value: '', count: 1 },
    ]);
    expect(revealBranches(index, 'material').map((branch) => branch.value)).toEqual(['Layer 9', 'Layer 10', '']);
    expect(revealBranches(index, 'system')).toEqual([{ value: '', count: 4 }]);
  });
});

describe('rows', () => {
  it('are all revealed at first, and then what the rule leaves', () => {
    const all = revealAll(index);
    expect(revealedRows(index, all)).toEqual([true, true, true, true]);
    expect(revealedRows(index, { ...all, withheld: [{ column: 'storey', value: '' }], elements: ['b'] })).toEqual([
      true,
      false,
      true,
      false,
    ]);
  });
});
