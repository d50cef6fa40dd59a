import type { Vec3 } from '@/core/math/mat4';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Mark } from '@/core/mark/marks';
import { Refusal } from '../../api';
import { setOf } from '@/core/elements/element-set';
import { SHOW_ALL } from '@/core/view/visibility';
import {
  AWAY,
  CAMERA,
  LEAD,
  VIEW,
  YOU,
  card,
  changed,
  door,
  meetingAfter,
  testReview,
  wall,
  type TestReview,
} from '../test-review';

const MARK: Mark = {
  id: '00000000-0000-4000-8000-00000000000a',
  kind: 'free',
  ink: 'madder',
  pen: 'fine',
  points: [0, 0, 0.1, 0.1],
  pressures: [],
  text: '',
  camera: CAMERA,
  by: { id: LEAD, name: 'Lead' },
};
const MEETING = { id: 'm', title: 'Evening', startedAt: '', code: null };
const WALL_ONLY = { ...SHOW_ALL, shown: setOf([wall]) };

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

it('what somebody draws is told as it grows, also its last bit, and no more once it is drawn', () => {
  review.store.setState({ agreed: meetingAfter([LEAD, changed({ camera: CAMERA })]) });
  const points = (count: number) => ({ ...MARK, points: Array.from({ length: 2 * count }, (_, i) => i / 10) });
  const grown = () => review.line.hint.mock.calls.filter(([event]) => event === 'growing').map(([, sent]) => sent);
  vi.advanceTimersByTime(1000);
  for (const count of [2, 3, 4]) review.meeting.growing(points(count));
  expect(grown()).toHaveLength(1);
  vi.advanceTimersByTime(500);
  // The hand rests with the pen on the paper: all of it is told.
  expect(grown()).toHaveLength(2);
  expect(grown().at(-1)).toMatchObject({ growth: { mark: { points: points(4).points.slice(4) } } });
  review.meeting.growing(points(5));
  review.meeting.growing(points(6));
  review.meeting.marked([points(6)], []);
  const before = grown().length;
  vi.advanceTimersByTime(500);
  expect(grown()).toHaveLength(before);
});

describe('a server that is away', () => {
  const away = () => Promise.reject(new Refusal(0, 'No answer.'));
  const asked = () => acted().length;

  it('hears afterwards what the lead shows then, once, and the note about it goes', async () => {
    review = testReview(LEAD);
    review.store.setState({ meeting: MEETING, agreed: meetingAfter([LEAD, changed({ camera: CAMERA })]) });
    review.line.ask.mockImplementationOnce(away).mockImplementationOnce(away).mockImplementationOnce(away);
    review.view.openViewpoint(card('b', AWAY));
    review.view.cameraRested(CAMERA);
    await vi.advanceTimersByTimeAsync(10);
    expect(review.state().trouble).toMatch(/Others see what you do/);
    await vi.advanceTimersByTimeAsync(1100);
    expect([asked(), review.line.ask.mock.calls.at(-1)![0]], 'it may know nobody any more').toEqual([2, 'meet']);
    review.view.openViewpoint(card('a'));
    await vi.advanceTimersByTimeAsync(1100);
    expect(acted().slice(2)).toEqual([
      { type: 'view-changed', viewpoint: 'a' },
      { type: 'view-changed', viewpoint: 'a' }, // to be sure
    ]);
    expect(review.state().trouble).toBeNull();
    await vi.advanceTimersByTimeAsync(10_000);
    expect(asked()).toBe(4);
  });

  it('hears of marks in their order when one is back in the meeting, and takes no mark from anybody', async () => {
    const theirs = { ...MARK, id: '00000000-0000-4000-8000-00000000000b' };
    const mine = { ...MARK, by: { id: YOU, name: 'You' } };
    const more = { ...mine, id: '00000000-0000-4000-8000-00000000000c' };
    review.store.setState({ meeting: MEETING, agreed: meetingAfter([LEAD, changed({ camera: CAMERA })]) });
    review.line.ask.mockImplementation(away);
    for (const mark of [mine, more]) {
      review.view.takeMarks([mark], []);
      review.meeting.marked([mark], []);
    }
    await vi.advanceTimersByTimeAsync(100);
    const meanwhile = meetingAfter([LEAD, changed({ camera: AWAY, marks: [theirs] })]);
    review.line.ask
      .mockReset()
      .mockImplementation((event) => Promise.resolve(event === 'meet' ? { state: meanwhile } : {}));
    serverSays({ meeting: MEETING });
    await review.meeting.reload();
    expect(acted()).toEqual([
      { type: 'marked', put: [mine], gone: [] },
      { type: 'marked', put: [more], gone: [] },
    ]);
    expect(review.state().view.marks.map(({ id }) => id)).toEqual([theirs.id, mine.id, more.id]);
    expect(review.state().trouble).toBeNull();
  });

  it('does not hear of the view of somebody who does not lead any more', async () => {
    review = testReview(LEAD);
    review.store.setState({ meeting: MEETING, agreed: meetingAfter([LEAD, changed({ camera: CAMERA })]) });
    review.line.ask.mockImplementationOnce(away);
    review.view.openViewpoint(card('b', AWAY));
    await vi.advanceTimersByTimeAsync(10);
    review.store.setState({
      agreed: meetingAfter([LEAD, changed({ camera: CAMERA })], [LEAD, { type: 'lead-passed', to: YOU }]),
    });
    await vi.advanceTimersByTimeAsync(1100);
    expect(asked()).toBe(1);
  });

  it('refuses for good in its own words, and what has no effect on the view is not asked again', async () => {
    review.store.setState({ agreed: meetingAfter([LEAD, changed({ camera: CAMERA })]) });
    review.line.ask.mockImplementationOnce(away);
    review.meeting.act({ type: 'lead-asked' });
    await vi.advanceTimersByTimeAsync(5000);
    expect([asked(), review.state().trouble]).toEqual([1, 'No answer.']);
  });
});

