import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anyView, MODELS } from '../view/test-views';
import { INITIAL_VIEW } from '../view/view-state';
import { SHOW_ALL } from '../view/visibility';
import { elementColours } from './element-colours';
import { elementFlags, guidRows } from './element-flags';
import { encodeColumn, type ElementIndex } from './element-index';
import { ALL_ELEMENTS, setOf, type Where } from './element-set';
import type { ModelElements } from './match-elements';
import { goesByRules, nameElements } from './name-elements';

function model(id: string, guids: string[], category: string[]): ModelElements {
  const empty = encodeColumn(guids.map(() => ''));
  const columns = { type: empty, material: empty, system: empty, room: empty, discipline: empty };
  const index = {
    ...columns,
    count: guids.length,
    guid: guids,
    name: guids,
    category: encodeColumn(category),
    storey: guids.map(() => -1),
    parent: guids.map(() => -1),
    storeys: [],
  } as Partial<ElementIndex> as ElementIndex;
  return { model: id, index, rowOf: guidRows(index) };
}

const HOUSE = model(MODELS[0]!, ['g0', 'g1', 'g2', 'g3', 'g4'], ['Wall', 'Door', 'Door', 'Duct', 'Space']);
const PLANT = model(MODELS[1]!, ['g5', 'g6', 'g7'], ['Duct', 'Duct', 'Wall']);
const ducts: Where = [{ is: 'category', value: 'Duct' }];

describe('a view for programs that know elements by guid alone', () => {
  it('names what rules mean, from the shorter side', () => {
    const view = {
      ...INITIAL_VIEW,
      visibility: { ...SHOW_ALL, shown: [...ALL_ELEMENTS, { except: ducts }] },
      colouring: [
        { of: setOf([[{ is: 'category', value: 'Door' }]]), colour: '#b5483a' },
        { of: setOf([[{ is: 'element', guids: ['g2'] }]]), colour: '#3d9c9c' },
      ],
      selection: [ducts],
    };
    const named = nameElements(view, [HOUSE, PLANT], []);
    expect(named.visibility.shown).toEqual([
      ...ALL_ELEMENTS,
      { except: [{ is: 'element', guids: ['g3', 'g5', 'g6'] }] },
    ]);
    expect(named.colouring).toEqual([
      { of: [{ also: [{ is: 'element', guids: ['g1'] }] }], colour: '#b5483a' },
      { of: [{ also: [{ is: 'element', guids: ['g2'] }] }], colour: '#3d9c9c' },
    ]);
    expect(named.selection).toEqual([[{ is: 'element', guids: ['g3', 'g5', 'g6'] }]]);
    const alone = { ...view, visibility: { ...SHOW_ALL, shown: setOf([[{ is: 'category', value: 'Wall' }]]) } };
    expect(nameElements(alone, [HOUSE, PLANT], []).visibility.shown).toEqual([
      { also: [{ is: 'element', guids: ['g0', 'g7'] }] },
    ]);
  });

  it('leaves out a model that is off, and options that are not chosen', () => {
    const off = { ...INITIAL_VIEW, visibility: { ...SHOW_ALL, hiddenModels: [MODELS[1]!] } };
    expect(nameElements(off, [HOUSE, PLANT], []).visibility).toEqual({
      shown: [...ALL_ELEMENTS, { except: [{ is: 'element', guids: ['g5', 'g6', 'g7'] }] }],
      hiddenModels: [],
    });
    const doors = (guids: string[]): Where[] => [
      [
        { is: 'model', value: MODELS[0]! },
        { is: 'element', guids },
      ],
    ];
    const sets = [{ id: 's', name: 'Door', options: [{ id: 'a', name: 'A', members: doors(['g1']) }, { id: 'b', name: 'B', members: doors(['g2']) }] }]; // prettier-ignore
    const b = { ...INITIAL_VIEW, options: { s: 'b' } };
    expect(nameElements(b, [HOUSE], sets).visibility.shown).toEqual([
      ...ALL_ELEMENTS,
      { except: [{ is: 'element', guids: ['g1'] }] },
    ]);
  });

  it('is asked for only where a view goes by rules', () => {
    expect(goesByRules(INITIAL_VIEW, [])).toBe(false);
    expect(goesByRules({ ...INITIAL_VIEW, selection: [[{ is: 'element', guids: ['g0'] }]] }, [])).toBe(false);
    expect(goesByRules({ ...INITIAL_VIEW, selection: [ducts] }, [])).toBe(true);
    expect(goesByRules({ ...INITIAL_VIEW, visibility: { ...SHOW_ALL, hiddenModels: [MODELS[0]!] } }, [])).toBe(true);
  });

  it('shows and colours the same things, whatever the rules', () => {
    fc.assert(
      fc.property(anyView, (view) => {
        const named = nameElements(view, [HOUSE, PLANT], []);
        for (const elements of [HOUSE, PLANT]) {
          const bare = { ...view, fades: [], selection: [], cuts: INITIAL_VIEW.cuts };
          expect(elementFlags(elements, { ...bare, visibility: named.visibility })).toEqual(
            elementFlags(elements, bare),
          );
          expect([...elementColours(elements, named)].sort()).toEqual([...elementColours(elements, view)].sort());
        }
        expect(goesByRules(named, [])).toBe(false);
      }),
      { numRuns: 300 },
    );
  });
});
