import { describe, expect, it } from 'vitest';
import { encodeColumn, type ElementIndex } from '../elements/element-index';
import {
  choiceShowing,
  chosenOption,
  countMember,
  readDesignOptions,
  rowsAside,
  type OptionMember,
  type OptionSet,
} from './option-set';
import { optionSetDraftSchema } from './option-set-schema';

// Rows: wall, old roof, new roof, chimney (of both roofs).
const index = {
  count: 4,
  guid: ['wall', 'old', 'new', 'chimney'],
  category: encodeColumn(['Wall', 'Roof', 'Roof', 'Chimney']),
  material: encodeColumn(['brick', 'tile', 'copper', 'brick']),
  system: encodeColumn(['', '', '', '']),
  discipline: encodeColumn(['', '', '', '']),
  storey: [0, 1, 1, 1],
  storeys: [
    { guid: 's0', name: 'Ground', elevation: 0 },
    { guid: 's1', name: 'Attic', elevation: 3 },
  ],
} as Partial<ElementIndex> as ElementIndex;

const part = (column: 'material' | 'category' | 'storey', value: string): OptionMember => [
  { is: 'model', value: 'm' },
  { is: column, value },
];
const whole = (value: string): OptionMember => [{ is: 'model', value }];
const roofs: OptionSet = {
  id: 'roof',
  name: 'Roof',
  options: [
    { id: 'tiled', name: 'Tiled', members: [part('material', 'tile'), part('category', 'Chimney')] },
    { id: 'copper', name: 'Copper', members: [part('material', 'copper'), part('category', 'Chimney')] },
    { id: 'folded', name: 'Folded', members: [whole('other')] },
  ],
};

const elements = (model: string) => ({ model, index, rowOf: new Map<string, number>() });
const shown = (choice: Record<string, string>, sets = [roofs]) =>
  index.guid.filter((_, row) => !rowsAside(sets, choice, elements('m'))?.[row]);

describe('of the options of a place', () => {
  it('exactly one shows: the first, until another is chosen', () => {
    expect(chosenOption(roofs, {})!.name).toBe('Tiled');
    expect(chosenOption(roofs, { roof: 'gone-meanwhile' })!.name).toBe('Tiled');
    expect(shown({})).toEqual(['wall', 'old', 'chimney']);
    expect(shown({ roof: 'copper' })).toEqual(['wall', 'new', 'chimney']);
    expect(shown({ roof: 'folded' })).toEqual(['wall']);
  });

  it('whole models step aside', () => {
    expect(rowsAside([roofs], {}, elements('other'))).toEqual([true, true, true, true]);
    expect(rowsAside([roofs], { roof: 'folded' }, elements('other'))).toBeNull();
    expect(rowsAside([roofs], { roof: 'tiled' }, elements('third'))).toBeNull();
    expect(choiceShowing([roofs], 'other')).toEqual({ roof: 'folded' });
    expect(choiceShowing([roofs], 'third')).toEqual({});
  });

  it('what several sets keep back shows only if all let it', () => {
    const attic: OptionSet = {
      id: 'attic',
      name: 'Attic',
      options: [
        { id: 'none', name: 'Left out', members: [] },
        { id: 'built', name: 'Built', members: [part('storey', 'Attic')] },
      ],
    };
    expect(shown({ roof: 'copper' }, [roofs, attic])).toEqual(['wall']);
    expect(shown({ roof: 'copper', attic: 'built' }, [roofs, attic])).toEqual(['wall', 'new', 'chimney']);
  });

  it('a draft names a place and at least two options', () => {
    const draft = {
      name: 'Roof',
      options: roofs.options.map(({ name, members }) => ({
        name,
        members: members.map((member) => [
          { is: 'model', value: '00000000-0000-7000-8000-000000000000' },
          ...member.slice(1),
        ]),
      })),
    };
    expect(optionSetDraftSchema.validate(draft).error).toBeUndefined();
    expect(optionSetDraftSchema.validate({ ...draft, options: draft.options.slice(0, 1) }).error).toBeDefined();
    expect(optionSetDraftSchema.validate({ ...draft, name: '  ' }).error).toBeDefined();
  });

  it('counts what a member names in a model, so that a part that is gone can be told of', () => {
    expect(countMember(whole('m'), index)).toBe(4);
    expect(countMember(part('category', 'Roof'), index)).toBe(2);
    expect(countMember(part('storey', 'Attic'), index)).toBe(3);
    expect(countMember(part('material', 'slate'), index)).toBe(0);
  });

  it('are read as they were once stored: a model and at most one column of it', () => {
    const stored = [
      { id: 'a', name: 'Tiled', members: [{ model: 'm', part: { column: 'material', value: 'tile' } }] },
      { id: 'b', name: 'Folded', members: [{ model: 'other', part: null }, part('storey', 'Attic')] },
    ];
    expect(readDesignOptions(stored)).toEqual([
      { id: 'a', name: 'Tiled', members: [part('material', 'tile')] },
      { id: 'b', name: 'Folded', members: [whole('other'), part('storey', 'Attic')] },
    ]);
    expect(readDesignOptions('damaged')).toEqual([]);
  });
});
