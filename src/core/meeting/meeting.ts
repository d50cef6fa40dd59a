import { withMarks, type Mark } from '../mark/marks';
import { INITIAL_VIEW, keepsViewpoint, mergeView, type ViewChange, type ViewState } from '../view/view-state';

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
  /** The viewpoint that is shown, as long as nothing of the view was changed since it was opened. */
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
  /** Parts of the view changed; all of them where a viewpoint was opened. */
  | { type: 'view-changed'; change: ViewChange; viewpoint: string | null }
  /** Somebody drew on what is seen, or took away what was drawn. */
  | { type: 'marked'; put: Mark[]; gone: string[] }
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

/** The events that a participant may send. A viewpoint goes by its id alone; the rest come from the server. */
export type SentEvent =
  | Extract<MeetingEvent, { type: 'lead-asked' | 'lead-passed' | 'lead-taken' | 'marked' | 'ended' }>
  | { type: 'view-changed'; change: ViewChange }
  | { type: 'view-changed'; viewpoint: string };

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

const LEAD_ONLY = new Set<MeetingEvent['type']>(['view-changed', 'lead-passed']);

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
  if (event.type === 'marked' && state.lead !== by) {
    const touched = new Set([...event.put.map(({ id }) => id), ...event.gone]);
    if (state.view?.marks.some((mark) => touched.has(mark.id) && mark.by.id !== by))
      return 'Only the person who drew that, or who leads, can change it.';
  }
  if ((event.type === 'lead-taken' || event.type === 'ended') && !actor.host)
    return 'Only the host of the meeting can do that.';
  return null;
}

/** The next state. Never changes its argument; an event that is out of order is a mistake of the caller. */
export function reduceMeeting(state: MeetingState, { seq, at, by, event }: SettledEvent): MeetingState {
  if (seq !== state.seq + 1) throw new RangeError(`event ${seq} cannot follow ${state.seq}`);
  return { ...apply(state, at, by, event), seq };
}

function apply(state: MeetingState, at: string, by: string | null, event: MeetingEvent): MeetingState {
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
    case 'view-changed': {
      const { change } = event;
      const viewpoint = event.viewpoint ?? (keepsViewpoint(change) ? state.viewpoint : null);
      return {
        ...state,
        view: mergeView(state.view ?? INITIAL_VIEW, change),
        viewpoint,
        shown: viewpoint === null || state.shown.includes(viewpoint) ? state.shown : [...state.shown, viewpoint],
      };
    }
    case 'marked':
      return state.view
        ? { ...state, view: { ...state.view, marks: withMarks(state.view.marks, event.put, event.gone) } }
        : state;
    case 'commented':
      return { ...state, comments: [...state.comments, event.comment] };
    case 'ended':
      return { ...state, endedAt: at };
  }
}
