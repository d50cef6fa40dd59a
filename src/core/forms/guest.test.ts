import { expect, it } from 'vitest';
import { digitsOf, guestFaults } from './guest';

it('a guest needs a name, and a code of six digits where no link brought them', () => {
  expect(guestFaults({ name: 'Tuula', code: '482 917' }, true)).toEqual({});
  expect(guestFaults({ name: 'Tuula', code: '' }, false)).toEqual({});
  expect(Object.keys(guestFaults({ name: ' ', code: '4829' }, true))).toEqual(['name', 'code']);
  expect(digitsOf(' 482-917 ')).toBe('482917');
});