describe('a follower', () => {
  beforeEach(() => review.store.setState({ agreed: meetingAfter([LEAD, changed({ camera: CAMERA })]) }));

  it('sees what the lead sees, whatever part of the view it is', () => {
    const { settle, hear, stage, state } = review;
    settle(LEAD, changed({ camera: AWAY }));
    expect(stage.flyTo).toHaveBeenLastCalledWith(AWAY);
    hear('view-moving', { from: LEAD, change: { camera: CAMERA }, after: state().agreed!.seq });
    expect(stage.glideTo).toHaveBeenLastCalledWith(CAMERA);
    const fades = [{ of: setOf([door]), clear: 0.5 }];
    settle(LEAD, changed({ visibility: WALL_ONLY }));
    settle(LEAD, changed({ selection: [door], fades }));
    expect(stage.show).toHaveBeenLastCalledWith(
      expect.objectContaining({ visibility: WALL_ONLY, selection: [door], fades }),
    );
    settle(LEAD, changed({ ...VIEW, camera: AWAY }, 'b'));
    expect(stage.flyTo).toHaveBeenLastCalledWith(AWAY);
    expect([state().viewpoint, state().view]).toEqual(['b', { ...VIEW, camera: AWAY }]);
  });

  it('is not taken back by a hint that comes after what the lead has settled since', () => {
    const { settle, hear, state } = review;
    const before = state().agreed!.seq;
    const fade = (clear: number) => ({ fades: [{ of: setOf([door]), clear }] });
    hear('view-moving', { from: LEAD, change: fade(0.4), after: before });
    expect(state().view.fades[0]!.clear).toBe(0.4);
    settle(LEAD, changed(fade(0.5)));
    hear('view-moving', { from: LEAD, change: fade(0.45), after: before });
    expect(state().view.fades[0]!.clear).toBe(0.5);
    hear('view-moving', { from: LEAD, change: fade(0.6), after: before + 1 });
    expect(state().view.fades[0]!.clear).toBe(0.6);
  });

  it('sees no line grow that is drawn already', () => {
    const { settle, hear, state } = review;
    const before = state().agreed!.seq;
    const growth = { mark: MARK, from: 0 };
    hear('growing', { by: LEAD, growth, after: before });
    expect(Object.keys(state().growing)).toEqual([LEAD]);
    settle(LEAD, { type: 'marked', put: [MARK], gone: [] });
    hear('growing', { by: LEAD, growth, after: before });
    expect(state().growing).toEqual({});
    hear('growing', { by: LEAD, growth, after: before + 1 });
    expect(Object.keys(state().growing)).toEqual([LEAD]);
  });

  it('sees a comment that the lead opens as the lead does', () => {
    const { settle, state } = review;
    const view = { ...VIEW, camera: AWAY, visibility: WALL_ONLY, selection: [wall] };
    settle(LEAD, changed(view));
    expect(state().view).toEqual(view);
  });

  it('sees the card go when the lead turns away from it', () => {
    const { settle, state } = review;
    settle(LEAD, changed({ ...VIEW, camera: AWAY }, 'b'));
    settle(LEAD, changed({ selection: [wall] }));
    expect([state().viewpoint, state().agreed!.viewpoint]).toEqual(['b', 'b']);
    settle(LEAD, changed({ camera: CAMERA }));
    expect([state().viewpoint, state().agreed!.viewpoint]).toEqual([null, null]);
  });

  it('ignores hints of those who are not in the lead', () => {
    review.hear('view-moving', { from: 'somebody', change: { camera: AWAY }, after: review.state().agreed!.seq });
    expect(review.state().view.camera).toEqual(CAMERA);
  });

  it('wanders by hand, by flying somewhere, by changing what shows; selecting is no wandering', () => {
    const { view, state } = review;
    const wanders: [string, () => void, boolean][] = [
      ['hand', () => view.moveCamera(AWAY), false],
      ['fly to', () => view.flyTo([wall]), false],
      ['hide', () => view.hide([wall]), false],
      ['slider', () => view.fade(setOf([wall]), 0.5, true), false],
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
    const { meeting, view, stage, settle, hear, state } = review;
    view.moveCamera(CAMERA);
    settle(LEAD, changed({ camera: AWAY }));
    hear('view-moving', { from: LEAD, change: { camera: AWAY }, after: state().agreed!.seq });
    settle(LEAD, changed({ visibility: WALL_ONLY }));
    expect(state().view).toEqual(VIEW);
    meeting.comeBack();
    expect(stage.flyTo).toHaveBeenLastCalledWith(AWAY);
    expect(state().view.visibility).toEqual(WALL_ONLY);
  });

  it('may not steer: nothing it does is sent as an event or as a hint', () => {
    review.view.moveCamera(AWAY);
    review.view.cameraRested(AWAY);
    review.view.showAll();
    expect(acted()).toEqual([]);
    expect(review.line.hint).not.toHaveBeenCalled();
  });

  it('becomes the lead when it is passed, and then steers', () => {
    review.settle(LEAD, { type: 'lead-passed', to: YOU });
    expect(review.meeting.isLead).toBe(true);
    review.view.showOnly([wall]);
    review.view.openViewpoint(card('b'));
    review.view.cameraRested(CAMERA);
    review.view.undo();
    expect(acted()).toEqual([
      { type: 'view-changed', change: { visibility: WALL_ONLY } },
      { type: 'view-changed', viewpoint: 'b' },
      { type: 'view-changed', change: { camera: CAMERA } },
      { type: 'view-changed', change: { visibility: WALL_ONLY } },
    ]);
  });
});

describe('the lead', () => {
  beforeEach(() => review.store.setState({ agreed: meetingAfter([LEAD, { type: 'lead-passed', to: YOU }]) }));

  it('tells what is under the hand twenty times a second at most, pointers likewise', () => {
    vi.setSystemTime(10_000);
    for (let ms = 0; ms < 1000; ms += 10) {
      review.view.moveCamera(CAMERA);
      review.meeting.pointed([1, 2, 3]);
      vi.advanceTimersByTime(10);
    }
    const sent = (event: string) => review.line.hint.mock.calls.filter(([name]) => name === event).length;
    expect(sent('view-moving')).toBeGreaterThan(15);
    expect(sent('view-moving')).toBeLessThanOrEqual(21);
    expect(sent('pointer')).toBeLessThanOrEqual(18);
    const eyes = (x: number) => ({ at: [x, 0, 1.6] as Vec3, towards: [1, 0, 0] as Vec3, stands: 1.6 });
    for (let x = 0; x < 100; x++) {
      review.meeting.looked(eyes(x));
      vi.advanceTimersByTime(10);
    }
    vi.advanceTimersByTime(200);
    expect(sent('eyes')).toBeLessThanOrEqual(12);
    expect(review.line.hint).toHaveBeenLastCalledWith('eyes', { eyes: eyes(99) }); // where they stop is told
    review.meeting.pointed(null); // leaving the model is never swallowed
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
    const room = meetingAfter([LEAD, changed({ ...VIEW, camera: AWAY }, 'b')]);
    serverSays({ meeting: { id: 'm', title: 'Evening', startedAt: '', code: null } });
    review.line.ask.mockResolvedValueOnce({ state: room });
    await review.meeting.reload();
    expect(review.line.ask).toHaveBeenCalledWith('meet', { id: 'm' });
    expect(review.stage.jumpTo).toHaveBeenLastCalledWith(AWAY);
    expect(review.state().viewpoint).toBe('b');
  });

  it('as the first lead gives everybody the own view', async () => {
    const room = { ...meetingAfter(), lead: YOU };
    serverSays({ meeting: { id: 'm', title: 'Evening', startedAt: '', code: '123456' } });
    review.line.ask.mockResolvedValueOnce({ state: room });
    await review.meeting.start('Evening');
    expect(acted()).toEqual([{ type: 'view-changed', change: VIEW }]);
  });

  it('says why it could not', async () => {
    vi.mocked(fetch).mockResolvedValueOnce(
      Response.json({ title: 'Your access does not allow this.' }, { status: 403 }),
    );
    await review.meeting.start('Evening');
    expect([review.state().trouble, review.state().agreed]).toEqual(['Your access does not allow this.', null]);
  });
});

describe('the stream of events', () => {
  beforeEach(() => review.store.setState({ agreed: meetingAfter() }));

  it('skips what is known already and asks for everything when there is a gap', async () => {
    const seq = review.state().agreed!.seq;
    const old = { seq, at: '', by: LEAD, event: { type: 'ended' } };
    review.hear('settled', old);
    expect(review.state().agreed!.endedAt).toBeNull();

    serverSays({ meeting: { id: 'm', title: 'Evening', startedAt: '', code: null } });
    const now = meetingAfter([LEAD, { type: 'lead-asked' }], [LEAD, changed({ camera: AWAY })]);
    review.line.ask.mockResolvedValueOnce({ state: now });
    review.hear('settled', { seq: seq + 2, at: '', by: LEAD, event: changed({ camera: AWAY }) });
    await vi.runAllTimersAsync();
    expect(review.state().agreed).toEqual(now);
  });

  it('knows from where others look, not oneself, until they are gone', () => {
    const { hear, settle, state } = review;
    const eyes = { at: [1, 2, 3.2], towards: [0, 1, 0], stands: 1.6 };
    hear('shown', { eyes: { [LEAD]: eyes, other: { ...eyes, stands: null }, [YOU]: eyes } });
    expect(state().eyes).toEqual({ [LEAD]: eyes, other: { ...eyes, stands: null } });
    hear('shown', { eyes: { other: null } });
    settle(null, { type: 'left', participant: LEAD });
    expect(state().eyes).toEqual({});
  });

  it('takes pointers away with their people, and everything with the end', () => {
    const { hear, settle, state } = review;
    hear('shown', { pointers: { [LEAD]: [1, 2, 3], other: [4, 5, 6], [YOU]: [7, 8, 9] } });
    expect(Object.keys(state().pointers)).toEqual([LEAD, 'other']); // nobody sees their own
    hear('shown', { pointers: { other: null } });
    expect(Object.keys(state().pointers)).toEqual([LEAD]);
    settle(null, { type: 'left', participant: LEAD });
    expect(state().pointers).toEqual({});
    review.store.setState({ following: false });
    settle(LEAD, { type: 'ended' });
    expect([state().agreed, state().meeting, state().following]).toEqual([null, null, true]);
  });
});
