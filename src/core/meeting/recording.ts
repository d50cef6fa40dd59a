import type { CommentKind } from '../project/comment';
import { emptyMeeting, reduceMeeting, type MeetingState, type SettledEvent } from './meeting';
import type { MeetingSummary } from './meeting-record';

/** A meeting as it was, to be seen again. */
export interface Recording {
  projectId: string;
  meeting: MeetingSummary;
  events: SettledEvent[];
  comments: { id: string; number: number | null; text: string; kind: CommentKind }[];
  viewpoints: { id: string; name: string }[];
  /** Which revisions stood from when on, ISO instants; the first from the beginning. */
  revisions: { at: string; ids: string[] }[];
}

/** What one jumps to in a recording. */
export interface Moment {
  /** Number of the event. */
  seq: number;
  /** Seconds from the beginning. */
  at: number;
  kind: 'viewpoint' | 'comment' | 'decision' | 'action';
  words: string;
}

/** A meeting on a line of time, in seconds from its first event. */
export class Timeline {
  readonly length: number;
  readonly moments: readonly Moment[];
  private readonly times: readonly number[];
  /** States after every so many events, so that any moment is near one. */
  private readonly states: MeetingState[] = [];

  constructor(private readonly recording: Recording) {
    const { events } = recording;
    const start = Date.parse(events[0]?.at ?? recording.meeting.startedAt);
    this.times = events.map(({ at }) => (Date.parse(at) - start) / 1000);
    this.length = this.times.at(-1) ?? 0;
    this.moments = momentsOf(recording, this.times);
    let state = emptyMeeting();
    events.forEach((event, i) => {
      if (i % EVERY === 0) this.states.push(state);
      state = reduceMeeting(state, event);
    });
  }

  /** How many events have happened by then. */
  countAt(seconds: number): number {
    let [low, high] = [0, this.times.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.times[middle]! <= seconds) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  /** What everyone agreed on after so many events: what followers saw. */
  stateAfter(count: number): MeetingState {
    const from = Math.min(Math.floor(count / EVERY), Math.max(this.states.length - 1, 0));
    return this.recording.events.slice(from * EVERY, count).reduce(reduceMeeting, this.states[from] ?? emptyMeeting());
  }

  /** The event with a number, from 1. */
  event(seq: number): SettledEvent | undefined {
    return this.recording.events[seq - 1];
  }

  /** When an event happened, in seconds; the end for one that is not there. */
  timeOf(seq: number): number {
    return this.times[seq - 1] ?? this.length;
  }

  /** When the next thing happens after a moment; null at the end. */
  nextAfter(seconds: number): number | null {
    return this.times[this.countAt(seconds)] ?? null;
  }

  /** The revisions that stood then. */
  revisionsAt(seconds: number): string[] {
    const start = Date.parse(this.recording.events[0]?.at ?? this.recording.meeting.startedAt);
    const now = start + seconds * 1000;
    return (
      (this.recording.revisions.findLast(({ at }) => Date.parse(at) <= now) ?? this.recording.revisions[0])?.ids ?? []
    );
  }
}

const EVERY = 100;

function momentsOf({ events, comments, viewpoints }: Recording, times: readonly number[]): Moment[] {
  const names = new Map(viewpoints.map(({ id, name }) => [id, name]));
  const said = new Map(comments.map((comment) => [comment.id, comment]));
  const moments: Moment[] = [];
  let shown: string | null = null;
  events.forEach(({ seq, event }, i) => {
    if (event.type === 'view-changed') {
      if (event.viewpoint !== null && event.viewpoint !== shown)
        moments.push({ seq, at: times[i]!, kind: 'viewpoint', words: names.get(event.viewpoint) ?? 'A viewpoint that is gone' }); // prettier-ignore
      shown = event.viewpoint ?? shown;
    } else if (event.type === 'commented') {
      const comment = said.get(event.comment);
      if (!comment) return;
      const kind = comment.kind === 'decision' || comment.kind === 'action' ? comment.kind : 'comment';
      moments.push({ seq, at: times[i]!, kind, words: `${comment.number}  ${comment.text}` });
    }
  });
  return moments;
}
