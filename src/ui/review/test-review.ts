import { vi } from 'vitest';
import { emptyMeeting, reduceMeeting, type MeetingEvent, type MeetingState } from '@/core/meeting/meeting';
import { SHOW_ALL, type CameraPose, type ViewState } from '@/core/viewpoint';
import { ReviewRoom, type RoomLine } from './review-room';
import { createReviewStore, type ReviewStart } from './review-state';
import { ReviewView, type ViewStage } from './review-view';

/** A Review without a screen or a server: the stage and the live connection are recorded, the rest is real. */

export const CAMERA: CameraPose = { position: [0, -10, 5], target: [0, 0, 0], fov: 50 };
export const AWAY: CameraPose = { position: [9, 9, 9], target: [1, 1, 1], fov: 40 };
export const VIEW: ViewState = { camera: CAMERA, visibility: SHOW_ALL, selection: [] };
export const YOU = 'you';
export const LEAD = 'lead';
export const wall = { model: 'm1', guid: 'wall' };
export const door = { model: 'm1', guid: 'door' };

export function card(id: string, camera = CAMERA) {
  return { id, name: id, state: { ...VIEW, camera }, hasPicture: false };
}

const START: ReviewStart = {
  project: { id: 'p1', name: 'Library' },
  you: { id: YOU, name: 'You' },
  rights: { arrange: true, host: false, comment: true, stations: true },
  models: [],
  options: [],
  fixedOptions: {},
  viewpoints: [card('a'), card('b', AWAY), card('c')],
  comments: [],
  meeting: null,
  focus: null,
  older: null,
};

/** The state of a meeting after some events, `LEAD` and `YOU` being there and `LEAD` in the lead. */
export function meetingAfter(...more: [by: string | null, event: MeetingEvent][]): MeetingState {
  const events: [string | null, MeetingEvent][] = [
    [null, { type: 'started', title: 'Evening' }],
    [null, { type: 'joined', participant: { id: LEAD, name: 'Ines', guest: false, host: true } }],
    [null, { type: 'joined', participant: { id: YOU, name: 'You', guest: true, host: false } }],
    ...more,
  ];
  return events.reduce(
    (state, [by, event], i) => reduceMeeting(state, { seq: i + 1, at: '2026-01-01T00:00:00Z', by, event }),
    emptyMeeting(),
  );
}

export function testReview() {
  const store = createReviewStore(START);
  const rig = { pose: CAMERA, destination: AWAY, flyTo: vi.fn(), glideTo: vi.fn() };
  const stage = {
    rig,
    setState: vi.fn(),
    flyToElements: vi.fn(),
    showWhole: vi.fn(),
    picture: vi.fn<ViewStage['picture']>(),
  };
  const room: ReviewRoom = new ReviewRoom(store, '/api/projects/p1', YOU, () => view);
  const view: ReviewView = new ReviewView(store, room);
  view.stage = stage;

  const listeners = new Map<string, (payload: unknown) => void>();
  const line = {
    ask: vi.fn<(event: string, payload: object) => Promise<unknown>>().mockResolvedValue({}),
    hint: vi.fn<(event: string, payload: object) => void>(),
    on: (event: string, listener: (payload: never) => void) =>
      void listeners.set(event, listener as (payload: unknown) => void),
  };
  room.listen(line as unknown as RoomLine);
  const hear = (event: string, payload: unknown) => listeners.get(event)!(payload);
  const settle = (by: string | null, event: MeetingEvent) =>
    hear('settled', { seq: store.getState().room!.seq + 1, at: '2026-01-01T00:00:01Z', by, event });
  return { store, stage, room, view, line, hear, settle, state: () => store.getState() };
}

export type TestReview = ReturnType<typeof testReview>;
