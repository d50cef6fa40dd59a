import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { CameraPose } from '../view/camera';
import { marksSchema } from '../view/marks-schema';
import { anyMark } from '../view/test-views';
import { closeness } from './closeness';
import { distanceToMark, grownMark, movedMark, reshapedMark, scaledMark } from './edit-mark';
import { grown, growthOf } from './growth';
import { changedMarks, isWholeMark, MOST_MARK_NUMBERS, MOST_MARK_POINTS, withMarks, type Mark } from './marks';

const AHEAD: CameraPose = { position: [0, -10, 1.6], target: [0, 0, 1.6], fov: 50 };
const mark = (change: Partial<Mark>): Mark => ({
  id: 'a',
  kind: 'rectangle',
  ink: 'madder',
  pen: 'medium',
  points: [-0.2, 0.1, 0.2, -0.1],
  pressures: [],
  text: '',
  camera: AHEAD,
  by: { id: 'one', name: 'One' },
  ...change,
});

describe('marks of a view', () => {
  it('are put in, replaced and taken away by their ids; who drew one stays who drew it', () => {
    const [a, b] = [mark({ id: 'a' }), mark({ id: 'b' })];
    const bolder = mark({ id: 'a', pen: 'broad', by: { id: 'two', name: 'Two' } });
    expect(withMarks([a, b], [bolder])).toEqual([{ ...a, pen: 'broad' }, b]);
    expect(withMarks([a, b], [mark({ id: 'c' })], ['b']).map(({ id }) => id)).toEqual(['a', 'c']);
    expect(Array.from({ length: 300 }, (_, i) => i).reduce((all, i) => withMarks(all, [mark({ id: `${i}` })]), [a])).toHaveLength(200); // prettier-ignore
  });

  it('are only so many that a view stays quick: of too much the oldest goes', () => {
    const long = (id: string) => mark({ id, kind: 'free', points: Array.from({ length: 1200 }, () => 0.5) });
    const all = Array.from({ length: 70 }, (_, i) => long(`${i}`)).reduce((marks, one) => withMarks(marks, [one]), [] as Mark[]); // prettier-ignore
    expect(all.reduce((sum, { points }) => sum + points.length, 0)).toBe(MOST_MARK_NUMBERS);
    expect([all[0]!.id, all.at(-1)!.id]).toEqual(['20', '69']);
    expect(marksSchema.validate(all).error).toBeUndefined();
    expect(marksSchema.validate([...all, long('more')]).error!.message).toMatch(/so much cannot be drawn/);
  });

  it('go back to what they were by their changes alone, without what others drew meanwhile', () => {
    const own = fc
      .uniqueArray(anyMark, { maxLength: 4, selector: ({ id }) => id })
      .map((all) => all.map((one) => ({ ...one, by: { id: 'me', name: 'Me' } })));
    const others = fc
      .uniqueArray(anyMark, { maxLength: 3, selector: ({ id }) => id })
      .map((all) => all.map((one) => ({ ...one, by: { id: 'other', name: 'Other' } })));
    fc.assert(
      fc.property(own, own, others, (from, to, theirs) => {
        const { put, gone } = changedMarks([...from, ...theirs], to, 'me');
        const back = withMarks([...from, ...theirs], put, gone);
        const ids = (marks: readonly Mark[], by: string) => marks.filter((one) => one.by.id === by).map(({ id }) => id).sort(); // prettier-ignore
        expect(ids(back, 'me')).toEqual(ids(to, 'me'));
        expect(ids(back, 'other')).toEqual(ids(theirs, 'other'));
      }),
    );
  });

  it('are whole only with what their kind needs', () => {
    fc.assert(fc.property(anyMark, (one) => void expect(isWholeMark(one)).toBe(true)));
    expect(isWholeMark(mark({ points: [0, 0] }))).toBe(false);
    expect(isWholeMark(mark({ kind: 'text', points: [0, 0], text: '' }))).toBe(false);
    expect(isWholeMark(mark({ kind: 'surface', points: [0, 0, 0, 1, 1, 1] }))).toBe(false);
    expect(isWholeMark(mark({ kind: 'free', pressures: [0.5] }))).toBe(false);
  });
});

