import { createStore, type StoreApi } from 'zustand/vanilla';
import type { ReviewSession } from '../session';

export interface Play {
  isOn: boolean;
  /** How long each viewpoint shows. */
  seconds: number;
  /** Begins anew after the last, such as in a lobby. */
  isEndless: boolean;
  /** Waits for somebody where something is to be decided. */
  waitsAtQuestions: boolean;
}

export const PLAY_SECONDS = [5, 10, 20, 40] as const;

/** Plays the running order by itself until its end, or until a hand takes hold of the view. */
export class Playing {
  readonly store: StoreApi<Play> = createStore<Play>(() => ({
    isOn: false,
    seconds: 10,
    isEndless: false,
    waitsAtQuestions: true,
  }));
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly session: ReviewSession) {
    session.store.subscribe(({ viewpoint }, before) => {
      if (!this.store.getState().isOn || viewpoint === before.viewpoint) return;
      // A hand has taken hold of the view.
      if (viewpoint === null) this.stop();
      else this.wait();
    });
  }

  start(): void {
    const { viewpoint, viewpoints } = this.session.store.getState();
    if (viewpoints.length === 0) return;
    this.store.setState({ isOn: true });
    const isAtEnd = viewpoint === null || viewpoint === viewpoints[viewpoints.length - 1]!.id;
    if (isAtEnd) this.session.view.openViewpoint(viewpoints[0]!);
    this.wait();
  }

  stop(): void {
    clearTimeout(this.timer);
    this.store.setState({ isOn: false });
  }

  private wait(): void {
    clearTimeout(this.timer);
    const { viewpoint, viewpoints } = this.session.store.getState();
    const card = viewpoints.find(({ id }) => id === viewpoint);
    const { seconds, waitsAtQuestions } = this.store.getState();
    if (waitsAtQuestions && card?.question) return;
    this.timer = setTimeout(() => this.goOn(), seconds * 1000);
  }

  private goOn(): void {
    const { viewpoint, viewpoints } = this.session.store.getState();
    const at = viewpoints.findIndex(({ id }) => id === viewpoint);
    const next = viewpoints[at + 1] ?? (this.store.getState().isEndless ? viewpoints[0] : undefined);
    if (!next) return this.stop();
    this.session.view.openViewpoint(next);
    // Of a single card the viewpoint stays the same.
    this.wait();
  }
}
