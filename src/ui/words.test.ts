import { expect, it } from 'vitest';
import { plainNumber } from '@/core/plain-number';
import {
  duration,
  elementCount,
  findingTitle,
  fitSentence,
  kilobytes,
  mendedTitle,
  surfaceRuleSentence,
} from './words';

it('writes numbers, bytes, times and spans as people read them', () => {
  expect([plainNumber(999), plainNumber(48_092), plainNumber(1_234_567)]).toEqual([
    '999',
    '48\u202f092',
    '1\u202f234\u202f567',
  ]);
  expect([elementCount(0), elementCount(1), elementCount(20_000)]).toEqual([
    '0 elements',
    '1 element',
    '20\u202f000 elements',
  ]);
  expect([kilobytes(1), kilobytes(65_308), kilobytes(25_521_666)]).toEqual(['1\u00a0kB', '64\u00a0kB', '24\u00a0MB']);
  expect([duration(0.2), duration(89), duration(150), duration(4200)]).toEqual(['1 s', '89 s', '3 min', '1 h 10 min']);
  expect(findingTitle('coincident', 1204)).toBe('1\u202f204 flickering through another');
  expect(mendedTitle({ kind: 'duplicate', count: 2 })).toBe('2 standing twice in one place');
  expect(mendedTitle({ kind: 'too-fine', count: 2, reduced: { before: 41_000, after: 310, error: 4e-4 } })).toBe(
    '2 finer than one can see (310 triangles instead of 41\u202f000)',
  );
});

it('says how a model does not go with the others', () => {
  expect(fitSentence({ kind: 'apart', metres: 812.4 })).toContain('812 m from the nearest other model');
  expect(fitSentence({ kind: 'apart', metres: 5_200_000 })).toContain('5\u202f200 km');
  expect(fitSentence({ kind: 'other-scale', factor: 1003 })).toContain('1\u202f000 times as large');
  expect(fitSentence({ kind: 'other-scale', factor: 0.001 })).toContain('1\u202f000 times as small');
});

it('says what a rule does to surfaces', () => {
  const rule = {
    of: [{ is: 'category', value: 'Door' }],
    label: 'Door',
    color: '#334455',
    opacity: 1,
    material: null,
  } as const;
  expect(surfaceRuleSentence(rule)).toBe('Door: colour #334455');
  expect(surfaceRuleSentence({ ...rule, opacity: 0.5, material: 'Glass' })).toBe(
    'Door: colour #334455, 50 % solid, called Glass',
  );
  expect(surfaceRuleSentence({ ...rule, color: null, material: 'Oak' })).toBe('Door: called Oak');
});
