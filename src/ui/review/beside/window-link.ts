import type { Mark } from '@/core/mark/marks';
import type { SentEvent } from '@/core/meeting/meeting';
import { differences, pick, PART_NAMES, type ViewChange, type ViewState } from '@/core/view/view-state';
import type { ReviewStore } from '../review-state';
import type { ViewController, ViewWatcher } from '../view/view-controller';

/** What windows of one person say to each other. */
type Letter =
  /** A window has come in and wants to know what shows. */
  | { is: 'asked' }
  /** The first window has been loaded. */
  | { is: 'opened' }
  /** The first window tells what it shows. */
  | { is: 'shown'; view: ViewState; viewpoint: string | null; drawing: string | null }
  /** A window beside it wants that changed. @property isMoving whether a hand is still at it */
  | { is: 'wanted'; change: ViewChange; isMoving: boolean }
  | { is: 'wanted-viewpoint'; id: string }
  | { is: 'marked'; put: Mark[]; gone: string[] };

/** As much of a BroadcastChannel as is used. */
export interface Channel {
  postMessage(letter: unknown): void;
  onmessage: ((event: MessageEvent) => void) | null;
  close(): void;
}

/**
 * Keeps the windows of one person in step: the first one shows and tells, those beside it follow and ask. What they ask for
 * the first one does as if its own hand had done it, so that a meeting hears of it once.
 */
export class FirstWindow {
  private readonly end: () => void;
  /** Whether there is somebody to tell: a long view costs something. */
  private isHeard = false;

  constructor(
    private readonly channel: Channel,
    private readonly store: ReviewStore,
    private readonly view: ViewController,
  ) {
    channel.onmessage = ({ data }) => this.hear(data as Letter);
    this.end = store.subscribe((state, before) => {
      if (state.view !== before.view || state.drawing !== before.drawing) this.tell();
    });
    channel.postMessage({ is: 'opened' } satisfies Letter);
  }

  close(): void {
    this.end();
    this.channel.close();
  }

  private tell(): void {
    if (!this.isHeard) return;
    const { view, viewpoint, drawing } = this.store.getState();
    this.channel.postMessage({ is: 'shown', view, viewpoint, drawing } satisfies Letter);
  }

  private hear(letter: Letter): void {
    if (letter.is === 'asked') {
      this.isHeard = true;
      this.tell();
    } else if (letter.is === 'wanted') {
      this.view.set(letter.change, letter.isMoving);
    } else if (letter.is === 'marked') {
      this.view.mark(letter.put, letter.gone);
    } else if (letter.is === 'wanted-viewpoint') {
      const card = this.store.getState().viewpoints.find(({ id }) => id === letter.id);
      if (card) this.view.openViewpoint(card);
    }
  }
}

/** A window beside the first one: it hears what shows there, and what is done in it is done there. */
export class BesideWindow implements ViewWatcher {
  /** Whether it looks from elsewhere than the first one. */
  hasOwnCamera = false;

  private channel: Channel | null = null;

  constructor(
    private readonly store: ReviewStore,
    private readonly view: () => ViewController,
  ) {}

  open(channel: Channel): void {
    this.channel = channel;
    channel.onmessage = ({ data }) => this.hear(data as Letter);
    this.ask();
  }

  /** Asks the first window what it shows. */
  ask(): void {
    this.say({ is: 'asked' });
  }

  close(): void {
    this.channel?.close();
    this.channel = null;
  }

  changed(event: SentEvent): void {
    if (event.type !== 'view-changed') return;
    if ('viewpoint' in event) this.say({ is: 'wanted-viewpoint', id: event.viewpoint });
    else this.want(event.change, false);
  }

  moving(change: ViewChange): void {
    this.want(change, true);
  }

  marked(put: Mark[], gone: string[]): void {
    this.say({ is: 'marked', put, gone });
  }

  private want(change: ViewChange, isMoving: boolean): void {
    const { camera, ...rest } = change;
    const wanted = this.hasOwnCamera || !camera ? rest : change;
    if (Object.keys(wanted).length > 0) this.say({ is: 'wanted', change: wanted, isMoving });
  }

  private say(letter: Letter): void {
    this.channel?.postMessage(letter);
  }

  private hear(letter: Letter): void {
    if (letter.is === 'opened') this.ask();
    if (letter.is !== 'shown') return;
    const { view } = this.store.getState();
    const parts = this.hasOwnCamera ? PART_NAMES.filter((name) => name !== 'camera') : PART_NAMES;
    const change = differences(view, pick(letter.view, parts));
    if (Object.keys(change).length > 0) this.view().follow(change, 'glide', letter.viewpoint);
    this.store.setState({ drawing: letter.drawing });
  }
}
