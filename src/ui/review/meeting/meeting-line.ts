import type { Vec3 } from '@/core/math/mat4';
import { grown, growthOf, type MarkGrowth } from '@/core/mark/growth';
import type { Mark } from '@/core/mark/marks';
import { reduceMeeting, type MeetingState, type SentEvent, type SettledEvent } from '@/core/meeting/meeting';
import type { RunningMeeting } from '@/core/meeting/meeting-record';
import type { Eyes } from '@/core/meeting/eyes';
import type { Shown } from '@/core/meeting/shown';
import type { CameraPose } from '@/core/view/camera';
import { keepsViewpoint, type ViewChange } from '@/core/view/view-state';
import { api, isAway, messageOf } from '../../api';
import type { Live } from '../../live';
import { guarded, type Approach, type ReviewState, type ReviewStore } from '../review-state';
import type { ViewController, ViewWatcher } from '../view/view-controller';

/** As much of the live connection as a meeting needs. */
export type Line = Pick<Live, 'ask' | 'hint' | 'on'>;

/** What is under the lead's hand is told this often. */
const MOVING_MS = 50;
const POINTER_MS = 60;
const EYES_MS = 100;
const GROWTH_MS = 70;
/** The server is asked again so long after it did not answer. */
const PAY_MS = 1000;
const OWING = 'The server does not answer just now. Others see what you do here as soon as it does.';
/** A follower's camera that is nearer than this to the lead's closes up, one farther away flies there. */
const CLOSE_METRES = 1.5;

/** One person's part in a meeting: follows the lead or leads, wanders and comes back. */
export class MeetingLine implements ViewWatcher {
  private line: Line | null = null;
  private lastMoving = 0;
  private lastMove: ReturnType<typeof setTimeout> | undefined;
  private lastPointer = 0;
  private lastEyes = 0;
  private lastGrowth = 0;
  private nextGrowth: ReturnType<typeof setTimeout> | undefined;
  /** As much of what this person draws as others were told. */
  private told: Mark | null = null;
  /** By participant the number of the last event by which they drew. */
  private readonly drawn = new Map<string, number>();
  private nextEyes: ReturnType<typeof setTimeout> | undefined;
  private nextPayment: ReturnType<typeof setTimeout> | undefined;
  /** What the server was away for: marks in their order, and whether the lead's view has changed. */
  private owed: { marks: Extract<SentEvent, { type: 'marked' }>[]; view: boolean } = { marks: [], view: false };

  /**
   * @param base address of the project's API
   * @param you participant's id
   * @param view asked for late, because the view tells the meeting what changed
   */
  constructor(
    private readonly store: ReviewStore,
    private readonly base: string,
    private readonly you: string,
    private readonly view: () => ViewController,
  ) {}

  get isLead(): boolean {
    const { agreed } = this.state;
    return agreed !== null && agreed.lead === this.you && !agreed.endedAt;
  }

  /** Follows right now: in a meeting, not in the lead, not wandering. */
  get isFollower(): boolean {
    const { agreed, following } = this.state;
    return agreed !== null && !agreed.endedAt && agreed.lead !== null && !this.isLead && following;
  }

  async start(title: string): Promise<boolean> {
    return guarded(this.store, async () => {
      const { meeting } = await api.post<{ meeting: RunningMeeting }>(`${this.base}/meeting`, { title });
      this.store.setState({ meeting, following: true });
      await this.join(meeting);
    });
  }

  /** Asks the server to settle an event. What it refuses is shown; what a person sees as done is owed where the server is away. */
  act(event: SentEvent): void {
    this.line?.ask('act', event).catch((error: unknown) => {
      if (isAway(error) && this.owe(event)) this.payLater();
      else this.store.setState({ trouble: messageOf(error) });
    });
  }

  /** Keeps in mind what others have not been told: marks, and that the lead's view is another one. */
  private owe(event: SentEvent): boolean {
    if (event.type === 'marked') this.owed.marks.push(event);
    else if (event.type === 'view-changed') this.owed.view = true;
    else return false;
    return true;
  }

  private payLater(): void {
    this.store.setState({ trouble: OWING });
    clearTimeout(this.nextPayment);
    this.nextPayment = setTimeout(() => void this.pay(), PAY_MS);
  }

