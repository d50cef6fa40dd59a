import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Mark } from '../mark/marks';
import { anyChange } from '../view/test-views';
import { INITIAL_VIEW } from '../view/view-state';
import { SHOW_ALL } from '../view/visibility';
import { readEvent } from './read-event';
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

  it('lets everybody draw on what is seen, and nobody but the lead change what others drew', () => {
    const mark = (id: string, by: string, pen: Mark['pen'] = 'fine'): Mark => ({
      id,
      kind: 'arrow',
      ink: 'ink',
      pen,
      points: [0, 0, 1, 1],
      pressures: [],
      text: '',
      camera,
      by: { id: by, name: by },
    });
    const marked = (put: Mark[], gone: string[] = []): MeetingEvent => ({ type: 'marked', put, gone });
    const shown: [string | null, MeetingEvent][] = [
      ...BEGUN,
      ['ines', { type: 'view-changed', change: { camera }, viewpoint: 'vp' }],
    ];
    const drawn = play([...shown, ['ines', marked([mark('a', 'ines')])], ['bo', marked([mark('b', 'bo')])]]);
    expect(drawn.view!.marks.map(({ id }) => id)).toEqual(['a', 'b']);
    // Drawing on a viewpoint does not leave it.
    expect([drawn.viewpoint, drawn.view!.camera]).toEqual(['vp', camera]);
    expect(objection(drawn, 'bo', marked([mark('b', 'bo', 'broad')], []))).toBeNull();
    expect(objection(drawn, 'bo', marked([mark('c', 'bo')], ['b']))).toBeNull();
    expect(objection(drawn, 'bo', marked([], ['a']))).toMatch(/Only the person who drew that/);
    expect(objection(drawn, 'bo', marked([mark('a', 'bo')]))).toMatch(/Only the person who drew that/);
    expect(objection(drawn, 'ines', marked([], ['b']))).toBeNull();
    expect(objection(drawn, 'stranger', marked([mark('d', 'stranger')]))).toMatch(/not in this meeting/);
    // Whatever is stored as an event comes back as it was, and nonsense as nothing.
    expect(readEvent(marked([mark('a', 'ines')], ['b']))).toEqual(marked([mark('a', 'ines')], ['b']));
    expect(readEvent({ type: 'marked', put: [{ kind: 'arrow' }, 7], gone: [1, 'b'] })).toEqual(marked([], ['b']));
    for (const bad of [
      { ...mark('a', 'ines'), points: [0] },
      { ...mark('a', 'ines'), ink: 'red' },
    ])
      expect(sentEventSchema.validate({ type: 'marked', put: [bad], gone: [] }).error).toBeDefined();
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
      { type: 'view-changed', viewpoint, change: { ...INITIAL_VIEW, camera } },
    ];
    const state = play([
      ...BEGUN,
      shown('v1'),
      shown('v2'),
      shown('v1'),
      ['ines', { type: 'view-changed', change: { visibility: { ...SHOW_ALL, hiddenModels: ['m'] } }, viewpoint: null }],
    ]);
    expect(state.shown).toEqual(['v1', 'v2']);
    expect(state.view).toEqual({ ...INITIAL_VIEW, camera, visibility: { ...SHOW_ALL, hiddenModels: ['m'] } });
    expect(state.viewpoint).toBeNull();
  });

  it('objects to what a person may not do now', () => {
    const state = play(BEGUN);
    const view: MeetingEvent = { type: 'view-changed', change: { camera }, viewpoint: null };
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
      fc.constantFrom<MeetingEvent>({ type: 'lead-asked' }, { type: 'lead-taken' }),
      fc
        .tuple(anyChange, fc.option(fc.constantFrom('v1', 'v2')))
        .map(([change, viewpoint]): MeetingEvent => ({ type: 'view-changed', change, viewpoint })),
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
    expect(valid({ type: 'view-changed', change: { camera } })).toBe(true);
    expect(valid({ type: 'view-changed', viewpoint: '00000000-0000-7000-8000-000000000000' })).toBe(true);
    expect(valid({ type: 'view-changed', change: {} })).toBe(false);
    expect(valid({ type: 'joined', participant: person('x', true) })).toBe(false);
    expect(valid({ type: 'view-changed', viewpoint: 'x', change: {} })).toBe(false);
    expect(valid({ type: 'lead-asked', extra: 1 })).toBe(false);
  });

  it('keeps the card while something is pointed out, and drops it when the view turns elsewhere', () => {
    const open: [string, MeetingEvent] = [
      'ines',
      { type: 'view-changed', change: { ...INITIAL_VIEW, camera }, viewpoint: 'v1' },
    ];
    const then = (change: object): string | null =>
      play([...BEGUN, open, ['ines', { type: 'view-changed', change, viewpoint: null }]]).viewpoint;
    expect(then({ selection: [[]] })).toBe('v1');
    expect(then({ camera })).toBeNull();
    expect(then({ selection: [], fades: [] })).toBeNull();
  });

  it('replays what was stored when every part of the view had an event of its own', () => {
    const state = { camera, visibility: { hiddenModels: [], hidden: [], only: null }, selection: [] };
    const old: unknown[] = [
      { type: 'started', title: 'Evening' },
      { type: 'joined', participant: person('ines', true) },
      { type: 'viewpoint-applied', viewpoint: 'v1', state },
      { type: 'visibility-set', visibility: { hiddenModels: ['m'], hidden: [{ model: 'm', guid: 'a' }], only: null } },
      { type: 'selection-set', selection: [{ model: 'm', guid: 'b' }] },
      { type: 'view-settled', camera: { ...camera, fov: 33 } },
      { type: 'commented', comment: 'c1' },
    ];
    const after = play(old.map((event) => ['ines', readEvent(event)]));
    const named = (one: string) => [
      { is: 'model', value: 'm' },
      { is: 'element', guids: [one] },
    ];
    expect(after.view).toEqual({
      ...INITIAL_VIEW,
      camera: { ...camera, fov: 33 },
      visibility: { hiddenModels: ['m'], shown: [{ also: [] }, { except: named('a') }] },
      selection: [named('b')],
    });
    expect([after.shown, after.comments, after.viewpoint]).toEqual([['v1'], ['c1'], null]);
  });
});
