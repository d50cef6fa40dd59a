import type { Vec3 } from '@/core/math/mat4';
import type { ViewChange } from '@/core/view/view-state';
import { meetingRoom } from '@/server/broadcast';
import type { LiveServer, LiveSocket } from './live-server';

/** What is shown and forgotten: other people's pointers, and what the lead has under the hand. */
export interface MeetingHints {
  meeting: string;
  /** Pointers by participant, in project coordinates; null where one has gone. Only those that changed. */
  pointers?: Record<string, Vec3 | null>;
  /** Parts of the view that the lead is moving. */
  moving?: { from: string; change: ViewChange };
}

/** Carries hints to the other nodes, as well as it goes. */
export interface HintBridge {
  /** Hands over what has changed since the last time. Returns false while the last batch is still on its way. */
  send(hints: MeetingHints[]): boolean;
  stop(): void;
}

/** Pointers are told this often: the eye needs no more, and of a hundred people each hears one message instead of a hundred. */
const TICK_MS = 80;
const MILLIMETRES = 1000;

/**
 * Gathers what moves in each meeting and tells everybody once a tick, the newest only. What the lead moves goes out at once.
 * Within this node nothing waits for anything; other nodes get one batch a tick.
 */
export class Hints {
  private readonly pointers = new Map<string, Record<string, Vec3 | null>>();
  private readonly outgoing = new Map<string, MeetingHints>();
  private readonly tick: NodeJS.Timeout;

  constructor(
    private readonly io: LiveServer,
    private readonly bridge: HintBridge,
  ) {
    this.tick = setInterval(() => this.flush(), TICK_MS);
  }

  /** The lead's hand moves parts of the view. */
  move(socket: LiveSocket, meeting: string, change: ViewChange): void {
    const moving = { from: socket.data.actor.id, change };
    socket.to(meetingRoom(meeting)).local.volatile.emit('view-moving', moving);
    this.outgoing.set(meeting, { ...this.outgoing.get(meeting), meeting, moving });
  }

  point(socket: LiveSocket, meeting: string, point: Vec3 | null): void {
    const rounded = point && (point.map((value) => Math.round(value * MILLIMETRES) / MILLIMETRES) as Vec3);
    const from = socket.data.actor.id;
    this.pointers.set(meeting, { ...this.pointers.get(meeting), [from]: rounded });
    const out = this.outgoing.get(meeting);
    this.outgoing.set(meeting, { ...out, meeting, pointers: { ...out?.pointers, [from]: rounded } });
  }

  /** What another node has gathered. */
  receive(hints: readonly MeetingHints[]): void {
    for (const { meeting, pointers, moving } of hints) {
      if (pointers) this.pointers.set(meeting, { ...this.pointers.get(meeting), ...pointers });
      if (moving) this.io.local.to(meetingRoom(meeting)).volatile.emit('view-moving', moving);
    }
  }

  stop(): void {
    clearInterval(this.tick);
    this.bridge.stop();
  }

  private flush(): void {
    for (const [meeting, pointers] of this.pointers)
      this.io.local.to(meetingRoom(meeting)).volatile.emit('pointers', { pointers });
    this.pointers.clear();
    if (this.outgoing.size > 0 && this.bridge.send([...this.outgoing.values()])) this.outgoing.clear();
  }
}
