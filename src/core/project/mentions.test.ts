import { expect, it } from 'vitest';
import { mentionAt, mentionedIn } from './mentions';

const people = [
  { id: 'i', name: 'Ines Okafor' },
  { id: 'm', name: 'Mikko Karras' },
  { id: 'a', name: 'Ana Lima' },
  { id: 'b', name: 'Ana Lima Costa' },
];
const ids = (text: string) => mentionedIn(text, people).map(({ id }) => id);

it('finds whole and first names, whatever their case, each once', () => {
  expect(ids('@Mikko, ask @ines okafor and @mikko karras.')).toEqual(['m', 'i']);
});

it('takes the longest name, and no first name that several have', () => {
  expect([ids('@Ana Lima Costa draws'), ids('@Ana Lima draws'), ids('@Ana draws')]).toEqual([['b'], ['a'], []]);
});

it('knows an address from a name, and words that only begin like one', () => {
  expect(ids('mail ines@ines.example or @Inesita')).toEqual([]);
});

it('says what is being written after the last @', () => {
  expect(mentionAt('So @Mik', 7)).toEqual({ from: 3, words: 'Mik' });
  expect(mentionAt('So @', 4)).toEqual({ from: 3, words: '' });
  expect(mentionAt('ines@okafor', 11)).toBeNull();
  expect(mentionAt('So', 2)).toBeNull();
});
