import { describe, expect, it } from 'vitest';
import { elementFlags, guidRows, HIDDEN, SELECTED } from './visibility-flags';
import { contentsByStorey, NO_STOREY, searchElements } from './contents';
import { encodeColumn, type ElementIndex } from './element-index';

const MODEL = 'm1';
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

describe('element flags', () => {
  const rows = guidRows(index);
  const ref = (guid: string) => ({ model: MODEL, guid });
  const all = { hiddenModels: [], hidden: [], only: null };
  const flags = (visibility = all as Parameters<typeof elementFlags>[3], selection: ReturnType<typeof ref>[] = []) => [
    ...elementFlags(index, rows, MODEL, visibility, selection),
  ];

  it('shows everything but rooms by default', () => {
    expect(flags()).toEqual([0, 0, HIDDEN, 0, 0]);
  });

  it('hides what is listed, shows only what is listed, hidden wins', () => {
    expect(flags({ ...all, hidden: [ref('b')] })).toEqual([0, HIDDEN, HIDDEN, 0, 0]);
    expect(flags({ ...all, only: [ref('b'), ref('d')], hidden: [ref('d')] })).toEqual([
      HIDDEN,
      0,
      HIDDEN,
      HIDDEN,
      HIDDEN,
    ]);
  });

  it('marks the selection, and shows a selected room', () => {
    expect(flags(all, [ref('d'), ref('c')])).toEqual([0, 0, SELECTED, SELECTED, 0]);
  });

  it('leaves other models alone, and hides a model as a whole', () => {
    expect(flags({ ...all, hidden: [{ model: 'other', guid: 'a' }] })).toEqual([0, 0, HIDDEN, 0, 0]);
    expect(flags({ ...all, hiddenModels: [MODEL] }, [ref('a')])).toEqual([HIDDEN, HIDDEN, HIDDEN, HIDDEN, HIDDEN]);
  });
});
