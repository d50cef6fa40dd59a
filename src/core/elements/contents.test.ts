import { describe, expect, it } from 'vitest';
import { guidRows } from './element-flags';
import { rowsWhere } from './match-elements';
import { contentsByStorey, NO_STOREY, searchElements, type ContentsNode } from './contents';
import { encodeColumn, type ElementIndex } from './element-index';

const index: ElementIndex = {
  count: 5,
  guid: ['a', 'b', 'c', 'd', 'a'],
  name: ['North wall', 'Entrance', 'Café', 'Oak', 'Twin'],
  category: encodeColumn(['Wall', 'Door', 'Space', 'Tree', 'Wall']),
  material: encodeColumn(['Brick', 'Oak', '', '', '']),
  system: encodeColumn(['', '', '', '', '']),
  room: encodeColumn(['', '0.01 Café', '', '', '']),
  discipline: encodeColumn(['', '', '', '', '']),
  storey: [0, 0, 0, -1, 1],
  parent: [-1, 0, -1, -1, -1],
  storeys: [
    { guid: 's0', name: 'Ground', elevation: 0 },
    { guid: 's1', name: 'First', elevation: 3 },
  ],
  extent: [0, 0, 0, 1, 1, 1],
  boxes: [],
};

describe('contents', () => {
  it('lists storeys from the top, then what no storey holds', () => {
    const tree = contentsByStorey(index);
    expect(tree.map((node) => [node.label, node.count])).toEqual([
      ['First', 1],
      ['Ground', 3],
      [NO_STOREY, 1],
    ]);
    expect(tree[1]!.children.map((node) => node.label)).toEqual(['Door', 'Space', 'Wall']);
    expect(tree.flatMap((node) => node.rows).sort()).toEqual([0, 1, 2, 3, 4]);
  });

  it('says of every branch what is asked of its elements', () => {
    const elements = { model: 'm', index, rowOf: guidRows(index) };
    const check = (nodes: ContentsNode[]): void => {
      for (const { where, rows, children } of nodes) {
        // Of a repeated guid only the first element can be named alone.
        if (children.length > 0) expect(rowsWhere([where], elements)).toEqual([...rows].sort());
        check(children);
      }
    };
    check(contentsByStorey(index));
    expect(rowsWhere([[{ is: 'search', value: 'oak' }]], elements)).toEqual(searchElements(index, 'oak'));
  });

  it('finds by every word, in any column and case', () => {
    expect(searchElements(index, 'oak')).toEqual([1, 3]);
    expect(searchElements(index, 'DOOR café')).toEqual([1]);
    expect(searchElements(index, '  ')).toEqual([]);
    expect(searchElements(index, 'wall brick')).toEqual([0]);
  });

  it('finds by a guid or most of one, and not by what stands in it by chance', () => {
    const guid = ['2O2Fr$t4X7Zf8NOew3FNr2', '1xS3BCk291UvhgP2a6eflN', 'a', 'b', 'c'];
    expect(searchElements({ ...index, guid }, '1xs3bck291uvhgp2a6efln')).toEqual([1]);
    expect(searchElements({ ...index, guid }, 'k291uvhg')).toEqual([1]);
    expect(searchElements({ ...index, guid }, '2')).toEqual([]);
    expect(searchElements({ ...index, guid }, 'ef')).toEqual([]);
  });
});
