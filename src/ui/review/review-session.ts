import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Vec3 } from '@/core/math/mat4';
import { reduceMeeting, type MeetingEvent, type MeetingState, type SettledEvent } from '@/core/meeting/meeting';
import { SHOW_ALL, type CameraPose, type ElementRef, type ViewState, type Visibility } from '@/core/viewpoint';
import { Stage, type StageHit } from '@/stage/stage';
import { api, asDataUrl, messageOf } from '../api';
import { Live } from '../live';
import type { ReviewComment, ReviewModel, ReviewStart, ReviewViewpoint, RunningMeeting } from './types';

export type Verb = 'move' | 'say';
export type DrawerPage = 'contents' | 'facts' | 'talk';

export interface Pointer {
  point: Vec3;
  seen: number;
}

export interface ReviewState {
  models: ReviewModel[];
  /** Counts up when a model's contents have arrived. */
  loaded: number;
  loading: boolean;
  visibility: Visibility;
  selection: ElementRef[];
  viewpoints: ReviewViewpoint[];
  viewpoint: string | null;
  comments: ReviewComment[];
  verb: Verb;
  drawer: DrawerPage | null;
  draft: StageHit | null;
  meeting: RunningMeeting | null;
  room: MeetingState | null;
  following: boolean;
  connected: boolean;
  pointers: Record<string, Pointer>;
  deleted: ReviewViewpoint | null;
  trouble: string | null;
}

const POSE_MS = 50;
const POINTER_MS = 60;
const PICTURE_WIDTH = 800;

/**
 * One person's Review: holds the stage and the live connection, keeps the store that the components show, and carries
 * out what they ask for. Following the lead is decided here.
 */
export class ReviewSession {
  readonly store: StoreApi<ReviewState>;
  stage: Stage | null = null;
  private live: Live | null = null;
  private readonly frameListeners = new Set<() => void>();
  private lastPose = 0;
  private lastPointer = 0;
  private undoStack: Visibility[] = [];

  constructor(readonly start: ReviewStart) {
    this.store = createStore<ReviewState>(() => ({
      models: start.models,
      loaded: 0,
      loading: start.models.length > 0,
      visibility: SHOW_ALL,
      selection: [],
      viewpoints: start.viewpoints,
      viewpoint: start.viewpoints[0]?.id ?? null,
      comments: start.comments,
      verb: 'move',
      drawer: null,
      draft: null,
      meeting: start.meeting,
      room: null,
      following: true,
      connected: true,
      pointers: {},
      deleted: null,
      trouble: null,
    }));
  }

  get state(): ReviewState {
    return this.store.getState();
  }

  get isLead(): boolean {
    return this.state.room?.lead === this.start.you.id && !this.state.room.endedAt;
  }

  /** Follows right now: in a meeting, not in the lead, not wandering. */
  get isFollower(): boolean {
    const { room, following } = this.state;
    return room !== null && !room.endedAt && room.lead !== null && !this.isLead && following;
  }

  /** Puts the stage into an element and connects. Returns how to take both down again. */
  open(element: HTMLElement): () => void {
    const stage = new Stage(element, {
      onMove: (pose, byUser) => this.moved(pose, byUser),
      onSettle: (pose) => {
        if (this.isLead) this.act({ type: 'view-settled', camera: pose });
      },
      onPick: (hit) => this.picked(hit),
      onPoint: (point) => this.pointed(point),
      onFrame: () => this.frameListeners.forEach((listener) => listener()),
      onLoading: (loading) => this.set({ loading }),
    });
    this.stage = stage;
    const first = this.start.viewpoints[0];
    if (first) stage.rig.pose = first.state.camera;
    stage
      .setModels(this.start.models)
      .then(() => {
        this.set({ loaded: this.state.loaded + 1, loading: this.start.models.length > 0 });
        if (!first) stage.showWhole();
        const focus = this.state.comments.find((comment) => comment.id === this.start.focus);
        if (focus) this.showComment(focus);
        else this.applyRoomView(false);
      })
      .catch((error: unknown) => this.set({ trouble: messageOf(error), loading: false }));
    this.connect();
    return () => {
      this.live?.close();
      this.live = null;
      stage.dispose();
      this.stage = null;
    };
  }

