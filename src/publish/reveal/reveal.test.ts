import { describe, expect, it } from 'vitest';
import { ALL_ELEMENTS, withoutElements, type Condition } from '@/core/elements/element-set';
import type { RevealRule } from '@/core/reveal/reveal-rule';
import { reveal } from './reveal';
import { meshModel, moved, SQUARE } from '../test-model';

/** A wall with a window in it, a chair, and a lamp that shows nothing. */
function room() {
  const model = meshModel(SQUARE.positions, SQUARE.indices, [
    moved(0, 0, 0),
    moved(1, 0, 0),
    moved(2, 0, 0),
    moved(3, 0, 0),
  ]);
  const { elements } = model;
  elements.name = ['Wall', 'Window', 'Chair', 'Lamp'];
  elements.category = ['Wall', 'Window', 'Furniture', 'Lamp'];
  elements.storey = [0, 0, 1, 1];
  elements.system = elements.room = elements.discipline = ['', '', '', ''];
  elements.material = ['Brick', 'Oak', 'Oak', ''];
  elements.parent = [-1, 0, -1, -1];
  model.storeys = [
    { guid: 's0', name: 'Ground', elevation: 0 },
    { guid: 's1', name: 'Upper', elevation: 3 },
  ];
  model.placements = model.placements.slice(0, 3);
  model.warnings = [{ guid: 'guid-3', name: 'Lamp', reason: 'only lines' }];
  model.properties = [{ a: { n: 0 } }, { a: { n: 1 } }, { a: { n: 2 } }, { a: { n: 3 } }];
  return model;
}

const rule = (part: Partial<RevealRule>): RevealRule => ({
  of: ALL_ELEMENTS,
  knownCategories: ['Wall', 'Window', 'Furniture', 'Lamp'],
  ...part,
});
const without = (...parts: Condition[]): Partial<RevealRule> => ({
  of: withoutElements(
    ALL_ELEMENTS,
    parts.map((part) => [part]),
  ),
});

describe('revealing', () => {
  it('keeps rows, places, facts and reasons of what stays together', () => {
    const { model, withheld } = reveal(room(), rule(without({ is: 'category', value: 'Wall' })));
    expect(withheld).toBe(1);
    expect(model.elements.name).toEqual(['Window', 'Chair', 'Lamp']);
    expect(model.elements.guid).toEqual(['guid-1', 'guid-2', 'guid-3']);
    expect(model.elements.parent).toEqual([-1, -1, -1]);
    expect(model.placements.map((one) => [one.element, one.matrix[12]])).toEqual([
      [0, 1],
      [1, 2],
    ]);
    expect(model.properties.map((sets) => sets.a!.n)).toEqual([1, 2, 3]);
    expect(model.warnings.length).toBe(1);
    expect(model.productsWithShape).toBe(3);
  });

  it('goes by storey, by material and by single element', () => {
    expect(reveal(room(), rule(without({ is: 'storey', value: 'Upper' }))).model.elements.name).toEqual([
      'Wall',
      'Window',
    ]);
    const oak = reveal(room(), rule(without({ is: 'material', value: 'Oak' }, { is: 'element', guids: ['guid-3'] })));
    expect(oak.model.elements.name).toEqual(['Wall']);
    expect(oak.model.warnings).toEqual([]);
    expect(oak.model.productsWithShape).toBe(1);
  });

  it('keeps what touches a box in the model’s own coordinates, however far from zero the model is', () => {
    const far = room();
    far.placements = far.placements.map((placement, i) => ({
      ...placement,
      matrix: Float64Array.from(moved(400_000 + 2 * i, 5_700_000, 0)),
    }));
    const { model, withheld } = reveal(far, rule({ box: [400_002.5, 5_699_999, -1, 400_003.5, 5_700_002, 1] }));
    expect(model.elements.name).toEqual(['Window', 'Lamp']);
    expect(withheld).toBe(2);
  });

  it('points out categories that are new, and keeps them back', () => {
    const { model, newCategories, withheld } = reveal(room(), rule({ knownCategories: ['Wall', 'Window', 'Lamp'] }));
    expect(newCategories).toEqual(['Furniture']);
    expect([withheld, model.elements.name]).toEqual([1, ['Wall', 'Window', 'Lamp']]);
  });

  it('does not change what it was given', () => {
    const whole = room();
    reveal(whole, rule(without({ is: 'storey', value: 'Ground' })));
    expect(whole).toEqual(room());
  });
});