describe('a view', () => {
  const turned = (degrees: number): CameraPose => {
    const turn = (degrees * Math.PI) / 180;
    return { ...AHEAD, target: [10 * Math.sin(turn), -10 + 10 * Math.cos(turn), 1.6] };
  };

  it('shows what was drawn in it whole, less the more it is another one, and nothing elsewhere', () => {
    expect(closeness(AHEAD, AHEAD)).toBe(1);
    const shares = [0, 2, 4, 6, 8, 12, 30].map((degrees) => closeness(AHEAD, turned(degrees)));
    expect([...shares].sort((a, b) => b - a)).toEqual(shares);
    expect(shares.at(-1)).toBe(0);
    expect(closeness(AHEAD, { ...AHEAD, position: [0, -4, 1.6] })).toBe(0);
    expect(closeness(AHEAD, { ...AHEAD, fov: 20 })).toBe(0);
    expect(closeness(AHEAD, { ...AHEAD, parallel: true })).toBe(0);
    expect(closeness(AHEAD, { ...AHEAD, position: [0, 0, 1.6] })).toBe(0);
  });

  it('is as close to another one whatever the size of what is seen', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 1000, noNaN: true }),
        fc.double({ min: 0, max: 20, noNaN: true }),
        (by, degrees) => {
          const scaled = ({ position, target, fov }: CameraPose): CameraPose => ({
            position: position.map((value) => value * by) as CameraPose['position'],
            target: target.map((value) => value * by) as CameraPose['target'],
            fov,
          });
          expect(closeness(scaled(AHEAD), scaled(turned(degrees)))).toBeCloseTo(closeness(AHEAD, turned(degrees)), 6);
        },
      ),
    );
  });
});

describe('a hand', () => {
  it('moves, scales and reshapes a mark', () => {
    expect(movedMark(mark({}), 0.1, -0.2).points).toEqual([-0.1, -0.1, 0.3, -0.3]);
    expect(scaledMark(mark({}), 2).points).toEqual([-0.4, 0.2, 0.4, -0.2]);
    expect(reshapedMark(mark({}), 1, [0.5, 0.5]).points).toEqual([-0.2, 0.1, 0.5, 0.5]);
  });

  it('means the line and not what lies within it; of words all that they cover', () => {
    expect(distanceToMark(mark({}), 0, 0, 0, 0)).toBeCloseTo(0.1, 12);
    expect(distanceToMark(mark({}), 0.2, 0.05, 0, 0)).toBe(0);
    expect(distanceToMark(mark({ kind: 'arrow' }), 0, 0, 0, 0)).toBeCloseTo(0, 12);
    const words = mark({ kind: 'text', points: [0, 0], text: 'Here' });
    expect(distanceToMark(words, 0.2, 0.05, 0.3, 0.1)).toBe(0);
    expect(distanceToMark(words, 0.4, 0.05, 0.3, 0.1)).toBeCloseTo(0.1, 12);
    expect(distanceToMark(mark({ kind: 'surface', points: [0, 0, 0, 1, 1, 1] }), 0, 0, 0, 0)).toBe(Infinity);
  });

  it('may draw for ever: the line thins out and keeps both of its ends', () => {
    let line = mark({ kind: 'free', points: [] });
    for (let i = 0; i < 3000; i++) line = grownMark(line, [i / 1000, 0], 0.5);
    expect(line.points.length / 2).toBeLessThan(MOST_MARK_POINTS);
    expect(isWholeMark(line)).toBe(true);
    expect([line.points[0], line.points.at(-2)]).toEqual([0, 2.999]);
  });
});

describe('a line that grows', () => {
  it('is told bit by bit, and is the same for everybody', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: -99, max: 99 }), fc.integer({ min: -99, max: 99 }), fc.boolean()), {
          maxLength: 40,
        }),
        (steps) => {
          let line = mark({ kind: 'free', points: [] });
          let [told, seen]: [Mark | null, Mark | null] = [null, null];
          let bytes = 0;
          for (const [x, y, isTold] of steps) {
            line = grownMark(line, [x / 100, y / 100], 0.5);
            if (!isTold) continue;
            const growth = growthOf(line, told);
            bytes += growth.mark.points.length;
            seen = grown(seen ?? undefined, growth);
            told = line;
            expect(seen).toEqual(line);
          }
          // Nothing is told twice.
          expect(bytes).toBeLessThanOrEqual(2 * steps.length);
        },
      ),
    );
  });

  it('is told whole after it was thinned, and shows nothing where a part was missed', () => {
    const line = mark({ kind: 'free', points: [0, 0, 1, 1, 2, 2] });
    const thinned = mark({ kind: 'free', points: [0, 0, 2, 2] });
    expect(growthOf(thinned, line)).toEqual({ mark: thinned, from: 0 });
    const growth = growthOf(line, mark({ kind: 'free', points: [0, 0] }));
    expect(growth.from).toBe(2);
    expect(grown(undefined, growth)).toBeNull();
  });
});