  onFrame(listener: () => void): () => void {
    this.frameListeners.add(listener);
    return () => this.frameListeners.delete(listener);
  }

  // What the components ask for.

  setVerb(verb: Verb): void {
    this.set({ verb, draft: null });
  }

  toggleDrawer(page: DrawerPage): void {
    this.set({ drawer: this.state.drawer === page ? null : page });
  }

  select(selection: ElementRef[]): void {
    this.set({ selection });
    this.stage?.setState(this.state.visibility, selection);
    if (this.isLead) this.act({ type: 'selection-set', selection: selection.slice(0, 1000) });
  }

  flyTo(refs: ElementRef[]): void {
    this.wander();
    this.stage?.flyToElements(refs);
  }

  showWhole(): void {
    this.wander();
    this.stage?.showWhole();
  }

  setVisibility(visibility: Visibility): void {
    this.undoStack = [...this.undoStack.slice(-49), this.state.visibility];
    this.applyVisibility(visibility);
  }

  get canUndo(): boolean {
    return this.undoStack.length > 0;
  }

  undoVisibility(): void {
    const before = this.undoStack.pop();
    if (before) this.applyVisibility(before);
  }

  hide(refs: ElementRef[]): void {
    const { visibility } = this.state;
    const gone = new Set(refs.map(refKey));
    this.setVisibility({
      ...visibility,
      hidden: [...visibility.hidden.filter((ref) => !gone.has(refKey(ref))), ...refs],
    });
  }

  show(refs: ElementRef[]): void {
    const { visibility } = this.state;
    const back = new Set(refs.map(refKey));
    const only = visibility.only ? [...visibility.only.filter((ref) => !back.has(refKey(ref))), ...refs] : null;
    this.setVisibility({ ...visibility, hidden: visibility.hidden.filter((ref) => !back.has(refKey(ref))), only });
  }

  showOnly(refs: ElementRef[]): void {
    this.setVisibility({ hiddenModels: [], hidden: [], only: refs });
  }

  showAll(): void {
    this.setVisibility(SHOW_ALL);
  }

  switchModel(modelId: string): void {
    const { visibility } = this.state;
    const off = visibility.hiddenModels.includes(modelId);
    this.setVisibility({
      ...visibility,
      hiddenModels: off
        ? visibility.hiddenModels.filter((id) => id !== modelId)
        : [...visibility.hiddenModels, modelId],
    });
  }

  applyViewpoint(viewpoint: ReviewViewpoint): void {
    if (this.isLead) {
      this.act({ type: 'viewpoint-applied', viewpoint: viewpoint.id });
    } else {
      this.wander();
    }
    this.applyView(viewpoint.state, true);
    this.set({ viewpoint: viewpoint.id });
  }

  stepViewpoint(by: 1 | -1): void {
    const { viewpoints, viewpoint } = this.state;
    const at = viewpoints.findIndex((card) => card.id === viewpoint);
    const next = viewpoints[at < 0 ? (by > 0 ? 0 : viewpoints.length - 1) : at + by];
    if (next) this.applyViewpoint(next);
  }

  async saveViewpoint(name: string): Promise<void> {
    await this.guarded(async () => {
      const { id } = await api.post<{ id: string }>(`${this.base}/viewpoints`, {
        name,
        state: this.viewState(),
        picture: await this.picture(480),
      });
      await this.reloadViewpoints();
      this.set({ viewpoint: id });
    });
  }

  async changeViewpoint(
    id: string,
    change: { name: string } | { index: number } | { deleted: boolean },
  ): Promise<void> {
    await this.guarded(async () => {
      const card = this.state.viewpoints.find((viewpoint) => viewpoint.id === id) ?? null;
      if ('index' in change) this.set({ viewpoints: moved(this.state.viewpoints, id, change.index) });
      await api.patch(`${this.base}/viewpoints/${id}`, change);
      if ('deleted' in change) this.set({ deleted: change.deleted ? card : null });
      await this.reloadViewpoints();
    });
  }

  forgetDeleted(): void {
    this.set({ deleted: null });
  }

  cancelDraft(): void {
    this.set({ draft: null, verb: 'move' });
  }

