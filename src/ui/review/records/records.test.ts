import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Records } from './records';
import { card, testReview, type TestReview } from '../test-review';

const wall = { model: 'm1', guid: 'wall' };

let review: TestReview;
let records: Records;
const sent: { method: string; path: string; body: unknown }[] = [];
let answers: Record<string, unknown>;

beforeEach(() => {
  review = testReview();
  records = new Records(review.store, '/api/projects/p1', review.view);
  vi.spyOn(review.view, 'picture').mockImplementation((width, mark) =>
    Promise.resolve(`picture ${width} ${mark ? 'ringed' : 'plain'}`),
  );
  sent.length = 0;
  answers = {};
  vi.stubGlobal('fetch', (path: string, init: { method: string; body?: string }) => {
    sent.push({ method: init.method, path, body: init.body === undefined ? undefined : JSON.parse(init.body) });
    const answer = answers[`${init.method} ${path}`];
    if (answer instanceof Error) return Promise.reject(answer);
    return Promise.resolve(answer instanceof Response ? answer : Response.json(answer ?? {}));
  });
});
afterEach(() => vi.unstubAllGlobals());

const viewpoints = '/api/projects/p1/viewpoints';
const comments = '/api/projects/p1/comments';

describe('viewpoints', () => {
  it('are saved with their picture and become the card that is open', async () => {
    answers[`POST ${viewpoints}`] = { id: 'd' };
    answers[`GET ${viewpoints}`] = [card('a'), card('d')];
    await records.saveViewpoint('Desk');
    expect(sent[0]!.body).toEqual({ name: 'Desk', state: review.view.current(), picture: 'picture 480 plain' });
    expect([review.state().viewpoint, review.state().viewpoints.map((one) => one.id)]).toEqual(['d', ['a', 'd']]);
  });

  it('move at once, before the server has answered', () => {
    void records.changeViewpoint('c', { index: 0 });
    expect(review.state().viewpoints.map((one) => one.id)).toEqual(['c', 'a', 'b']);
    void records.changeViewpoint('c', { index: 2 });
    expect(review.state().viewpoints.map((one) => one.id)).toEqual(['a', 'b', 'c']);
  });

  it('that are moved and deleted at once are told in that order, and one that is refused takes no later undo away', async () => {
    const patched = () => sent.filter(({ method }) => method === 'PATCH').map(({ body }) => body);
    let refuse = () => undefined as void;
    const slow = new Promise<Response>((done) => {
      refuse = () => done(Response.json({ title: 'It is gone.' }, { status: 404 }));
    });
    vi.stubGlobal('fetch', (path: string, init: { method: string; body?: string }) => {
      sent.push({ method: init.method, path, body: init.body === undefined ? undefined : JSON.parse(init.body) });
      return patched().length === 1 && init.method === 'PATCH' ? slow : Promise.resolve(Response.json([]));
    });
    const moving = records.changeViewpoint('c', { index: 0 });
    const deleting = records.changeViewpoint('c', { deleted: true });
    await new Promise((done) => setTimeout(done, 5));
    expect(patched()).toEqual([{ index: 0 }]);
    refuse();
    await Promise.all([moving, deleting]);
    expect(patched()).toEqual([{ index: 0 }, { deleted: true }]);
    expect(review.state().undone).toMatchObject({ id: 'c', back: { deleted: false } });
  });

  it('are remembered when deleted, so that they can come back', async () => {
    answers[`GET ${viewpoints}`] = [card('a')];
    await records.changeViewpoint('b', { deleted: true });
    expect(review.state().undone?.id).toBe('b');
    await records.undo();
    expect(review.state().undone).toBeNull();
    expect(sent.filter(({ method }) => method === 'PATCH').map(({ body }) => body)).toEqual([
      { deleted: true },
      { deleted: false },
    ]);
  });

  it('stay as they are when the server refuses, and the reason is shown', async () => {
    answers[`PATCH ${viewpoints}/a`] = Response.json({ title: 'Your access does not allow this.' }, { status: 403 });
    await records.changeViewpoint('a', { name: 'New' });
    expect(review.state().trouble).toBe('Your access does not allow this.');
    expect(review.state().viewpoints[0]!.name).toBe('a');
    expect(review.state().undone).toBeNull();
  });
});

describe('what was done to a viewpoint', () => {
  it('is taken back: name, question, group and place', async () => {
    answers[`GET ${viewpoints}`] = [card('a'), card('b'), card('c')];
    await records.changeViewpoint('b', { question: 'Too low?', minutes: 5 });
    await records.undo();
    await records.changeViewpoint('c', { index: 0, group: 'Roof' });
    await records.undo();
    expect(sent.filter(({ method }) => method === 'PATCH').map(({ body }) => body)).toEqual([
      { question: 'Too low?', minutes: 5 },
      { question: '', minutes: null },
      { index: 0, group: 'Roof' },
      { index: 2, group: '' },
    ]);
  });

  it('is taken back of what it shows too', async () => {
    const before = review.state().viewpoints[1]!.state;
    answers[`GET ${viewpoints}`] = [card('a'), card('b'), card('c')];
    await records.updateViewpoint('b');
    expect(sent.find(({ method }) => method === 'PATCH')!.body).toEqual({
      state: review.view.current(),
      picture: 'picture 480 plain',
    });
    await records.undo();
    expect(sent.filter(({ method }) => method === 'PATCH')[1]!.body).toEqual({ state: before });
  });
});

describe('comments', () => {
  it('carry place, view and a picture with the place ringed', async () => {
    const place = { element: wall, name: 'W'.repeat(400), point: [1, 2, 3] as [number, number, number] };
    expect(await records.say('Too high', place)).toBe(true);
    expect(sent[0]).toEqual({
      method: 'POST',
      path: comments,
      body: {
        text: 'Too high',
        anchor: { element: wall, point: [1, 2, 3] },
        elementName: 'W'.repeat(300),
        view: review.view.current(),
        picture: 'picture 800 ringed',
      },
    });
  });

  it('need no place', async () => {
    await records.say('Lovely', null);
    expect(sent[0]!.body).toEqual({ text: 'Lovely', view: review.view.current(), picture: 'picture 800 plain' });
  });

  it('tell that they are not stored, so that what was written can stay', async () => {
    answers[`POST ${comments}`] = new TypeError('network');
    expect(await records.say('Lost?', null)).toBe(false);
    expect(review.state().trouble).toBe(
      'The server does not answer. What you see stays; check the connection and try again.',
    );
    answers[`POST ${comments}`] = new Response('<html>', { status: 502 });
    expect(await records.decide('Folded', 'v1', 'key')).toBe(false);
    expect(review.state().trouble).toBe('The server could not do that. Nothing was changed; try again.');
  });

  it('and decisions are there once they are stored, with what was seen', async () => {
    answers[`GET ${comments}`] = [{ id: 'c1' }, { id: 'c2' }];
    expect(await records.decide('Folded', 'v1', 'key')).toBe(true);
    expect(sent[0]!.body).toEqual({
      text: 'Folded',
      kind: 'decision',
      viewpointId: 'v1',
      view: review.view.current(),
      picture: 'picture 800 plain',
    });
    expect(review.state().comments.map((comment) => comment.id)).toEqual(['c1', 'c2']);
  });
});
