import { describe, expect, it } from 'vitest';
import { SHOW_ALL, type Visibility } from '../viewpoint';
import { encodeColumn, type ElementIndex } from './element-index';
import { elementFlags, guidRows, HIDDEN, SELECTED, THROUGH } from './visibility-flags';

const NAMES = ['wall', 'door', 'room', 'tree'];
const index = {
  count: 4,
  guid: NAMES,
  category: encodeColumn(['Wall', 'Door', 'Space', 'Tree']),
} as Partial<ElementIndex> as ElementIndex;

const ref = (guid: string, model = 'm') => ({ model, guid });

function flags(visibility: Partial<Visibility>, selected: string[] = []): Record<string, number> {
  const out = elementFlags(
    index,
    guidRows(index),
    'm',
    { ...SHOW_ALL, ...visibility },
    selected.map((guid) => ref(guid)),
  );
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
    expect(flags({ only: [ref('wall'), ref('door')], hidden: [ref('door')] })).toEqual({
      wall: 0,
      door: HIDDEN,
      room: HIDDEN,
      tree: HIDDEN,
    });
  });

  it('marks what is selected as it is told', () => {
    const mark = SELECTED | THROUGH;
    const out = elementFlags(index, guidRows(index), 'm', SHOW_ALL, [ref('door'), ref('room')], [], mark);
    expect([...out]).toEqual([0, mark, mark, 0]);
  });

  it('keeps a hidden element hidden when it is selected', () => {
    expect(flags({ hidden: [ref('tree')] }, ['tree']).tree! & HIDDEN).toBe(HIDDEN);
  });

  it('hides a whole model that is switched off, and is not touched by another model', () => {
    expect(Object.values(flags({ hiddenModels: ['m'] }, ['door']))).toEqual([HIDDEN, HIDDEN, HIDDEN, HIDDEN]);
    expect(flags({ hiddenModels: ['other'], hidden: [ref('wall', 'other')] }).wall).toBe(0);
    expect(flags({ only: [ref('wall', 'other')] }).wall).toBe(HIDDEN);
  });

  it('does not stumble over elements of an older revision', () => {
    expect(flags({ hidden: [ref('gone')] }, ['gone too'])).toEqual(flags({}));
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