  async say(text: string): Promise<boolean> {
    const { draft } = this.state;
    return this.guarded(async () => {
      await api.post(`${this.base}/comments`, {
        text,
        ...(draft
          ? { anchor: { element: draft.element, point: draft.point }, elementName: draft.name.slice(0, 300) }
          : {}),
        view: this.viewState(),
        picture: await this.picture(PICTURE_WIDTH, draft?.point ?? null),
      });
      this.set({ draft: null, verb: 'move', drawer: 'talk' });
      await this.reloadComments();
    });
  }

  async reply(replyTo: string, text: string): Promise<boolean> {
    return this.guarded(async () => {
      await api.post(`${this.base}/comments`, { text, replyTo });
      await this.reloadComments();
    });
  }

  showComment(comment: ReviewComment): void {
    this.wander();
    if (comment.view) this.applyView(comment.view, true);
    if (comment.anchor?.element) this.select([comment.anchor.element]);
    this.set({ drawer: 'talk' });
  }

  async startMeeting(title: string): Promise<void> {
    await this.guarded(async () => {
      const { meeting } = await api.post<{ meeting: RunningMeeting }>(`${this.base}/meeting`, { title });
      this.set({ meeting, following: true });
      await this.join(meeting);
    });
  }

  act(
    event: Exclude<MeetingEvent, { type: 'viewpoint-applied' }> | { type: 'viewpoint-applied'; viewpoint: string },
  ): void {
    this.live?.ask('act', event).catch((error: unknown) => this.set({ trouble: messageOf(error) }));
  }

  comeBack(): void {
    this.set({ following: true });
    this.applyRoomView(true);
  }

  dismissTrouble(): void {
    this.set({ trouble: null });
  }

  // What happens.

  private get base(): string {
    return `/api/projects/${this.start.project.id}`;
  }

  private set(part: Partial<ReviewState>): void {
    this.store.setState(part);
  }

  private async guarded(work: () => Promise<void>): Promise<boolean> {
    try {
      await work();
      return true;
    } catch (error) {
      this.set({ trouble: messageOf(error) });
      return false;
    }
  }

  private applyVisibility(visibility: Visibility): void {
    this.set({ visibility, viewpoint: null });
    this.stage?.setState(visibility, this.state.selection);
    if (this.isLead) this.act({ type: 'visibility-set', visibility });
    else this.wander();
  }

  private applyView(view: ViewState, fly: boolean): void {
    this.set({ visibility: view.visibility, selection: view.selection });
    this.stage?.setState(view.visibility, view.selection);
    if (fly) this.stage?.rig.flyTo(view.camera);
    else if (this.stage) this.stage.rig.pose = view.camera;
  }

  private applyRoomView(fly: boolean): void {
    const view = this.state.room?.view;
    if (view && this.isFollower) {
      this.applyView(view, fly);
      this.set({ viewpoint: this.state.room?.viewpoint ?? null });
    }
  }

  private viewState(): ViewState {
    const { visibility, selection } = this.state;
    return { camera: this.stage!.rig.destination, visibility, selection };
  }

  private async picture(width: number, mark: Vec3 | null = null): Promise<string> {
    return asDataUrl(await this.stage!.picture(width, mark));
  }

  private wander(): void {
    if (this.isFollower) this.set({ following: false });
  }

  private moved(pose: CameraPose, byUser: boolean): void {
    if (byUser) {
      this.wander();
      if (this.state.viewpoint) this.set({ viewpoint: null });
    }
    const now = performance.now();
    if (this.isLead && now - this.lastPose >= POSE_MS) {
      this.lastPose = now;
      this.live?.hint('pose', { camera: pose });
    }
  }

  private picked(hit: StageHit | null): void {
    if (this.state.verb === 'say' && this.start.rights.comment) {
      if (hit) this.set({ draft: hit });
      return;
    }
    this.select(hit ? [hit.element] : []);
    if (hit && this.state.drawer === 'contents') this.set({ drawer: 'facts' });
  }

  private pointed(point: Vec3 | null): void {
    const now = performance.now();
    if (!this.state.room || (point && now - this.lastPointer < POINTER_MS)) return;
    this.lastPointer = now;
    this.live?.hint('pointer', { point });
  }

