import { Timeline, type Moment, type Recording } from '@/core/meeting/recording';
import type { Comment } from '@/core/project/comment';
import type { StageModelSource } from '@/core/project/models';
import { api } from '../../api';
import { guarded, type ReviewStore } from '../review-state';
import type { ViewController, ViewWatcher } from '../view/view-controller';

export const SPEEDS = [1, 2, 4, 8] as const;
export type Speed = (typeof SPEEDS)[number];

/** How far a meeting is seen again. */
export interface ReplayState {
  isPlaying: boolean;
  speed: Speed;
  /** Whether stretches in which nothing happens are left out. */
  skips: boolean;
  /** Seconds from the beginning. */
  at: number;
  length: number;
  moments: readonly Moment[];
  /** Who led then. */
  lead: string | null;
  /** Whether the view is the one that followers had; not while this person looks around by themselves. */
  follows: boolean;
}

const TICK_MS = 100;
/** Where nothing happens for longer, playing goes on this much before the next thing does, in seconds. */
const QUIET = 4;
const LEAD_IN = 1;

type ShowModels = (models: StageModelSource[]) => Promise<unknown>;

/** Sees a meeting of the past again: another writer of the same store, so that what shows is what followers saw. */
export class Replaying implements ViewWatcher {
  private readonly timeline: Timeline;
  private readonly comments: readonly Comment[];
  private timer: ReturnType<typeof setInterval> | undefined;
  private last = 0;
  /** Events that are shown. */
  private count = 0;
  private revisions: string;
  private showModels: ShowModels = () => Promise.resolve();

  /** @param view asked for late, because the view tells this what its person does */
  constructor(
    private readonly store: ReviewStore,
    private readonly start: { recording: Recording; at: number | null },
    private readonly view: () => ViewController,
  ) {
    this.timeline = new Timeline(start.recording);
    this.comments = store.getState().comments;
    this.revisions = this.timeline.revisionsAt(0).join();
    store.setState({
      replay: {
        isPlaying: false,
        speed: 1,
        skips: true,
        at: 0,
        length: this.timeline.length,
        moments: this.timeline.moments,
        lead: null,
        follows: true,
      },
    });
  }

  /** Shows the moment that was asked for. @param showModels puts other revisions on the stage */
  begin(showModels: ShowModels): void {
    this.showModels = showModels;
    this.seek(this.start.at === null ? 0 : this.timeline.timeOf(this.start.at));
  }

  play(): void {
    if (this.state.at >= this.timeline.length) this.seek(0);
    this.set({ isPlaying: true, follows: true });
    this.last = performance.now();
    clearInterval(this.timer);
    this.timer = setInterval(() => this.tick(), TICK_MS);
    this.show('fly');
  }

  pause(): void {
    clearInterval(this.timer);
    this.set({ isPlaying: false });
  }

  setSpeed(speed: Speed): void {
    this.set({ speed });
  }

  setSkips(skips: boolean): void {
    this.set({ skips });
  }

  /** Goes to a moment, in seconds from the beginning. */
  seek(seconds: number): void {
    this.set({ at: Math.min(Math.max(seconds, 0), this.timeline.length), follows: true });
    this.count = this.timeline.countAt(this.state.at);
    this.show('fly');
  }

  /** Goes to the moment before or after, of those that one jumps to. */
  step(by: 1 | -1): void {
    const { at, moments } = this.state;
    const next = by > 0 ? moments.find((moment) => moment.at > at + 0.05) : moments.findLast((moment) => moment.at < at - 0.5); // prettier-ignore
    this.seek(next?.at ?? (by > 0 ? this.timeline.length : 0));
  }

  /** Shows again what followers had. */
  comeBack(): void {
    this.set({ follows: true });
    this.show('fly');
  }

  changed(): void {
    this.wander();
  }

  moving(): void {
    this.wander();
  }

  /** What somebody draws now was not drawn then: it stays on their screen alone. */
  marked(): void {
    this.wander();
  }

  private get state(): ReplayState {
    return this.store.getState().replay!;
  }

  private set(change: Partial<ReplayState>): void {
    this.store.setState({ replay: { ...this.state, ...change } });
  }

  /** Whoever looks around by themselves holds the meeting on. */
  private wander(): void {
    if (this.state.follows) this.set({ follows: false });
    if (this.state.isPlaying) this.pause();
  }

  private tick(): void {
    const now = performance.now();
    const { speed, skips, at } = this.state;
    let next = at + ((now - this.last) / 1000) * speed;
    this.last = now;
    const following = this.timeline.nextAfter(at);
    if (skips && following !== null && following - next > QUIET) next = following - LEAD_IN;
    this.set({ at: Math.min(next, this.timeline.length) });
    const count = this.timeline.countAt(this.state.at);
    if (count > this.count) this.goOn(count);
    if (this.state.at >= this.timeline.length) this.pause();
  }

  /** Shows what happened up to an event, each as it came to followers. */
  private goOn(count: number): void {
    for (let seq = this.count + 1; seq <= count; seq++) {
      const { event } = this.timeline.event(seq)!;
      if (event.type === 'view-changed') {
        const { viewpoint } = this.timeline.stateAfter(seq);
        this.view().follow(event.change, event.viewpoint ? 'fly' : 'glide', viewpoint);
      } else if (event.type === 'marked') this.view().takeMarks(event.put, event.gone);
    }
    this.count = count;
    this.tell();
  }

  /** Shows the whole of a moment. */
  private show(approach: 'fly' | 'jump'): void {
    const { view, viewpoint } = this.timeline.stateAfter(this.count);
    if (view && this.state.follows) this.view().follow(view, approach, viewpoint);
    this.tell();
  }

  /** Who led, what had been said, and which revisions stood then. */
  private tell(): void {
    const { lead, participants, comments } = this.timeline.stateAfter(this.count);
    const { meeting, events } = this.start.recording;
    const now = events[this.count - 1]?.at ?? meeting.startedAt;
    const said = new Set(comments);
    this.set({ lead: participants.find(({ id }) => id === lead)?.name ?? null });
    this.store.setState({
      comments: this.comments.filter(({ id, replyTo, meetingId, createdAt }) =>
        meetingId === meeting.id && !replyTo ? said.has(id) : createdAt <= now,
      ),
    });
    const revisions = this.timeline.revisionsAt(this.state.at);
    if (revisions.join() === this.revisions) return;
    this.revisions = revisions.join();
    void guarded(this.store, async () => {
      const models = await api.get<StageModelSource[]>(
        `/api/meetings/${this.start.recording.meeting.id}/stage?revision=${this.revisions}`,
      );
      this.store.setState({ models });
      await this.showModels(models);
    });
  }
}
