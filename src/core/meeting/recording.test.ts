import fc from 'fast-check';
import { expect, it } from 'vitest';
import { INITIAL_VIEW } from '../view/view-state';
import { emptyMeeting, reduceMeeting, type MeetingEvent, type SettledEvent } from './meeting';
import { Timeline, type Recording } from './recording';

const START = Date.parse('2026-11-01T10:00:00.000Z');
const recording = (events: SettledEvent[], more: Partial<Recording> = {}): Recording => ({
  projectId: 'p',
  meeting: { id: 'm', title: 'T', startedAt: new Date(START).toISOString(), endedAt: null, waits: false },
  events,
  comments: [],
  viewpoints: [],
  revisions: [],
  ...more,
});
const settled = (seq: number, second: number, event: MeetingEvent, by: string | null = null): SettledEvent => ({
  seq,
  at: new Date(START + second * 1000).toISOString(),
  by,
  event,
});
const camera = (x: number) => ({ ...INITIAL_VIEW.camera, position: [x, 0, 0] as [number, number, number] });

it('is at every moment what followers agreed on then', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 1, maxLength: 350 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (steps, where) => {
        // prettier-ignore
        let second = 0;
        const events = steps.map((step, i) => {
          second += step;
          return settled(i + 1, second, { type: 'view-changed', change: { camera: camera(i) }, viewpoint: step === 3 ? 'v' : null }); // prettier-ignore
        });
        const timeline = new Timeline(recording(events));
        const now = where * timeline.length;
        const began = Date.parse(events[0]!.at);
        const live = events
          .filter(({ at }) => Date.parse(at) - began <= now * 1000)
          .reduce(reduceMeeting, emptyMeeting());
        expect(timeline.stateAfter(timeline.countAt(now))).toEqual(live);
      },
    ),
    { numRuns: 60 },
  );
});

it('names the moments that one jumps to, and the revisions of then', () => {
  const events = [
    settled(1, 0, { type: 'started', title: 'T' }),
    settled(2, 10, { type: 'view-changed', change: INITIAL_VIEW, viewpoint: 'v1' }),
    settled(3, 15, { type: 'view-changed', change: { selection: [] }, viewpoint: 'v1' }),
    settled(4, 20, { type: 'commented', comment: 'c' }),
    settled(5, 40, { type: 'ended' }),
  ];
  const timeline = new Timeline(
    recording(events, {
      comments: [{ id: 'c', number: 7, text: 'The folded roof', kind: 'decision' }],
      viewpoints: [{ id: 'v1', name: 'Hall' }],
      revisions: [
        { at: new Date(START).toISOString(), ids: ['a'] },
        { at: new Date(START + 30_000).toISOString(), ids: ['b'] },
      ],
    }),
  );
  expect(timeline.moments).toEqual([
    { seq: 2, at: 10, kind: 'viewpoint', words: 'Hall' },
    { seq: 4, at: 20, kind: 'decision', words: '7  The folded roof' },
  ]);
  expect([timeline.length, timeline.timeOf(4), timeline.nextAfter(20), timeline.nextAfter(40)]).toEqual([40, 20, 40, null]); // prettier-ignore
  expect([timeline.revisionsAt(0), timeline.revisionsAt(35)]).toEqual([['a'], ['b']]);
});
