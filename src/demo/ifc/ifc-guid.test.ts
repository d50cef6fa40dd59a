import { describe, expect, it } from 'vitest';
import { ifcGuid } from './ifc-guid';

describe('GlobalIds', () => {
  it('are 22 digits of the IFC alphabet, 128 bits, the same for the same key', () => {
    const guid = ifcGuid('architecture/wall/1');
    expect(guid).toMatch(/^[0-3][0-9A-Za-z_$]{21}$/);
    expect(ifcGuid('architecture/wall/1')).toBe(guid);
    expect(new Set(Array.from({ length: 2000 }, (_, i) => ifcGuid(`k${i}`))).size).toBe(2000);
  });
});
