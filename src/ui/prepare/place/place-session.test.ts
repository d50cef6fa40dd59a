import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { placePoint } from '@/core/placement/placement';
import type { StageModelSource } from '@/core/project/models';
import type { Stage } from '@/stage/stage';
import type { ViewState } from '@/core/view/view-state';
import { PlaceSession } from './place-session';

const placeModel = vi.fn();
const show = vi.fn<(view: Partial<ViewState>) => void>();
const MODELS = ['m', 'walls', 'ducts'].map((modelId) => ({ modelId })) as StageModelSource[];
let session: PlaceSession;
let sent: { path: string; body: unknown }[];

beforeEach(() => {
  placeModel.mockClear();
  show.mockClear();
  sent = [];
  session = new PlaceSession('p', 'm', MODELS, { by: 'file' }, { turn: 0.5, offset: [1, 2, 3] });
  session.stage = { placeModel, show } as unknown as Stage;
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
  tap('walls', [20, 0, 1]);
  expect(session.placement).toEqual({ turn: 0, offset: [20, 0, 1] });
  // The model has moved: what is tapped now stands 20 m further east than in its file.
  tap('m', [30, 0, 1]);
  tap('walls', [20, 10, 1]);
  const { misfit, picking } = session.store.getState();
  expect([picking, Math.round(misfit! * 1e6)]).toEqual([null, 0]);
  placePoint(session.placement, [10, 0, 0]).forEach((value, axis) => expect(value).toBeCloseTo([20, 10, 1][axis]!, 9));
});

it('hides what the next point cannot lie on, and takes no point there', () => {
  const hidden = () => show.mock.lastCall![0].visibility!.hiddenModels;
  session.startPicking();
  expect(hidden()).toEqual(['walls', 'ducts']);
  tap('walls', [1, 1, 1]);
  expect(session.store.getState().picking).toBe('from');
  tap('m', [1, 1, 1]);
  expect(hidden()).toEqual(['m']);
  tap('m', [2, 2, 2]);
  expect(session.store.getState().picking).toBe('to');
  tap('walls', [5, 5, 5]);
  expect(hidden()).toEqual(['walls', 'ducts']);
  session.stopPicking();
  expect(hidden()).toEqual([]);
  expect(session.placement.offset).toEqual([4, 4, 4]);
});

it('tells of points that do not tell a direction, and lets one try again', () => {
  session.startPicking();
  tap('m', [1, 1, 1]);
  tap('walls', [5, 5, 5]);
  tap('m', [5, 5, 9]); // straight above the first
  tap('walls', [7, 7, 7]);
  expect(session.store.getState()).toMatchObject({
    picking: 'from',
    trouble: expect.stringContaining('further apart') as string,
  });
});