  /** Tells the others what they have not been told; whoever does not lead any more owes no view. */
  private async pay(): Promise<void> {
    clearTimeout(this.nextPayment);
    const { marks, view } = this.owed;
    this.owed = { marks: [], view: false };
    const { meeting } = this.state;
    if (!this.line || !meeting || !this.isMeeting) return;
    const events = [...marks, ...(view && this.isLead ? [this.presentView()] : [])];
    try {
      // A node that was away knows nobody.
      await this.line.ask('meet', { id: meeting.id });
      for (; events.length > 0; events.shift())
        await this.line.ask('act', events[0]!).catch((error: unknown) => {
          if (isAway(error)) throw error;
          this.store.setState({ trouble: messageOf(error) });
        });
    } catch (error) {
      if (!isAway(error)) return this.store.setState({ trouble: messageOf(error) });
      // What came meanwhile is newer.
      const { marks: newer } = this.owed;
      this.owed.marks = [];
      for (const event of events) this.owe(event);
      this.owed.marks.push(...newer);
      return this.payLater();
    }
    if (this.state.trouble === OWING) this.store.setState({ trouble: null });
  }

  private presentView(): SentEvent {
    const { viewpoint } = this.state;
    return viewpoint ? { type: 'view-changed', viewpoint } : { type: 'view-changed', change: this.view().current() };
  }

  changed(event: SentEvent): void {
    clearTimeout(this.lastMove); // what was on its way is out of date
    if (this.isLead) this.act(event);
    else if (event.type !== 'view-changed' || !('change' in event) || !isBeside(event.change)) this.wander();
  }

  moving(change: ViewChange): void {
    if (!isBeside(change)) this.wander();
    if (!this.isLead) return;
    clearTimeout(this.lastMove);
    const wait = this.lastMoving + MOVING_MS - performance.now();
    const tell = () => {
      this.lastMoving = performance.now();
      this.line?.hint('view-moving', { change });
    };
    if (wait <= 0) tell();
    // The last of many is told too: a hand may rest without letting go.
    else this.lastMove = setTimeout(tell, wait);
  }

  /** Everybody sees what is drawn, whoever draws it and whether they follow or wander. */
  marked(put: Mark[], gone: string[]): void {
    clearTimeout(this.nextGrowth);
    this.told = null;
    if (this.isMeeting) this.act({ type: 'marked', put, gone });
  }

  /** What this person is drawing; null where they have given it up. */
  growing(mark: Mark | null): void {
    if (!this.isMeeting) return;
    clearTimeout(this.nextGrowth);
    const wait = mark ? this.lastGrowth + GROWTH_MS - performance.now() : 0;
    const tell = () => {
      this.lastGrowth = performance.now();
      this.line?.hint('growing', { growth: mark && growthOf(mark, this.told) });
      this.told = mark;
    };
    if (wait <= 0) tell();
    // The last of many is told too: a hand may rest without lifting the pen.
    else this.nextGrowth = setTimeout(tell, wait);
  }

  comeBack(): void {
    this.store.setState({ following: true });
    this.showAgreed('fly');
  }

  /** The pointer touches a surface (project coordinates), or none. */
  pointed(point: Vec3 | null): void {
    const now = performance.now();
    if (!this.isMeeting || (point && now - this.lastPointer < POINTER_MS)) return;
    this.lastPointer = now;
    this.line?.hint('pointer', { point });
  }

  /** From where this person looks now; the last of many is told too. */
  looked(eyes: Eyes): void {
    if (!this.isMeeting) return;
    clearTimeout(this.nextEyes);
    const wait = this.lastEyes + EYES_MS - performance.now();
    const tell = () => {
      this.lastEyes = performance.now();
      this.line?.hint('eyes', { eyes });
    };
    if (wait <= 0) tell();
    else this.nextEyes = setTimeout(tell, wait);
  }

  /** Whether there is anybody to point for. */
  get isMeeting(): boolean {
    return this.state.agreed !== null;
  }

  listen(line: Line): void {
    this.line = line;
    line.on('meeting-changed', () => void guarded(this.store, () => this.reload()));
    line.on<SettledEvent>('settled', (event) => this.settled(event));
    line.on<{ from: string; change: ViewChange; after: number }>('view-moving', ({ from, change, after }) => {
      const { agreed } = this.state;
      // One that was overtaken by what has been settled since would bring back what was before.
      if (this.isFollower && from === agreed?.lead && after >= agreed.seq)
        this.view().follow(change, 'glide', keepsViewpoint(change) ? this.state.viewpoint : null);
    });
    line.on<Partial<Shown>>('shown', (shown) => this.shown(shown));
    line.on<{ by: string; growth: MarkGrowth | null; after: number }>('growing', ({ by, growth, after }) => {
      if (by === this.you || after < (this.drawn.get(by) ?? 0)) return;
      const { [by]: known, ...others } = this.state.growing;
      const mark = growth && grown(known?.id === growth.mark.id ? known : undefined, growth);
      this.store.setState({ growing: mark ? { ...others, [by]: mark } : others });
    });
  }

