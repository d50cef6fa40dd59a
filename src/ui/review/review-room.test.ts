import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { SHOW_ALL } from '@/core/viewpoint';
import {
  AWAY,
  CAMERA,
  LEAD,
  VIEW,
  YOU,
  card,
  door,
  meetingAfter,
  testReview,
  wall,
  type TestReview,
} from './test-review';

let review: TestReview;
beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('fetch', vi.fn());
  review = testReview();
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

/** The server answers the next requests of the page with these bodies. */
function serverSays(...bodies: unknown[]): void {
  for (const body of bodies) vi.mocked(fetch).mockResolvedValueOnce(Response.json(body));
}

function acted(): unknown[] {
  return review.line.ask.mock.calls.filter(([event]) => event === 'act').map(([, payload]) => payload);
}

describe('a follower', () => {
  beforeEach(() => review.store.setState({ room: meetingAfter([LEAD, { type: 'view-settled', camera: CAMERA }]) }));

  it('sees what the lead sees: camera, visibility, selection, viewpoint', () => {
    const { settle, hear, stage, state } = review;
    settle(LEAD, { type: 'view-settled', camera: AWAY });
    expect(stage.rig.glideTo).toHaveBeenLastCalledWith(AWAY);
    hear('pose', { from: LEAD, camera: CAMERA });
    expect(stage.rig.glideTo).toHaveBeenLastCalledWith(CAMERA);
    settle(LEAD, { type: 'visibility-set', visibility: { ...SHOW_ALL, hidden: [wall] } });
    settle(LEAD, { type: 'selection-set', selection: [door] });
    expect(stage.setState).toHaveBeenLastCalledWith({ ...SHOW_ALL, hidden: [wall] }, [door]);
    settle(LEAD, { type: 'viewpoint-applied', viewpoint: 'b', state: { ...VIEW, camera: AWAY } });
    expect(stage.rig.flyTo).toHaveBeenLastCalledWith(AWAY);
    expect([state().viewpoint, state().visibility]).toEqual(['b', SHOW_ALL]);
  });

  it('ignores poses of those who are not in the lead', () => {
    review.hear('pose', { from: 'somebody', camera: AWAY });
    expect(review.stage.rig.glideTo).not.toHaveBeenCalled();
  });

  it('wanders by hand, by flying somewhere, by changing what shows; selecting is no wandering', () => {
    const { room, view, state } = review;
    const wanders: [string, () => void, boolean][] = [
      ['hand', () => room.moved(AWAY, true), false],
      ['flight of the lead', () => room.moved(AWAY, false), true],
      ['fly to', () => view.flyTo([wall]), false],
      ['hide', () => view.hide([wall]), false],
      ['card', () => view.openViewpoint(card('b')), false],
      ['select', () => view.select([wall]), true],
    ];
    for (const [name, act, follows] of wanders) {
      review.store.setState({ following: true });
      act();
      expect([name, state().following]).toEqual([name, follows]);
    }
    expect(acted()).toEqual([]);
  });

  it('is left alone while wandering, and comes back to where the lead is then', () => {
    const { room, stage, settle, hear, state } = review;
    room.moved(AWAY, true);
    settle(LEAD, { type: 'view-settled', camera: AWAY });
    hear('pose', { from: LEAD, camera: AWAY });
    settle(LEAD, { type: 'visibility-set', visibility: { ...SHOW_ALL, hidden: [wall] } });
    expect(stage.rig.glideTo).not.toHaveBeenCalled();
    expect(state().visibility).toEqual(SHOW_ALL);
    room.comeBack();
    expect(stage.rig.flyTo).toHaveBeenLastCalledWith(AWAY);
    expect(state().visibility.hidden).toEqual([wall]);
  });

  it('may not steer: nothing it does is sent as an event or as a pose', () => {
    review.room.moved(AWAY, true);
    review.room.settledAt(AWAY);
    review.view.showAll();
    expect(acted()).toEqual([]);
    expect(review.line.hint).not.toHaveBeenCalled();
  });

  it('becomes the lead when it is passed, and then steers', () => {
    review.settle(LEAD, { type: 'lead-passed', to: YOU });
    expect(review.room.isLead).toBe(true);
    review.view.hide([wall]);
    review.view.openViewpoint(card('b'));
    review.room.settledAt(CAMERA);
    expect(acted()).toEqual([
      { type: 'visibility-set', visibility: { ...SHOW_ALL, hidden: [wall] } },
      { type: 'viewpoint-applied', viewpoint: 'b' },
      { type: 'view-settled', camera: CAMERA },
    ]);
  });
});

