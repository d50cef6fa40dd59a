import type { Vec3 } from '@/core/math/mat4';
import type { MarkGrowth } from '@/core/mark/growth';
import type { Eyes } from '@/core/meeting/eyes';
import type { Shown } from '@/core/meeting/shown';
import type { ViewChange } from '@/core/view/view-state';
import { meetingRoom } from '@/server/broadcast';
import type { LiveServer, LiveSocket } from './live-server';

export const SHOWN = ['pointers', 'eyes'] as const satisfies readonly (keyof Shown)[];

/** What is shown and forgotten: what people show of themselves, and what the lead has under the hand. */
export interface MeetingHints extends Partial<Shown> {
  meeting: string;
  /** What is being drawn has grown by, in order; null where somebody has given a mark up. */
  growing?: Growing[];
  moving?: Moving;
}

/** Hints travel beside what is settled and may come after it: each tells the last event before it. */
interface Hint {
  /** Number of that event. */
  after: number;
}

/** Parts of the view that the lead is moving. */
export interface Moving extends Hint {
  from: string;
  change: ViewChange;
}

/** What somebody is drawing. */
export interface Growing extends Hint {
  by: string;
  growth: MarkGrowth | null;
}

/** Carries hints to the other nodes, as well as it goes. */
export interface HintBridge {
  /** Hands over what has changed since the last time. Returns false while the last batch is still on its way. */
  send(hints: MeetingHints[]): boolean;
  stop(): void;
}

/** What people show is told this often: the eye needs no more, and of a hundred people each hears one message instead of a hundred. */
const TICK_MS = 80;
/** So many pointers and figures fit into a tick; where more move, a meeting is told less often, so that a phone can follow. */
const SHOWN_A_TICK = 100;
const MILLIMETRES = 1000;

/**
 * Gathers what moves in each meeting and tells everybody once a tick, the newest only. What the lead moves goes out at once.
 * Within this node nothing waits for anything; other nodes get one batch a tick.
 */
export class Hints {
  private readonly shown = new Map<string, Partial<Shown>>();
  private readonly outgoing = new Map<string, MeetingHints>();
  /** Ticks for which a meeting where many move waits. */
  private readonly pauses = new Map<string, number>();
  private readonly tick: NodeJS.Timeout;

  constructor(
    private readonly io: LiveServer,
    private readonly bridge: HintBridge,
  ) {
    this.tick = setInterval(() => this.flush(), TICK_MS);
  }

  /** The lead's hand moves parts of the view. @param after number of the last event before */
  move(socket: LiveSocket, meeting: string, change: ViewChange, after: number): void {
    const moving = { from: socket.data.actor.id, change, after };
    socket.to(meetingRoom(meeting)).local.volatile.emit('view-moving', moving);
    this.outgoing.set(meeting, { ...this.outgoing.get(meeting), meeting, moving });
  }

  point(socket: LiveSocket, meeting: string, point: Vec3 | null): void {
    this.gather(meeting, { pointers: { [socket.data.actor.id]: point && rounded(point) } });
  }

  look(socket: LiveSocket, meeting: string, eyes: Eyes | null): void {
    const { id } = socket.data.actor;
    this.gather(meeting, { eyes: { [id]: eyes && { ...eyes, at: rounded(eyes.at), towards: rounded(eyes.towards) } } });
  }

  /**
   * Somebody draws. It goes out at once within this node: a line that grows in jerks is no hand. No bit may be dropped, or the rest
   * of the line shows only when it is done.
   */
  grow(socket: LiveSocket, meeting: string, growth: MarkGrowth | null, after: number): void {
    const growing = { by: socket.data.actor.id, growth, after };
    socket.to(meetingRoom(meeting)).local.emit('growing', growing);
    const out = this.outgoing.get(meeting);
    this.outgoing.set(meeting, { ...out, meeting, growing: [...(out?.growing ?? []), growing] });
  }

  /** What another node has gathered. */
  receive(hints: readonly MeetingHints[]): void {
    for (const { meeting, moving, growing = [], ...shown } of hints) {
      this.shown.set(meeting, merged(this.shown.get(meeting), shown));
      if (moving) this.io.local.to(meetingRoom(meeting)).volatile.emit('view-moving', moving);
      for (const one of growing) this.io.local.to(meetingRoom(meeting)).emit('growing', one);
    }
  }

  stop(): void {
    clearInterval(this.tick);
    this.bridge.stop();
  }

  private gather(meeting: string, shown: Partial<Shown>): void {
    this.shown.set(meeting, merged(this.shown.get(meeting), shown));
    const out = this.outgoing.get(meeting);
    this.outgoing.set(meeting, { ...out, meeting, ...merged(out, shown) });
  }

  private flush(): void {
    // One message: of two at once, a connection that drops what it cannot send at once would always drop the second.
    for (const [meeting, shown] of this.shown) {
      const pause = this.pauses.get(meeting) ?? 0;
      if (pause > 0) {
        this.pauses.set(meeting, pause - 1);
        continue;
      }
      this.io.local.to(meetingRoom(meeting)).volatile.emit('shown', shown);
      this.shown.delete(meeting);
      const count = SHOWN.reduce((sum, what) => sum + Object.keys(shown[what] ?? {}).length, 0);
      if (count > SHOWN_A_TICK) this.pauses.set(meeting, Math.floor(count / SHOWN_A_TICK));
      else this.pauses.delete(meeting);
    }
    if (this.outgoing.size > 0 && this.bridge.send([...this.outgoing.values()])) this.outgoing.clear();
  }
}

function merged(before: Partial<Shown> | undefined, { pointers, eyes }: Partial<Shown>): Partial<Shown> {
  return {
    ...((before?.pointers || pointers) && { pointers: { ...before?.pointers, ...pointers } }),
    ...((before?.eyes || eyes) && { eyes: { ...before?.eyes, ...eyes } }),
  };
}

function rounded(point: Vec3): Vec3 {
  return point.map((value) => Math.round(value * MILLIMETRES) / MILLIMETRES) as Vec3;
}
