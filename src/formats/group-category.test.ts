import { expect, it } from 'vitest';
import { groupCategory } from './group-category';

it('is what a person has called the group, or that of the group around it', () => {
  for (const said of ['Furniture', 'Model railway', 'Roots', 'Ground floor', 'Group of chairs'])
    expect(groupCategory(said, 'Object')).toBe(said);
  for (const silent of ['', ' ', 'ROOT', 'RootNode', 'Scene', 'node_12', 'Group 3', 'Scene Root', 'Empty-001'])
    expect(groupCategory(silent, 'Walls')).toBe('Walls');
});
