import { describe, expect, it } from 'vitest';
import type { Condition } from '@/core/elements/element-set';
import type { SurfaceRule } from '@/core/surfaces/surface-rule';
import { meshModel, moved, SQUARE } from '../test-model';
import { changeSurfaces } from './change-surfaces';

/** Two doors of which the second has a pane of its own, and a wall with a picture on it. */
function house() {
  const model = meshModel(SQUARE.positions, SQUARE.indices, [moved(0, 0, 0), moved(1, 0, 0), moved(2, 0, 0)]);
  model.elements.category = ['Door', 'Door', 'Wall'];
  model.elements.material = ['Pine', 'Pine', 'Brick'];
  model.materials = [
    { name: 'Pine', color: [0.9, 0.8, 0.5, 1] },
    { name: 'Glass', color: [0.7, 0.8, 0.9, 0.3] },
    { name: 'Brick', color: [1, 1, 1, 1], texture: 0 },
  ];
  model.textures = [{ name: 'brick', bytes: new Uint8Array() }];
  model.geometries.push({ ...model.geometries[0]!, uvs: new Float32Array(8), colors: new Uint8Array(16) });
  model.placements.push({ ...model.placements[1]!, material: 1 });
  model.placements[2] = { ...model.placements[2]!, material: 2, geometry: 1 };
  model.properties = [{ Set: { Rating: 'EI 30' } }, {}, {}];
  return model;
}

const conditionOf = (by: 'category' | 'material' | 'element', value: string): Condition =>
  by === 'element' ? { is: by, guids: [value] } : { is: by, value };
const rule = (by: Parameters<typeof conditionOf>[0], value: string, part: Partial<SurfaceRule> = {}): SurfaceRule => ({
  of: [conditionOf(by, value)],
  label: value,
  color: '#ff0000',
  opacity: 1,
  material: null,
  ...part,
});
const colours = (model: ReturnType<typeof house>) =>
  model.placements.map(({ material }) => model.materials[material]!.color);
const RED = [1, 0, 0, 1];

describe('changing surfaces', () => {
  it('recolours a category, its panes too, and tells how many it fitted', () => {
    const { model, changes } = changeSurfaces(house(), [rule('category', 'Door'), rule('category', 'Slab')]);
    expect(colours(model)).toEqual([RED, RED, [1, 1, 1, 1], RED]);
    expect(changes.map(({ elements }) => elements)).toEqual([2, 0]);
  });

  it('finds a material that only one surface of an element has', () => {
    const { model, changes } = changeSurfaces(house(), [
      rule('material', 'Glass', { color: '#0000ff', opacity: 0.5, material: 'Clear glass' }),
    ]);
    expect(colours(model)[1]).toEqual([0.9, 0.8, 0.5, 1]);
    expect(model.materials[model.placements[3]!.material]).toEqual({ name: 'Clear glass', color: [0, 0, 1, 0.5] });
    expect(model.elements.material, 'the door is still of pine').toEqual(['Pine', 'Pine', 'Brick']);
    expect(changes[0]!.elements).toBe(1);
  });

  it('renames a material in the contents and leaves the colour where it is told to', () => {
    const { model } = changeSurfaces(house(), [rule('material', 'Pine', { color: null, material: 'Larch' })]);
    expect(model.elements.material).toEqual(['Larch', 'Larch', 'Brick']);
    expect(colours(model)).toEqual(colours(house()));
  });

  it('takes pictures and painted vertices away, but not from others that share the shape', () => {
    const before = house();
    before.placements.push({ ...before.placements[2]!, element: 0 });
    const { model } = changeSurfaces(before, [rule('element', 'guid-2')]);
    const geometry = model.geometries[model.placements[2]!.geometry]!;
    expect([geometry.uvs, geometry.colors]).toEqual([undefined, undefined]);
    expect(model.materials[model.placements[2]!.material]!.texture).toBeUndefined();
    expect(model.geometries[model.placements[4]!.geometry]!.uvs).toHaveLength(8);
  });

  it('lets the last rule count, by fact and by element', () => {
    const byFact = rule('element', 'EI 30', {
      of: [{ is: 'fact', set: 'Set', name: 'Rating', value: 'EI 30' }],
      color: '#00ff00',
    });
    expect(colours(changeSurfaces(house(), [rule('category', 'Door'), byFact]).model)[0]).toEqual([0, 1, 0, 1]);
    expect(colours(changeSurfaces(house(), [byFact, rule('category', 'Door')]).model)[0]).toEqual(RED);
  });

  it('does not change what it was given', () => {
    const whole = house();
    changeSurfaces(whole, [rule('category', 'Wall', { material: 'Plaster' })]);
    expect(whole).toEqual(house());
  });
});