  private connect(): void {
    const live = new Live();
    this.live = live;
    live.onConnect(() => {
      this.set({ connected: true });
      void this.guarded(async () => {
        await live.ask('watch', { id: this.start.project.id });
        // What happened while the line was down is fetched whole.
        await Promise.all([this.reloadMeeting(), this.reloadComments(), this.reloadViewpoints()]);
      });
    });
    live.onDisconnect(() => this.set({ connected: false }));
    live.on('viewpoints-changed', () => void this.guarded(() => this.reloadViewpoints()));
    live.on('comments-changed', () => void this.guarded(() => this.reloadComments()));
    live.on('meeting-changed', () => void this.guarded(() => this.reloadMeeting()));
    live.on('models-changed', () => void this.guarded(() => this.reloadModels()));
    live.on<SettledEvent>('settled', (event) => this.settled(event));
    live.on<{ from: string; camera: CameraPose }>('pose', ({ from, camera }) => {
      if (this.isFollower && from === this.state.room?.lead) this.stage?.rig.glideTo(camera);
    });
    live.on<{ from: string; point: Vec3 | null }>('pointer', ({ from, point }) => {
      const pointers = { ...this.state.pointers };
      if (point) pointers[from] = { point, seen: Date.now() };
      else delete pointers[from];
      this.set({ pointers });
    });
  }

  private async join(meeting: RunningMeeting): Promise<void> {
    const { state } = await this.live!.ask<{ state: MeetingState }>('meet', { id: meeting.id });
    this.set({ room: state });
    if (this.isLead && !state.view) {
      this.act({ type: 'visibility-set', visibility: this.state.visibility });
      this.act({ type: 'view-settled', camera: this.stage!.rig.pose });
    } else this.applyRoomView(false);
  }

  private settled(event: SettledEvent): void {
    const { room } = this.state;
    if (!room || event.seq <= room.seq) return;
    if (event.seq > room.seq + 1) {
      // A gap: ask for the whole state rather than guess.
      void this.guarded(() => this.reloadMeeting());
      return;
    }
    const next = reduceMeeting(room, event);
    this.set({ room: next });
    if (next.endedAt) {
      this.set({ room: null, meeting: null, pointers: {}, following: true });
      return;
    }
    if (event.event.type === 'left') {
      const { [event.event.participant]: _, ...pointers } = this.state.pointers;
      this.set({ pointers });
    }
    if (!this.isFollower || !next.view) return;
    switch (event.event.type) {
      case 'view-settled':
        this.stage?.rig.glideTo(event.event.camera);
        break;
      case 'viewpoint-applied':
        this.applyView(next.view, true);
        this.set({ viewpoint: event.event.viewpoint });
        break;
      case 'visibility-set':
      case 'selection-set':
        this.set({ visibility: next.view.visibility, selection: next.view.selection, viewpoint: next.viewpoint });
        this.stage?.setState(next.view.visibility, next.view.selection);
        break;
      case 'lead-passed':
      case 'lead-taken':
        this.applyRoomView(true);
        break;
      default:
    }
  }

  private async reloadMeeting(): Promise<void> {
    const { meeting } = await api.get<{ meeting: RunningMeeting | null }>(`${this.base}/meeting`);
    this.set({ meeting });
    if (meeting) await this.join(meeting);
    else this.set({ room: null });
  }

  private async reloadViewpoints(): Promise<void> {
    this.set({ viewpoints: await api.get<ReviewViewpoint[]>(`${this.base}/viewpoints`) });
  }

  private async reloadComments(): Promise<void> {
    this.set({ comments: await api.get<ReviewComment[]>(`${this.base}/comments`) });
  }

  private async reloadModels(): Promise<void> {
    const models = await api.get<ReviewModel[]>(`${this.base}/stage`);
    const changed =
      models.map((model) => model.revisionId).join() !== this.state.models.map((model) => model.revisionId).join();
    if (!changed) return;
    const wasEmpty = this.state.models.length === 0;
    this.set({ models });
    await this.stage?.setModels(models);
    this.set({ loaded: this.state.loaded + 1 });
    if (wasEmpty) this.stage?.showWhole();
  }
}

export function refKey(ref: ElementRef): string {
  return `${ref.model}/${ref.guid}`;
}

function moved(list: ReviewViewpoint[], id: string, index: number): ReviewViewpoint[] {
  const card = list.find((viewpoint) => viewpoint.id === id);
  const others = list.filter((viewpoint) => viewpoint.id !== id);
  if (card) others.splice(index, 0, card);
  return others;
}