  /** Where others point and from where they look has changed. */
  private shown({ pointers, eyes }: Partial<Shown>): void {
    if (pointers) {
      const next = { ...this.state.pointers };
      for (const [from, point] of Object.entries(pointers)) {
        if (point && from !== this.you) next[from] = { point, seen: Date.now() };
        else delete next[from];
      }
      this.store.setState({ pointers: next });
    }
    if (eyes) {
      const next = { ...this.state.eyes };
      for (const [from, one] of Object.entries(eyes)) {
        if (one && from !== this.you) next[from] = one;
        else delete next[from];
      }
      this.store.setState({ eyes: next });
    }
  }

  disconnect(): void {
    clearTimeout(this.nextEyes);
    clearTimeout(this.nextGrowth);
    clearTimeout(this.nextPayment);
    this.line = null;
  }

  /** Asks which meeting goes on and for its whole state. */
  async reload(): Promise<void> {
    const { meeting } = await api.get<{ meeting: RunningMeeting | null }>(`${this.base}/meeting`);
    this.store.setState({ meeting });
    if (meeting) await this.join(meeting);
    else this.store.setState({ agreed: null });
  }

  /** Takes over the lead's view, unless wandering. */
  showAgreed(approach: Approach): void {
    const { agreed } = this.state;
    if (agreed?.view && this.isFollower) this.view().follow(agreed.view, approach, agreed.viewpoint);
  }

  private get state(): ReviewState {
    return this.store.getState();
  }

  /** Looks somewhere of one's own accord. */
  private wander(): void {
    if (this.isFollower) this.store.setState({ following: false });
  }

  private async join(meeting: RunningMeeting): Promise<void> {
    if (!this.line) return;
    const { state } = await this.line.ask<{ state: MeetingState }>('meet', { id: meeting.id });
    this.store.setState({ agreed: state });
    if (this.isLead && !state.view) this.act({ type: 'view-changed', change: this.view().current() });
    else this.showAgreed('jump');
    this.takeMarksOf(state);
    if (this.owed.view || this.owed.marks.length > 0) await this.pay();
  }

  /** Whoever leads keeps their view, with what others have drawn over it meanwhile; nobody loses what only they know of. */
  private takeMarksOf({ view }: MeetingState): void {
    if (this.isLead && view && !(this.owed.view && this.state.viewpoint)) {
      const there = new Set(view.marks.map(({ id }) => id));
      const wiped = this.owed.view ? [] : this.state.view.marks.flatMap(({ id }) => (there.has(id) ? [] : [id]));
      this.view().takeMarks(view.marks, wiped);
    }
    for (const { put, gone } of this.owed.marks) this.view().takeMarks(put, gone);
  }

  private settled(event: SettledEvent): void {
    const { agreed } = this.state;
    if (!agreed || event.seq <= agreed.seq) return;
    if (event.seq > agreed.seq + 1) {
      // A gap: ask for the whole state rather than guess.
      void guarded(this.store, () => this.reload());
      return;
    }
    const next = reduceMeeting(agreed, event);
    if (next.endedAt) {
      this.store.setState({ agreed: null, meeting: null, pointers: {}, eyes: {}, growing: {}, following: true });
      return;
    }
    this.store.setState({ agreed: next });
    if (event.event.type === 'marked' && event.by !== null) {
      const { [event.by]: _, ...growing } = this.state.growing;
      this.store.setState({ growing });
      this.drawn.set(event.by, event.seq);
      if (event.by !== this.you) this.view().takeMarks(event.event.put, event.event.gone);
    }
    if (event.event.type === 'left') {
      const { participant } = event.event;
      const { [participant]: _, ...pointers } = this.state.pointers;
      const { [participant]: __, ...eyes } = this.state.eyes;
      const { [participant]: ___, ...growing } = this.state.growing;
      this.store.setState({ pointers, eyes, growing });
    }
    if (this.isFollower) this.follow(next, event);
  }

  private follow(agreed: MeetingState, { event }: SettledEvent): void {
    if (!agreed.view) return;
    if (event.type === 'view-changed') {
      const isClose = gap(agreed.view.camera, this.state.view.camera) < CLOSE_METRES;
      this.view().follow(event.change, isClose ? 'glide' : 'fly', agreed.viewpoint);
    } else if (event.type === 'lead-passed' || event.type === 'lead-taken') this.showAgreed('fly');
  }
}

function gap(a: CameraPose, b: CameraPose): number {
  return Math.hypot(...a.position.map((value, axis) => value - b.position[axis]!));
}

/** Whether a change only points something out or measures it: one who does that still looks where the lead does. */
function isBeside(change: ViewChange): boolean {
  return Object.keys(change).every((name) => name === 'selection' || name === 'measures');
}
