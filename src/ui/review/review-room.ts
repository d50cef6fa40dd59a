import type { Vec3 } from '@/core/math/mat4';
import { reduceMeeting, type MeetingState, type SentEvent, type SettledEvent } from '@/core/meeting/meeting';
import type { RunningMeeting } from '@/core/meeting/meeting-record';
import type { CameraPose } from '@/core/viewpoint';
import { api, messageOf } from '../api';
import type { Live } from '../live';
import { guarded, type ReviewState, type ReviewStore } from './review-state';
import type { ReviewView, ViewWatcher } from './review-view';

/** As much of the live connection as a meeting needs. */
export type RoomLine = Pick<Live, 'ask' | 'hint' | 'on'>;

const POSE_MS = 50;
const POINTER_MS = 60;

/** One person's part in a meeting: follows the lead or leads, wanders and comes back. */
export class ReviewRoom implements ViewWatcher {
  private line: RoomLine | null = null;
  private lastPose = 0;
  private lastPointer = 0;

  /**
   * @param base address of the project's API
   * @param you participant's id
   * @param view asked for late, because the view tells the room what changed
   */
  constructor(
    private readonly store: ReviewStore,
    private readonly base: string,
    private readonly you: string,
    private readonly view: () => ReviewView,
  ) {}

  get isLead(): boolean {
    const { room } = this.state;
    return room !== null && room.lead === this.you && !room.endedAt;
  }

  /** Follows right now: in a meeting, not in the lead, not wandering. */
  get isFollower(): boolean {
    const { room, following } = this.state;
    return room !== null && !room.endedAt && room.lead !== null && !this.isLead && following;
  }

  async start(title: string): Promise<void> {
    await guarded(this.store, async () => {
      const { meeting } = await api.post<{ meeting: RunningMeeting }>(`${this.base}/meeting`, { title });
      this.store.setState({ meeting, following: true });
      await this.join(meeting);
    });
  }

  /** Asks the server to settle an event; what the server refuses is shown. */
  act(event: SentEvent): void {
    this.line?.ask('act', event).catch((error: unknown) => this.store.setState({ trouble: messageOf(error) }));
  }

  changed(event: SentEvent): void {
    if (this.isLead) this.act(event);
    else if (event.type !== 'selection-set') this.strayed();
  }

  strayed(): void {
    if (this.isFollower) this.store.setState({ following: false });
  }

  comeBack(): void {
    this.store.setState({ following: true });
    this.showRoomView(true);
  }

  /** The camera moved: the lead's pose goes to everyone; a follower who took hold of it wanders. */
  moved(camera: CameraPose, byUser: boolean): void {
    if (byUser) {
      this.strayed();
      if (this.state.viewpoint) this.store.setState({ viewpoint: null });
    }
    const now = performance.now();
    if (this.isLead && now - this.lastPose >= POSE_MS) {
      this.lastPose = now;
      this.line?.hint('pose', { camera });
    }
  }

  settledAt(camera: CameraPose): void {
    if (this.isLead) this.act({ type: 'view-settled', camera });
  }

  /** The pointer touches a surface (project coordinates), or none. */
  pointed(point: Vec3 | null): void {
    const now = performance.now();
    if (!this.state.room || (point && now - this.lastPointer < POINTER_MS)) return;
    this.lastPointer = now;
    this.line?.hint('pointer', { point });
  }

  listen(line: RoomLine): void {
    this.line = line;
    line.on('meeting-changed', () => void guarded(this.store, () => this.reload()));
    line.on<SettledEvent>('settled', (event) => this.settled(event));
    line.on<{ from: string; camera: CameraPose }>('pose', ({ from, camera }) => {
      if (this.isFollower && from === this.state.room?.lead) this.view().stage?.rig.glideTo(camera);
    });
    line.on<{ from: string; point: Vec3 | null }>('pointer', ({ from, point }) => {
      const { [from]: _, ...pointers } = this.state.pointers;
      this.store.setState({ pointers: point ? { ...pointers, [from]: { point, seen: Date.now() } } : pointers });
    });
  }

  hangUp(): void {
    this.line = null;
  }

  /** Asks which meeting goes on and for its whole state. */
  async reload(): Promise<void> {
    const { meeting } = await api.get<{ meeting: RunningMeeting | null }>(`${this.base}/meeting`);
    this.store.setState({ meeting });
    if (meeting) await this.join(meeting);
    else this.store.setState({ room: null });
  }

  /** Takes over the lead's view, unless wandering. */
  showRoomView(fly: boolean): void {
    const { room } = this.state;
    if (!room?.view || !this.isFollower) return;
    this.view().apply(room.view, fly);
    this.store.setState({ viewpoint: room.viewpoint });
  }

  private get state(): ReviewState {
    return this.store.getState();
  }

  private async join(meeting: RunningMeeting): Promise<void> {
    if (!this.line) return;
    const { state } = await this.line.ask<{ state: MeetingState }>('meet', { id: meeting.id });
    this.store.setState({ room: state });
    if (this.isLead && !state.view) {
      const { visibility, camera } = this.view().current();
      this.act({ type: 'visibility-set', visibility });
      this.act({ type: 'view-settled', camera });
    } else this.showRoomView(false);
  }

  private settled(event: SettledEvent): void {
    const { room } = this.state;
    if (!room || event.seq <= room.seq) return;
    if (event.seq > room.seq + 1) {
      // A gap: ask for the whole state rather than guess.
      void guarded(this.store, () => this.reload());
      return;
    }
    const next = reduceMeeting(room, event);
    if (next.endedAt) {
      this.store.setState({ room: null, meeting: null, pointers: {}, following: true });
      return;
    }
    this.store.setState({ room: next });
    if (event.event.type === 'left') {
      const { [event.event.participant]: _, ...pointers } = this.state.pointers;
      this.store.setState({ pointers });
    }
    if (this.isFollower) this.follow(next, event);
  }

  private follow(room: MeetingState, { event }: SettledEvent): void {
    const { stage } = this.view();
    if (!room.view) return;
    switch (event.type) {
      case 'view-settled':
        stage?.rig.glideTo(event.camera);
        break;
      case 'visibility-set':
      case 'selection-set':
        this.store.setState({
          visibility: room.view.visibility,
          selection: room.view.selection,
          viewpoint: room.viewpoint,
        });
        stage?.setState(room.view.visibility, room.view.selection);
        break;
      case 'viewpoint-applied':
      case 'lead-passed':
      case 'lead-taken':
        this.showRoomView(true);
        break;
      default:
    }
  }
}
