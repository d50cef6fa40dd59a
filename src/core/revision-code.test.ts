import { describe, expect, it } from 'vitest';
import { revisionCode } from './revision-code';

describe('revision codes', () => {
  it('follow ISO 19650', () => {
    expect([1, 9, 10, 123].map(revisionCode)).toEqual(['P01', 'P09', 'P10', 'P123']);
    expect(() => revisionCode(0)).toThrow(RangeError);
  });
});
