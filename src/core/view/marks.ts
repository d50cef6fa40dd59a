import { asRecord } from '../elements/read-element-set';
import { INKS, isWholeMark, MARK_KINDS, MARK_WORDS, MOST_MARK_TEXT, MOST_MARKS, PENS, type Mark } from '../mark/marks';
import { camera } from './camera';
import { isNumber } from './read-numbers';
import type { ViewPart } from './view-part';

/** What was drawn. */
export const marks: ViewPart<readonly Mark[]> = {
  initial: [],
  undone: true,
  read(stored) {
    return (Array.isArray(stored) ? stored.flatMap(readMark) : []).slice(0, MOST_MARKS);
  },
  describe(value) {
    if (value.length === 0) return '';
    return `Drawn: ${value.map(({ kind, text }) => (kind === 'text' ? `“${text}”` : MARK_WORDS[kind].toLowerCase())).join(', ')}`;
  },
};

function readMark(stored: unknown): Mark[] {
  const { id, kind, ink, pen, points, pressures, text, camera: drawnFrom, by } = asRecord(stored);
  const known = MARK_KINDS.find((one) => one === kind);
  if (!known || typeof id !== 'string' || !Array.isArray(points) || !points.every(isNumber)) return [];
  const author = asRecord(by);
  const mark: Mark = {
    id,
    kind: known,
    ink: INKS.find((one) => one === ink) ?? INKS[0],
    pen: PENS.find((one) => one === pen) ?? 'medium',
    points,
    pressures: Array.isArray(pressures) && pressures.every(isNumber) ? pressures : [],
    text: typeof text === 'string' ? text.slice(0, MOST_MARK_TEXT) : '',
    camera: drawnFrom ? camera.read(drawnFrom) : null,
    by: {
      id: typeof author.id === 'string' ? author.id : '',
      name: typeof author.name === 'string' ? author.name : '',
    },
  };
  return isWholeMark(mark) ? [mark] : [];
}
