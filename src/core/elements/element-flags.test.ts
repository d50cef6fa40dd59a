import { describe, expect, it } from 'vitest';
import { INITIAL_VIEW } from '../view/view-state';
import { SHOW_ALL, type Visibility } from '../view/visibility';
import { elementFlags, fadeOf, guidRows, HIDDEN, SELECTED, THROUGH, type ElementView } from './element-flags';
import { encodeColumn, type ElementIndex } from './element-index';
import { ALL_ELEMENTS, setOf, whereElements, withoutElements } from './element-set';

const NAMES = ['wall', 'door', 'room', 'tree'];
const index = {
  count: 4,
  guid: NAMES,
  category: encodeColumn(['Wall', 'Door', 'Space', 'Tree']),
} as Partial<ElementIndex> as ElementIndex;
const elements = { model: 'm', index, rowOf: guidRows(index) };

const these = (...guids: string[]) => whereElements(guids.map((guid) => ({ model: 'm', guid })));
const without = (...guids: string[]) => withoutElements(ALL_ELEMENTS, these(...guids));

function flags(visibility: Partial<Visibility>, selected: string[] = [], view: Partial<ElementView> = {}) {
  const out = elementFlags(elements, {
    ...INITIAL_VIEW,
    ...view,
    visibility: { ...SHOW_ALL, ...visibility },
    selection: these(...selected),
  });
  return Object.fromEntries(NAMES.map((name, row) => [name, out[row]!]));
}

describe('the state of elements', () => {
  it('shows everything but rooms, which are places and not things', () => {
    expect(flags({})).toEqual({ wall: 0, door: 0, room: HIDDEN, tree: 0 });
  });

  it('shows a room while it is selected, even among others', () => {
    expect(flags({}, ['room', 'door'])).toEqual({ wall: 0, door: SELECTED, room: SELECTED, tree: 0 });
  });

  it('hides what is hidden, also of what alone is shown', () => {
    expect(flags({ shown: withoutElements(setOf(these('wall', 'door')), these('door')) })).toEqual({
      wall: 0,
      door: HIDDEN,
      room: HIDDEN,
      tree: HIDDEN,
    });
  });

  it('marks what is selected as it is told', () => {
    const mark = SELECTED | THROUGH;
    const out = elementFlags(elements, { ...INITIAL_VIEW, selection: these('door', 'room') }, [], mark);
    expect([...out]).toEqual([0, mark, mark, 0]);
  });

  it('keeps a hidden element hidden when it is selected', () => {
    expect(flags({ shown: without('tree') }, ['tree']).tree! & HIDDEN).toBe(HIDDEN);
  });

  it('hides a whole model that is switched off, and is not touched by another model', () => {
    expect(Object.values(flags({ hiddenModels: ['m'] }, ['door']))).toEqual([HIDDEN, HIDDEN, HIDDEN, HIDDEN]);
    const elsewhere = whereElements([{ model: 'other', guid: 'wall' }]);
    expect(flags({ hiddenModels: ['other'], shown: withoutElements(ALL_ELEMENTS, elsewhere) }).wall).toBe(0);
    expect(flags({ shown: setOf(elsewhere) }).wall).toBe(HIDDEN);
  });

  it('does not stumble over elements of an older revision', () => {
    expect(flags({ shown: without('gone') }, ['gone too'])).toEqual(flags({}));
  });
});

describe('faded elements', () => {
  const level = (flag: number) => fadeOf(flag);

  it('carry how clear they are, the last fade counting, and keep their other bits', () => {
    const fades = [
      { of: ALL_ELEMENTS, clear: 0.5 },
      { of: setOf(these('door')), clear: 0.25 },
    ];
    const out = flags({ shown: without('tree') }, ['door'], { fades });
    expect([level(out.wall!), level(out.door!)]).toEqual([16, 8]);
    expect(out.door! & SELECTED).toBe(SELECTED);
    expect(out.tree).toBe(HIDDEN);
  });

  it('are never so clear that their level does not fit into the byte', () => {
    for (const clear of [1, 0.999, 7, -3])
      for (const flag of Object.values(flags({}, [], { fades: [{ of: ALL_ELEMENTS, clear }] })))
        expect(level(flag)).toBeLessThan(32);
  });
});

it('a guid that a file repeats belongs to its first row', () => {
  const twice = { ...index, guid: ['a', 'b', 'a', 'c'] };
  expect([...guidRows(twice)]).toEqual([
    ['a', 0],
    ['b', 1],
    ['c', 3],
  ]);
});
