import { SHOW_ALL, type CameraPose, type ElementRef, type ViewState, type Visibility } from '../viewpoint';

/** Somebody in a meeting. The id is the account's or the guest's, so that a returning person is the same person. */
export interface Participant {
  id: string;
  name: string;
  guest: boolean;
  /** May take the lead back at any time. */
  host: boolean;
  present: boolean;
}

/** What everyone agrees on. A pure fold over the meeting's settled events, in the order of their sequence numbers. */
export interface MeetingState {
  seq: number;
  title: string;
  startedAt: string;
  endedAt: string | null;
  participants: Participant[];
  lead: string | null;
  /** Who asked for the lead and waits. */
  asking: string[];
  /** The view that followers hold; null until the lead has shown one. */
  view: ViewState | null;
  viewpoint: string | null;
  /** Viewpoints shown, in order of first showing. */
  shown: string[];
  comments: string[];
}

export type MeetingEvent =
  | { type: 'started'; title: string }
  | { type: 'joined'; participant: Omit<Participant, 'present'> }
  | { type: 'left'; participant: string }
  | { type: 'lead-asked' }
  | { type: 'lead-passed'; to: string }
  | { type: 'lead-taken' }
  | { type: 'view-settled'; camera: CameraPose }
  | { type: 'visibility-set'; visibility: Visibility }
  | { type: 'selection-set'; selection: ElementRef[] }
  | { type: 'viewpoint-applied'; viewpoint: string; state: ViewState }
  | { type: 'commented'; comment: string }
  | { type: 'ended' };

/** An event as stored: numbered by the server from 1 without gaps. */
export interface SettledEvent {
  seq: number;
  at: string;
  /** Participant who caused it; null for the server. */
  by: string | null;
  event: MeetingEvent;
}

/** The events that a participant may send; a viewpoint by its id alone. The rest come from the server. */
export type SentEvent =
  | Extract<
      MeetingEvent,
      {
        type:
          'lead-asked' | 'lead-passed' | 'lead-taken' | 'view-settled' | 'visibility-set' | 'selection-set' | 'ended';
      }
    >
  | { type: 'viewpoint-applied'; viewpoint: string };

export function emptyMeeting(): MeetingState {
  return {
    seq: 0,
    title: '',
    startedAt: '',
    endedAt: null,
    participants: [],
    lead: null,
    asking: [],
    view: null,
    viewpoint: null,
    shown: [],
    comments: [],
  };
}

const LEAD_ONLY = new Set<MeetingEvent['type']>([
  'view-settled',
  'visibility-set',
  'selection-set',
  'viewpoint-applied',
  'lead-passed',
]);

/**
 * Why `by` may not cause `event` now, as a sentence for that person; null if it is allowed. `by` null is the server,
 * which may do anything.
 */
export function objection(state: MeetingState, by: string | null, event: MeetingEvent): string | null {
  if (state.endedAt) return 'The meeting has ended.';
  if (by === null) return null;
  const actor = state.participants.find((participant) => participant.id === by);
  if (!actor) return 'You are not in this meeting any more. Join again.';
  if (LEAD_ONLY.has(event.type) && state.lead !== by)
    return 'Only the person in the lead can do that. Ask for the lead.';
  if (
    event.type === 'lead-passed' &&
    !state.participants.some((participant) => participant.id === event.to && participant.present)
  ) {
    return 'That person is not here any more.';
  }
  if ((event.type === 'lead-taken' || event.type === 'ended') && !actor.host)
    return 'Only the host of the meeting can do that.';
  return null;
}

const NO_CAMERA: CameraPose = { position: [0, 0, 0], target: [0, 1, 0], fov: 50 };

/** The next state. Never changes its argument; an event that is out of order is a mistake of the caller. */
export function reduceMeeting(state: MeetingState, { seq, at, by, event }: SettledEvent): MeetingState {
  if (seq !== state.seq + 1) throw new RangeError(`event ${seq} cannot follow ${state.seq}`);
  return { ...apply(state, at, by, event), seq };
}

function apply(state: MeetingState, at: string, by: string | null, event: MeetingEvent): MeetingState {
  const view = state.view ?? { camera: NO_CAMERA, visibility: SHOW_ALL, selection: [] };
  switch (event.type) {
    case 'started':
      return { ...state, title: event.title, startedAt: at };
    case 'joined': {
      const joined = { ...event.participant, present: true };
      const known = state.participants.some((participant) => participant.id === joined.id);
      const participants = known
        ? state.participants.map((old) => (old.id === joined.id ? joined : old))
        : [...state.participants, joined];
      return { ...state, participants, lead: state.lead ?? (joined.host ? joined.id : null) };
    }
    case 'left':
      return {
        ...state,
        participants: state.participants.map((old) =>
          old.id === event.participant ? { ...old, present: false } : old,
        ),
        asking: state.asking.filter((id) => id !== event.participant),
      };
    case 'lead-asked':
      return by === null || by === state.lead || state.asking.includes(by)
        ? state
        : { ...state, asking: [...state.asking, by] };
    case 'lead-passed':
      return { ...state, lead: event.to, asking: state.asking.filter((id) => id !== event.to) };
    case 'lead-taken':
      return { ...state, lead: by, asking: state.asking.filter((id) => id !== by) };
    case 'view-settled':
      return { ...state, view: { ...view, camera: event.camera } };
    case 'visibility-set':
      return { ...state, view: { ...view, visibility: event.visibility }, viewpoint: null };
    case 'selection-set':
      return { ...state, view: { ...view, selection: event.selection } };
    case 'viewpoint-applied':
      return {
        ...state,
        view: event.state,
        viewpoint: event.viewpoint,
        shown: state.shown.includes(event.viewpoint) ? state.shown : [...state.shown, event.viewpoint],
      };
    case 'commented':
      return { ...state, comments: [...state.comments, event.comment] };
    case 'ended':
      return { ...state, endedAt: at };
  }
}
