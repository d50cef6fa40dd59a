import { uncovered } from '@/core/framing';
import type { Comment } from '@/core/project/comment';
import type { OptionSet } from '@/core/options/option-set';
import type { StageModelSource } from '@/core/project/models';
import { Stage, type StageHit } from '@/stage/stage';
import { api, messageOf } from '../api';
import { Live } from '../live';
import { oneAtATime } from '../one-at-a-time';
import { ReviewRecords } from './review-records';
import { ReviewRoom } from './review-room';
import {
  createReviewStore,
  guarded,
  type DrawerPage,
  type ReviewStart,
  type ReviewState,
  type ReviewStore,
  type Verb,
} from './review-state';
import { ReviewView } from './review-view';

/** One person's Review: joins the stage, the live connection and the store that the components show. */
export class ReviewSession {
  readonly store: ReviewStore;
  readonly view: ReviewView;
  readonly room: ReviewRoom;
  readonly records: ReviewRecords;
  stage: Stage | null = null;
  private readonly frameListeners = new Set<() => void>();
  private readonly base: string;
  private readonly reloadModels = oneAtATime(() => this.fetchModels());

  constructor(readonly start: ReviewStart) {
    this.base = `/api/projects/${start.project.id}`;
    this.store = createReviewStore(start);
    this.room = new ReviewRoom(this.store, this.base, start.you.id, () => this.view);
    this.view = new ReviewView(this.store, this.room);
    this.records = new ReviewRecords(this.store, this.base, this.view);
  }

  /** Puts the stage into an element and connects. Returns how to take both down again. */
  open(element: HTMLElement): () => void {
    const stage = new Stage(element, {
      onMove: (pose, byUser) => this.room.moved(pose, byUser),
      onSettle: (pose) => this.room.settledAt(pose),
      onPick: (hit) => this.picked(hit),
      onPoint: (point) => this.room.pointed(point),
      onFrame: () => this.frameListeners.forEach((listener) => listener()),
      onLoading: (loading) => this.store.setState({ loading }),
    });
    stage.freeArea = () => {
      const covers = document.querySelectorAll('[data-covers]');
      const shown = Array.from(covers, (one) => one.getBoundingClientRect()).filter((area) => area.width > 0);
      return uncovered(element.getBoundingClientRect(), shown);
    };
    this.stage = stage;
    this.view.stage = stage;
    this.loadFirst(stage).catch((error: unknown) => this.store.setState({ trouble: messageOf(error), loading: false }));
    const live = this.connect();
    return () => {
      live.close();
      this.room.hangUp();
      stage.dispose();
      this.stage = null;
      this.view.stage = null;
    };
  }

  /** Calls after every drawn frame. Returns how to stop. */
  onFrame(listener: () => void): () => void {
    this.frameListeners.add(listener);
    return () => this.frameListeners.delete(listener);
  }

  setVerb(verb: Verb): void {
    this.store.setState({ verb, draft: null });
  }

  toggleDrawer(page: DrawerPage): void {
    this.store.setState({ drawer: this.state.drawer === page ? null : page });
  }

  /** Says something at the picked place. Returns whether it is stored; what was written stays if not. */
  async say(text: string): Promise<boolean> {
    const said = await this.records.say(text, this.state.draft);
    if (said) this.store.setState({ draft: null, verb: 'move', drawer: 'talk' });
    return said;
  }

  showComment(comment: Comment): void {
    this.room.strayed();
    if (comment.view) this.view.apply(comment.view, true);
    if (comment.anchor?.element) this.view.select([comment.anchor.element]);
    this.store.setState({ drawer: 'talk' });
  }

  dismissTrouble(): void {
    this.store.setState({ trouble: null });
  }

  private get state(): ReviewState {
    return this.store.getState();
  }

  private async loadFirst(stage: Stage): Promise<void> {
    const first = this.start.viewpoints[0];
    if (first) stage.rig.pose = first.state.camera;
    stage.setOptions(this.start.options, this.start.fixedOptions);
    await stage.setModels(this.start.models);
    this.store.setState({ loaded: this.state.loaded + 1 });
    if (!first) stage.showWhole();
    const focus = this.state.comments.find((comment) => comment.id === this.start.focus);
    if (focus) this.showComment(focus);
    else this.room.showRoomView(false);
  }

  private connect(): Live {
    const live = new Live();
    this.room.listen(live);
    live.onConnect(() => {
      this.store.setState({ connected: true });
      void guarded(this.store, async () => {
        await live.ask('watch', { id: this.start.project.id });
        // What happened while the line was down is fetched whole.
        await Promise.all([
          this.room.reload(),
          this.records.reloadComments(),
          this.records.reloadViewpoints(),
          this.reloadModels(),
        ]);
      });
    });
    live.onDisconnect(() => this.store.setState({ connected: false }));
    live.onEnded(() => this.store.setState({ ended: true }));
    live.on('viewpoints-changed', () => void guarded(this.store, () => this.records.reloadViewpoints()));
    live.on('comments-changed', () => void guarded(this.store, () => this.records.reloadComments()));
    live.on('models-changed', () => void guarded(this.store, () => this.reloadModels()));
    return live;
  }

  private picked(hit: StageHit | null): void {
    if (this.state.verb === 'say' && this.start.rights.comment) {
      if (hit) this.store.setState({ draft: hit });
      return;
    }
    this.view.select(hit ? [hit.element] : []);
    if (hit && this.state.drawer === 'contents') this.store.setState({ drawer: 'facts' });
  }

  private async fetchModels(): Promise<void> {
    const { older } = this.start;
    const models = await api.get<StageModelSource[]>(`${this.base}/stage${older ? `?revision=${older}` : ''}`);
    const options = await api.get<OptionSet[]>(`${this.base}/options`);
    this.store.setState({ options });
    this.stage?.setOptions(options, this.start.fixedOptions);
    if (JSON.stringify(models) === JSON.stringify(this.state.models)) return;
    const wasEmpty = this.state.models.length === 0;
    this.store.setState({ models });
    await this.stage?.setModels(models);
    this.store.setState({ loaded: this.state.loaded + 1 });
    if (wasEmpty) this.stage?.showWhole();
  }
}
