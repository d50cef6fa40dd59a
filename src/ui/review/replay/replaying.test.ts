import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { MeetingEvent, SettledEvent } from '@/core/meeting/meeting';
import type { Recording } from '@/core/meeting/recording';
import type { Comment } from '@/core/project/comment';
import { AWAY, CAMERA, changed, door, LEAD, meetingAfter, testReview, VIEW, wall, YOU } from '../test-review';
import { ViewController } from '../view/view-controller';
import { Replaying } from './replaying';

const START = Date.parse('2026-11-01T10:00:00.000Z');
const at = (second: number) => new Date(START + second * 1000).toISOString();
const mark = { id: 'm', kind: 'free', ink: 'madder', pen: 'fine', points: [0, 0, 1, 1], pressures: [], text: '', camera: CAMERA, by: { id: LEAD, name: 'Ines' } } as const; // prettier-ignore

/** What happened, by the second. */
const LOG: [number, string | null, MeetingEvent][] = [
  [0, null, { type: 'started', title: 'Evening' }],
  [0, null, { type: 'joined', participant: { id: LEAD, name: 'Ines', guest: false, host: true } }],
  [1, null, { type: 'joined', participant: { id: YOU, name: 'You', guest: true, host: false } }],
  [2, LEAD, changed({ ...VIEW, camera: AWAY }, 'a')],
  [4, LEAD, changed({ selection: [wall] })],
  [6, LEAD, { type: 'marked', put: [{ ...mark, points: [...mark.points], pressures: [] }], gone: [] }],
  [8, null, { type: 'commented', comment: 'c1' }],
  [60, LEAD, changed({ ...VIEW, camera: CAMERA }, 'b')],
  [62, LEAD, changed({ selection: [door] })],
  [64, LEAD, { type: 'ended' }],
];
const EVENTS = LOG.map(([second, by, event], i): SettledEvent => ({ seq: i + 1, at: at(second), by, event }));
const RECORDING: Recording = {
  projectId: 'p1',
  meeting: { id: 'meeting', title: 'Evening', startedAt: at(0), endedAt: at(64), waits: false },
  events: EVENTS,
  comments: [{ id: 'c1', number: 1, text: 'Too low', kind: 'remark' }],
  viewpoints: [
    { id: 'a', name: 'Court' },
    { id: 'b', name: 'Hall' },
  ],
  revisions: [
    { at: at(0), ids: ['r1'] },
    { at: at(30), ids: ['r2'] },
  ],
};

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal(
    'fetch',
    vi.fn().mockImplementation(() => Promise.resolve(Response.json([{ revisionId: 'r2' }]))),
  );
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

function replayed(from: number | null = null) {
  const { store } = testReview();
  store.setState({
    comments: [
      { id: 'c0', meetingId: null, replyTo: null, createdAt: at(-100) },
      { id: 'c1', meetingId: 'meeting', replyTo: null, createdAt: at(8) },
      { id: 'c2', meetingId: null, replyTo: null, createdAt: at(1000) },
    ] as Comment[],
  });
  const replaying: Replaying = new Replaying(store, { recording: RECORDING, at: from }, () => view);
  const view: ViewController = new ViewController(store, replaying, YOU);
  const showModels = vi.fn().mockResolvedValue(undefined);
  replaying.begin(showModels);
  return { store, replaying, view, showModels, state: () => store.getState(), replay: () => store.getState().replay! };
}

/** What a follower had on screen after so many events. */
function followed(count: number) {
  const review = testReview();
  review.store.setState({ agreed: meetingAfter() });
  for (const { by, event } of EVENTS.slice(3, count)) if (event.type !== 'ended') review.settle(by, event);
  return { view: review.state().view, viewpoint: review.state().viewpoint };
}

describe('a meeting that is seen again', () => {
  it('shows at every moment what a follower had on screen, by jumps and while it plays', () => {
    const jumped = replayed();
    for (let count = 4; count < EVENTS.length; count++) {
      jumped.replaying.seek(LOG[count - 1]![0]);
      expect({ view: jumped.state().view, viewpoint: jumped.state().viewpoint }, `after ${count}`).toEqual(
        followed(count),
      );
    }
    const played = replayed();
    played.replaying.play();
    let shown = 0;
    for (let tick = 0; tick < 400 && played.replay().isPlaying; tick++) {
      vi.advanceTimersByTime(100);
      const count = LOG.filter(([second]) => second <= played.replay().at).length;
      if (count === shown || count < 4 || count === EVENTS.length) continue;
      shown = count;
      expect({ view: played.state().view, viewpoint: played.state().viewpoint }, `at ${count}`).toEqual(
        followed(count),
      );
    }
    expect(shown).toBe(EVENTS.length - 1);
    expect(played.replay()).toMatchObject({ isPlaying: false, at: 64 });
  });

  it('leaves out pauses, goes faster where that is wished, and begins where it is asked to', () => {
    const { replaying, replay } = replayed(7);
    expect(replay().at).toBe(8);
    replaying.play();
    vi.advanceTimersByTime(300);
    expect(replay().at).toBeGreaterThan(58); // nothing happens until the sixtieth second
    replaying.setSkips(false);
    replaying.seek(10);
    replaying.setSpeed(8);
    vi.advanceTimersByTime(1000);
    expect(replay().at).toBeCloseTo(18, 0);
    replaying.step(1);
    expect(replay().at).toBe(60);
    replaying.step(-1);
    expect(replay().at).toBe(8);
  });

  it('knows only what had been said by then, and the revisions of then', async () => {
    const { replaying, state, showModels } = replayed();
    expect(state().comments.map(({ id }) => id)).toEqual(['c0']);
    replaying.seek(9);
    expect(state().comments.map(({ id }) => id)).toEqual(['c0', 'c1']);
    expect(fetch).not.toHaveBeenCalled();
    replaying.seek(40);
    await vi.advanceTimersByTimeAsync(1);
    expect(vi.mocked(fetch).mock.calls[0]![0]).toBe('/api/meetings/meeting/stage?revision=r2');
    expect(showModels).toHaveBeenCalledWith([{ revisionId: 'r2' }]);
  });

  it('holds on as soon as somebody looks around by themselves, and shows them what followers had when they come back', () => {
    const { replaying, view, replay, state } = replayed();
    replaying.seek(5);
    replaying.play();
    view.moveCamera(CAMERA);
    expect(replay()).toMatchObject({ isPlaying: false, follows: false });
    replaying.comeBack();
    expect(state().view.camera).toEqual(AWAY);
    expect(replay().follows).toBe(true);
  });
});
