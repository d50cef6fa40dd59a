import { expect, it } from 'vitest';
import { attendance, momentsOfComments, viewpointsShown } from './chronicle';
import type { MeetingEvent, SettledEvent } from './meeting';

const log = (...events: [string, MeetingEvent][]): SettledEvent[] =>
  events.map(([time, event], i) => ({ seq: i + 1, at: `2026-12-01T${time}:00.000Z`, by: null, event }));
const joined = (id: string): MeetingEvent => ({ type: 'joined', participant: { id, name: id.toUpperCase(), guest: id !== 'a', host: id === 'a' } }); // prettier-ignore
const at = (time: string) => `2026-12-01T${time}:00.000Z`;

it('says who was there from when to when, also twice, and until the end', () => {
  const events = log(
    ['10:00', { type: 'started', title: 'T' }],
    ['10:01', joined('a')],
    ['10:02', joined('b')],
    ['10:10', { type: 'left', participant: 'b' }],
    ['10:20', joined('b')],
    ['10:21', joined('b')], // another window of the same person
    ['11:00', { type: 'ended' }],
  );
  expect(attendance(events)).toEqual([
    { id: 'a', name: 'A', guest: false, host: true, stays: [{ from: at('10:01'), to: at('11:00') }] },
    {
      id: 'b',
      name: 'B',
      guest: true,
      host: false,
      stays: [
        { from: at('10:02'), to: at('10:10') },
        { from: at('10:20'), to: at('11:00') },
      ],
    },
  ]);
  expect(attendance(events.slice(0, -1))[0]!.stays[0]!.to).toBeNull();
});

it('says when each viewpoint was shown first, and when each comment was said', () => {
  const open = (viewpoint: string | null): MeetingEvent => ({ type: 'view-changed', change: {}, viewpoint });
  const events = log(
    ['10:00', { type: 'started', title: 'T' }],
    ['10:01', open('two')],
    ['10:02', open(null)],
    ['10:03', open('one')],
    ['10:04', { type: 'commented', comment: 'c' }],
    ['10:05', open('two')],
  );
  expect(viewpointsShown(events)).toEqual([
    { viewpoint: 'two', at: at('10:01'), seq: 2 },
    { viewpoint: 'one', at: at('10:03'), seq: 4 },
  ]);
  expect(momentsOfComments(events)).toEqual(new Map([['c', 5]]));
});
