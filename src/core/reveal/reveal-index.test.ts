import { describe, expect, it } from 'vitest';
import { encodeColumn, type ElementIndex } from '../elements/element-index';
import type { Box3 } from '../math/box3';
import { revealAll, revealBranches, withheldRows } from './reveal-index';
import type { RevealRule } from './reveal-rule';

const NOWHERE = () => null;

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
  boxes: [],
};

describe('branches', () => {
  it('follow the storeys upwards, the alphabet with its numbers, and end with what has no value', () => {
    expect(revealBranches(index, 'storey', [10, 60, 30, 100])).toEqual([
      { value: 'Ground', rows: [1], weight: 0.3 },
      { value: 'First', rows: [0, 2], weight: 0.2 },
      { value: '', rows: [3], weight: 0.5 },
    ]);
    expect(revealBranches(index, 'material').map((branch) => branch.value)).toEqual(['Layer 9', 'Layer 10', '']);
    expect(revealBranches(index, 'system')).toEqual([{ value: '', rows: [0, 1, 2, 3], weight: 0 }]);
  });

  it('have branches of their own, with their share of the whole', () => {
    expect(revealBranches(index, 'category', [10, 60, 30, 100], [1, 2])).toEqual([
      { value: 'Door', rows: [1], weight: 0.3 },
      { value: 'Wall', rows: [2], weight: 0.15 },
    ]);
  });
});

describe('rows', () => {
  it('are all revealed at first, and then what the rule leaves', () => {
    const all = revealAll(index);
    expect(withheldRows(index, all, NOWHERE)).toEqual([null, null, null, null]);
    const part = { ...all, withheld: [{ column: 'storey' as const, value: '' }], elements: ['b'] };
    expect(withheldRows(index, part, NOWHERE)).toEqual([null, 'element', null, 'storey']);
  });

  it('go by their boxes where the rule has one', () => {
    const inRow = (row: number): Box3 | null => (row === 3 ? null : [row, 0, 0, row + 0.5, 1, 1]);
    const rule: RevealRule = { ...revealAll(index), box: [0.2, 0, 0, 1.2, 1, 1] };
    expect(withheldRows(index, rule, inRow)).toEqual([null, null, 'box', null]);
  });
});
