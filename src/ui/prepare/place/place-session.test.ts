import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { placePoint } from '@/core/placement/placement';
import type { Stage } from '@/stage/stage';
import { PlaceSession } from './place-session';

const placeModel = vi.fn();
let session: PlaceSession;
let sent: { path: string; body: unknown }[];

beforeEach(() => {
  placeModel.mockClear();
  sent = [];
  session = new PlaceSession('p', 'm', [], { by: 'file' }, { turn: 0.5, offset: [1, 2, 3] });
  session.stage = { placeModel } as unknown as Stage;
  vi.stubGlobal('fetch', (path: string, init: { body: string }) => {
    sent.push({ path, body: JSON.parse(init.body) });
    return Promise.resolve(Response.json({}));
  });
});
afterEach(() => vi.unstubAllGlobals());

const tap = (model: string, point: [number, number, number]) =>
  session.picked({ element: { model, guid: 'g' }, point });

it('shows at once what is chosen, and keeps it', async () => {
  session.choose('georeference');
  expect(placeModel).toHaveBeenLastCalledWith('m', { turn: 0.5, offset: [1, 2, 3] });
  expect(await session.keep()).toBe(true);
  session.choose('file');
  expect(placeModel).toHaveBeenLastCalledWith('m', { turn: 0, offset: [0, 0, 0] });
  session.choose('hand');
  session.setHand({ turn: 1, offset: [4, 5, 6] });
  await session.keep();
  expect(sent).toEqual([
    { path: '/api/projects/p/models/m', body: { placement: { by: 'georeference' } } },
    { path: '/api/projects/p/models/m', body: { placement: { by: 'hand', turn: 1, offset: [4, 5, 6] } } },
  ]);
});

it('moves by the first pair of points, turns by the second, and says how well they fit', () => {
  session.startPicking();
  tap('m', [0, 0, 0]);
  tap('other', [20, 0, 1]);
  expect(session.placement).toEqual({ turn: 0, offset: [20, 0, 1] });
  // The model has moved: what is tapped now stands 20 m further east than in its file.
  tap('m', [30, 0, 1]);
  tap('other', [20, 10, 1]);
  const { misfit, picking } = session.store.getState();
  expect([picking, Math.round(misfit! * 1e6)]).toEqual([null, 0]);
  placePoint(session.placement, [10, 0, 0]).forEach((value, axis) => expect(value).toBeCloseTo([20, 10, 1][axis]!, 9));
});

it('tells a tap on the wrong model, and lets one try again', () => {
  session.startPicking();
  tap('other', [1, 1, 1]);
  expect(session.store.getState().trouble).toContain('That is another model');
  tap('m', [1, 1, 1]);
  tap('m', [2, 2, 2]);
  expect(session.store.getState().trouble).toContain('That is the same model');
  tap('other', [5, 5, 5]);
  expect(session.placement.offset).toEqual([4, 4, 4]);
  tap('m', [5, 5, 9]); // straight above the first
  tap('other', [7, 7, 7]);
  expect(session.store.getState()).toMatchObject({
    picking: 'from',
    trouble: expect.stringContaining('further apart') as string,
  });
});
