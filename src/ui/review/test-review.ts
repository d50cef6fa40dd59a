import { vi } from 'vitest';
import { emptyMeeting, reduceMeeting, type MeetingEvent, type MeetingState } from '@/core/meeting/meeting';
import type { Where } from '@/core/elements/element-set';
import type { CameraPose } from '@/core/view/camera';
import { INITIAL_VIEW, type ViewState } from '@/core/view/view-state';
import { MeetingLine, type Line } from './meeting/meeting-line';
import { createReviewStore, type ReviewStart } from './review-state';
import { bindStage } from './view/stage-binding';
import { ViewController, type ViewStage } from './view/view-controller';

/** A Review without a screen or a server: the stage and the live connection are recorded, the rest is real. */

export const CAMERA: CameraPose = { position: [0, -10, 5], target: [0, 0, 0], fov: 50 };
export const AWAY: CameraPose = { position: [9, 9, 9], target: [1, 1, 1], fov: 40 };
export const VIEW: ViewState = { ...INITIAL_VIEW, camera: CAMERA };
export const YOU = 'you';
export const LEAD = 'lead';
export const wall: Where = [
  { is: 'model', value: 'm1' },
  { is: 'element', guids: ['wall'] },
];
export const door: Where = [
  { is: 'model', value: 'm1' },
  { is: 'element', guids: ['door'] },
];
export const ducts: Where = [
  { is: 'model', value: 'm1' },
  { is: 'category', value: 'Duct' },
];

export function card(id: string, camera = CAMERA) {
  return {
    id,
    name: id,
    state: { ...VIEW, camera },
    hasPicture: false,
    group: '',
    isShared: true,
    question: '',
    minutes: null,
    parts: null,
    pictured: '2026-01-01T00:00:00Z',
  };
}

const START: ReviewStart = {
  project: { id: 'p1', name: 'Library' },
  you: { id: YOU, name: 'You' },
  rights: { arrange: true, host: false, comment: true, assign: true, stations: true, take: true },
  models: [],
  options: [],
  approvals: [],
  fixedOptions: {},
  site: { site: null, by: null },
  viewpoints: [card('a'), card('b', AWAY), card('c')],
  comments: [],
  meeting: null,
  beside: null,
  first: null,
  focus: null,
  note: null,
  replay: null,
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

export function changed(change: Partial<ViewState>, viewpoint: string | null = null): MeetingEvent {
  return { type: 'view-changed', change, viewpoint };
}

/** @param you whose page it is */
export function testReview(you = YOU) {
  const store = createReviewStore(START);
  // Where the camera is, or is going.
  const rig = { destination: CAMERA };
  const go = (pose: CameraPose) => void (rig.destination = pose);
  const stage = {
    show: vi.fn<(view: Partial<ViewState>) => void>(),
    jumpTo: vi.fn(go),
    flyTo: vi.fn(go),
    glideTo: vi.fn(go),
    poseOf: vi.fn<ViewStage['poseOf']>().mockReturnValue(AWAY),
    wholePose: vi.fn<ViewStage['wholePose']>().mockReturnValue(AWAY),
    picture: vi.fn<ViewStage['picture']>(),
  };
  const meeting: MeetingLine = new MeetingLine(store, '/api/projects/p1', you, () => view);
  const view: ViewController = new ViewController(store, meeting, you);
  view.stage = stage;
  bindStage(store, {
    show: stage.show,
    rig: {
      get destination() {
        return rig.destination;
      },
      jumpTo: stage.jumpTo,
      flights: stage,
    },
  });

  const listeners = new Map<string, (payload: unknown) => void>();
  const line = {
    ask: vi.fn<(event: string, payload: object) => Promise<unknown>>().mockResolvedValue({}),
    hint: vi.fn<(event: string, payload: object) => void>(),
    on: (event: string, listener: (payload: never) => void) =>
      void listeners.set(event, listener as (payload: unknown) => void),
  };
  meeting.listen(line as unknown as Line);
  const hear = (event: string, payload: unknown) => listeners.get(event)!(payload);
  const settle = (by: string | null, event: MeetingEvent) =>
    hear('settled', { seq: store.getState().agreed!.seq + 1, at: '2026-01-01T00:00:01Z', by, event });
  return { store, stage, meeting, view, line, hear, settle, state: () => store.getState() };
}

export type TestReview = ReturnType<typeof testReview>;
