import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SHOW_ALL } from '../viewpoint';
import {
  emptyMeeting,
  objection,
  reduceMeeting,
  type MeetingEvent,
  type MeetingState,
  type SettledEvent,
} from './meeting';
import { sentEventSchema } from './sent-event-schema';

const AT = '2026-05-04T17:00:00.000Z';
const person = (id: string, host = false) => ({ id, name: id, guest: !host, host });
const camera = {
  position: [1, 2, 3] as [number, number, number],
  target: [0, 0, 0] as [number, number, number],
  fov: 50,
};

function play(events: [string | null, MeetingEvent][]): MeetingState {
  return events
    .map(([by, event], i): SettledEvent => ({ seq: i + 1, at: AT, by, event }))
    .reduce(reduceMeeting, emptyMeeting());
}

const BEGUN: [string | null, MeetingEvent][] = [
  [null, { type: 'started', title: 'Review' }],
  [null, { type: 'joined', participant: person('ines', true) }],
  [null, { type: 'joined', participant: person('bo') }],
];

describe('meeting', () => {
  it('gives the lead to the host who comes first, and lets it be asked for, passed and taken back', () => {
    let state = play(BEGUN);
    expect(state.lead).toBe('ines');
    state = play([...BEGUN, ['bo', { type: 'lead-asked' }], ['bo', { type: 'lead-asked' }]]);
    expect(state.asking).toEqual(['bo']);
    state = play([...BEGUN, ['bo', { type: 'lead-asked' }], ['ines', { type: 'lead-passed', to: 'bo' }]]);
    expect([state.lead, state.asking]).toEqual(['bo', []]);
    state = play([...BEGUN, ['ines', { type: 'lead-passed', to: 'bo' }], ['ines', { type: 'lead-taken' }]]);
    expect(state.lead).toBe('ines');
  });

  it('keeps a person who leaves and comes back as one person, and the lead with them', () => {
    const state = play([
      ...BEGUN,
      [null, { type: 'left', participant: 'ines' }],
      [null, { type: 'joined', participant: person('ines', true) }],
    ]);
    expect(state.participants.map((one) => [one.id, one.present])).toEqual([
      ['ines', true],
      ['bo', true],
    ]);
    expect(state.lead).toBe('ines');
  });

  it('remembers the view and the viewpoints shown, each once', () => {
    const shown = (viewpoint: string): [string, MeetingEvent] => [
      'ines',
      { type: 'viewpoint-applied', viewpoint, state: { camera, visibility: SHOW_ALL, selection: [] } },
    ];
    const state = play([
      ...BEGUN,
      shown('v1'),
      shown('v2'),
      shown('v1'),
      ['ines', { type: 'visibility-set', visibility: { ...SHOW_ALL, hiddenModels: ['m'] } }],
    ]);
    expect(state.shown).toEqual(['v1', 'v2']);
    expect(state.view).toEqual({ camera, visibility: { ...SHOW_ALL, hiddenModels: ['m'] }, selection: [] });
    expect(state.viewpoint).toBeNull();
  });

  it('objects to what a person may not do now', () => {
    const state = play(BEGUN);
    const view: MeetingEvent = { type: 'view-settled', camera };
    expect(objection(state, 'ines', view)).toBeNull();
    expect(objection(state, 'bo', view)).toContain('lead');
    expect(objection(state, 'bo', { type: 'lead-taken' })).toContain('host');
    expect(objection(state, 'bo', { type: 'ended' })).toContain('host');
    expect(objection(state, 'stranger', { type: 'lead-asked' })).toContain('Join again');
    expect(objection(state, 'ines', { type: 'lead-passed', to: 'nobody' })).toContain('not here');
    expect(
      objection(play([...BEGUN, ['ines', { type: 'ended' }]]), null, { type: 'left', participant: 'bo' }),
    ).toContain('ended');
  });

  it('refuses events out of order', () => {
    expect(() => reduceMeeting(emptyMeeting(), { seq: 2, at: AT, by: null, event: { type: 'ended' } })).toThrow(
      RangeError,
    );
  });

  it('replays to the same state from any snapshot', () => {
    const ids = fc.constantFrom('ines', 'bo', 'cy');
    const event: fc.Arbitrary<MeetingEvent> = fc.oneof(
      ids.map((id): MeetingEvent => ({ type: 'joined', participant: person(id, id === 'ines') })),
      ids.map((id): MeetingEvent => ({ type: 'left', participant: id })),
      ids.map((to): MeetingEvent => ({ type: 'lead-passed', to })),
      fc.constantFrom<MeetingEvent>({ type: 'lead-asked' }, { type: 'lead-taken' }, { type: 'view-settled', camera }),
      fc.string().map((comment): MeetingEvent => ({ type: 'commented', comment })),
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(ids, event), { maxLength: 30 }), fc.nat(30), (events, cut) => {
        const settled = events.map(([by, one], i): SettledEvent => ({ seq: i + 1, at: AT, by, event: one }));
        const whole = settled.reduce(reduceMeeting, emptyMeeting());
        const snapshot = JSON.parse(
          JSON.stringify(settled.slice(0, cut).reduce(reduceMeeting, emptyMeeting())),
        ) as MeetingState;
        expect(settled.slice(cut).reduce(reduceMeeting, snapshot)).toEqual(whole);
      }),
    );
  });

  it('takes from participants only what they may send', () => {
    const valid = (input: unknown) => sentEventSchema.validate(input).error === undefined;
    expect(valid({ type: 'lead-asked' })).toBe(true);
    expect(valid({ type: 'view-settled', camera })).toBe(true);
    expect(valid({ type: 'joined', participant: person('x', true) })).toBe(false);
    expect(valid({ type: 'viewpoint-applied', viewpoint: 'x', state: {} })).toBe(false);
    expect(valid({ type: 'lead-asked', extra: 1 })).toBe(false);
  });
});