describe('the lead', () => {
  beforeEach(() => review.store.setState({ room: meetingAfter([LEAD, { type: 'lead-passed', to: YOU }]) }));

  it('sends poses twenty times a second at most, pointers likewise', () => {
    vi.setSystemTime(10_000);
    for (let ms = 0; ms < 1000; ms += 10) {
      review.room.moved(CAMERA, true);
      review.room.pointed([1, 2, 3]);
      vi.advanceTimersByTime(10);
    }
    const sent = (event: string) => review.line.hint.mock.calls.filter(([name]) => name === event).length;
    expect(sent('pose')).toBeGreaterThan(15);
    expect(sent('pose')).toBeLessThanOrEqual(21);
    expect(sent('pointer')).toBeLessThanOrEqual(18);
    review.room.pointed(null); // leaving the model is never swallowed
    expect(review.line.hint).toHaveBeenLastCalledWith('pointer', { point: null });
  });

  it('is told why the server refuses', async () => {
    review.line.ask.mockRejectedValueOnce(new Error('Only the person in the lead can do that. Ask for the lead.'));
    review.view.hide([wall]);
    await vi.runAllTimersAsync();
    expect(review.state().trouble).toMatch(/Only the person in the lead/);
  });
});

describe('joining', () => {
  it('takes over the view that goes on', async () => {
    const room = meetingAfter([LEAD, { type: 'viewpoint-applied', viewpoint: 'b', state: { ...VIEW, camera: AWAY } }]);
    serverSays({ meeting: { id: 'm', title: 'Evening', startedAt: '', code: null } });
    review.line.ask.mockResolvedValueOnce({ state: room });
    await review.room.reload();
    expect(review.line.ask).toHaveBeenCalledWith('meet', { id: 'm' });
    expect(review.stage.rig.pose).toEqual(AWAY);
    expect(review.state().viewpoint).toBe('b');
  });

  it('as the first lead gives everybody the own view', async () => {
    const room = { ...meetingAfter(), lead: YOU };
    serverSays({ meeting: { id: 'm', title: 'Evening', startedAt: '', code: '123456' } });
    review.line.ask.mockResolvedValueOnce({ state: room });
    await review.room.start('Evening');
    expect(acted()).toEqual([
      { type: 'visibility-set', visibility: SHOW_ALL },
      { type: 'view-settled', camera: AWAY },
    ]);
  });

  it('says why it could not', async () => {
    vi.mocked(fetch).mockResolvedValueOnce(
      Response.json({ title: 'Your access does not allow this.' }, { status: 403 }),
    );
    await review.room.start('Evening');
    expect([review.state().trouble, review.state().room]).toEqual(['Your access does not allow this.', null]);
  });
});

describe('the stream of events', () => {
  beforeEach(() => review.store.setState({ room: meetingAfter() }));

  it('skips what is known already and asks for everything when there is a gap', async () => {
    const seq = review.state().room!.seq;
    const old = { seq, at: '', by: LEAD, event: { type: 'ended' } };
    review.hear('settled', old);
    expect(review.state().room!.endedAt).toBeNull();

    serverSays({ meeting: { id: 'm', title: 'Evening', startedAt: '', code: null } });
    const now = meetingAfter([LEAD, { type: 'lead-asked' }], [LEAD, { type: 'view-settled', camera: AWAY }]);
    review.line.ask.mockResolvedValueOnce({ state: now });
    review.hear('settled', { seq: seq + 2, at: '', by: LEAD, event: { type: 'view-settled', camera: AWAY } });
    await vi.runAllTimersAsync();
    expect(review.state().room).toEqual(now);
  });

  it('takes pointers away with their people, and everything with the end', () => {
    const { hear, settle, state } = review;
    hear('pointer', { from: LEAD, point: [1, 2, 3] });
    hear('pointer', { from: 'other', point: [4, 5, 6] });
    hear('pointer', { from: 'other', point: null });
    expect(Object.keys(state().pointers)).toEqual([LEAD]);
    settle(null, { type: 'left', participant: LEAD });
    expect(state().pointers).toEqual({});
    review.store.setState({ following: false });
    settle(LEAD, { type: 'ended' });
    expect([state().room, state().meeting, state().following]).toEqual([null, null, true]);
  });
});
