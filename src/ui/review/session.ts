import type { StoreApi } from 'zustand';
import type { Names } from '@/core/elements/describe-set';
import { whereElements } from '@/core/elements/element-set';
import type { FactRows } from '@/core/elements/match-elements';
import { uncovered } from '@/core/framing';
import { subtract } from '@/core/math/vec3';
import type { OptionSet } from '@/core/options/option-set';
import { PACES } from '@/core/walk/body';
import type { Approval } from '@/core/project/approval';
import type { Comment } from '@/core/project/comment';
import type { StageModelSource } from '@/core/project/models';
import type { ViewState } from '@/core/view/view-state';
import type { ProjectSite, SunSite } from '@/core/sun/sun-site';
import { pictureOf } from '@/stage/snapshot';
import { Stage } from '@/stage/stage';
import { api, messageOf } from '../api';
import { Live } from '../live';
import { resolutionStore } from '../resolution';
import { bodyOf, stanceStore } from '../stance';
import { readingStore } from '../reading';
import { oneAtATime } from '../one-at-a-time';
import { MeetingLine } from './meeting/meeting-line';
import { BesideWindow, FirstWindow } from './beside/window-link';
import { followSun } from './light/follow-sun';
import { Moving } from './moving/moving';
import { Playing } from './records/playing';
import type { Replaying } from './replay/replaying';
import { Records, type SaidDetails } from './records/records';
import {
  createReviewStore,
  guarded,
  type DrawerPage,
  type ReviewStart,
  type ReviewState,
  type ReviewStore,
} from './review-state';
import { Marking } from './tools/mark/marking';
import { selecting } from './tools/selecting';
import { toolNamed, type ToolName } from './tools/registry';
import { RuleFacts } from './view/rule-facts';
import { bindStage } from './view/stage-binding';
import { ViewController } from './view/view-controller';

/** Where the crown leaves enough of the picture. */
const ROOM_FOR_CROWN = '(min-width: 1000px) and (min-height: 700px)';

/** One person's Review: joins the stage, the live connection and the store that the components show. */
export class ReviewSession {
  readonly store: ReviewStore;
  readonly view: ViewController;
  readonly meeting: MeetingLine;
  readonly records: Records;
  /** Of a window beside the first one: its line there. */
  readonly beside: BesideWindow | null;
  readonly moving: Moving;
  readonly playing: Playing;
  /** Where a meeting of the past is seen again; else null. */
  readonly replaying: Replaying | null;
  readonly marking: Marking;
  stage: Stage | null = null;
  private readonly facts: RuleFacts;
  private readonly frameListeners = new Set<() => void>();
  private readonly base: string;
  private readonly reloadModels = oneAtATime(() => this.fetchModels());

  /** @param replay where a meeting of the past is seen again: shows it; few need its code */
  constructor(
    readonly start: ReviewStart,
    replay?: (store: ReviewStore, view: () => ViewController) => Replaying,
  ) {
    this.base = `/api/projects/${start.project.id}`;
    this.store = createReviewStore(start);
    this.meeting = new MeetingLine(this.store, this.base, start.you.id, () => this.view);
    this.beside = start.beside ? new BesideWindow(this.store, () => this.view) : null;
    this.replaying = replay?.(this.store, () => this.view) ?? null;
    this.view = new ViewController(this.store, this.replaying ?? this.beside ?? this.meeting, start.you.id);
    this.records = new Records(this.store, this.base, this.view);
    this.moving = new Moving(this);
    this.playing = new Playing(this);
    this.marking = new Marking(this);
    this.facts = new RuleFacts((revision, set, name) =>
      api.get<FactRows[]>(`/api/revisions/${revision}/facts?${new URLSearchParams({ set, name })}`),
    );
  }

  /** Puts the stage into an element and connects. Returns how to take both down again. */
  open(element: HTMLElement): () => void {
    const stage = new Stage(element, {
      onMove: (pose, byHand) => byHand && this.view.moveCamera(pose),
      onRest: (pose, byHand) => byHand && this.view.cameraRested(pose),
      onFrame: () => this.frameListeners.forEach((listener) => listener()),
      onLoading: (loading) => this.store.setState({ loading }),
      onGait: (gait) => this.store.setState({ gait, hindrance: null }),
      onHindrance: (hindrance) => this.store.setState({ hindrance }),
      onTrouble: (error) => this.store.setState({ trouble: messageOf(error) }),
    });
    stage.freeArea = () => {
      const covers = document.querySelectorAll('[data-covers]');
      const shown = Array.from(covers, (one) => one.getBoundingClientRect()).filter((area) => area.width > 0);
      return uncovered(element.getBoundingClientRect(), shown);
    };
    stage.pointers.base.unshift(this.marking.penTaker(), selecting(this));
    this.stage = stage;
    this.view.stage = {
      poseOf: (wheres) => stage.poseOf(wheres),
      wholePose: () => stage.wholePose(),
      picture: (width, mark) => pictureOf(stage, width, mark),
    };
    const ends = [
      bindStage(this.store, stage),
      follow(stanceStore, (stance) => stage.walking.beAs(bodyOf(stance), PACES[stance.pace])),
      follow(readingStore, (reading) => stage.measures.read(reading)),
      follow(resolutionStore, ({ resolution }) => stage.setResolution(resolution)),
      followSun(this.store, stage),
      this.followPeople(stage),
      this.store.subscribe((state, before) => {
        if (state.growing !== before.growing) this.marking.grow();
      }),
      this.facts.follow(this.store, stage),
    ];
    if (matchMedia(ROOM_FOR_CROWN).matches) this.store.setState({ crown: 'crown' });
    // Whoever comes may be asked at once where they want to stand.
    this.setTool(this.state.tool);
    void this.loadFirst(stage);
    const live = this.connect();
    const first = this.beside || this.replaying ? null : new FirstWindow(this.channel(), this.store, this.view);
    this.beside?.open(this.channel());
    return () => {
      first?.close();
      this.replaying?.pause();
      this.beside?.close();
      live.close();
      this.meeting.disconnect();
      for (const end of ends) end();
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

  /** Takes up a tool; its code is loaded when it is first used. */
  setTool(tool: ToolName): void {
    this.store.setState({ tool, draft: null, picking: null });
    const entry = toolNamed(tool);
    void guarded(this.store, async () => {
      const { taker } = await entry.load();
      if (this.stage && this.state.tool === tool) this.stage.pointers.tool = taker?.(this) ?? null;
    });
  }

  /** Does something that may fail; what went wrong is shown. */
  act(work: () => Promise<void>): void {
    void guarded(this.store, work);
  }

  toggleDrawer(page: DrawerPage): void {
    this.store.setState({ drawer: this.state.drawer === page ? null : page });
  }

  /**
   * Says something at the picked place. Returns whether it is stored; what was written stays if not.
   *
   * @param key the same for every try to say this
   * @param files what goes along; those that are stored are taken out
   */
  async say(text: string, key: string, details: SaidDetails, files: File[]): Promise<boolean> {
    const said = await this.records.say(text, this.state.draft, key, details, files);
    if (said) {
      this.setTool('move');
      this.store.setState({ drawer: 'talk' });
    }
    return said;
  }

  /** Notes something about the picked place for this person alone. Returns whether it is stored. */
  async takeNote(text: string, key: string): Promise<boolean> {
    const isKept = await this.records.takeNote(text, this.state.draft, key);
    if (isKept) this.setTool('move');
    return isKept;
  }

  /** Opens a comment's view, for everyone who follows too, with what it speaks of pointed out. */
  async showComment({ id, hasView, anchor }: Comment): Promise<void> {
    const view = hasView ? await api.get<ViewState>(`${this.base}/comments/${id}/view`) : null;
    const selection = anchor?.element ? whereElements([anchor.element]) : view?.selection;
    if (view) this.view.open({ ...view, ...(selection && { selection }) });
    else if (selection) this.view.select(selection);
    this.store.setState({ drawer: 'talk' });
  }

  /** Sets where the project stands. @param site null for what its models say */
  async setSite(site: SunSite | null): Promise<void> {
    this.store.setState({ site: await api.put<ProjectSite>(`${this.base}/site`, { site }) });
  }

  /** The address under which others find this Review. @param query with what it opens */
  addressOf(query: Record<string, string>): string {
    return `${location.origin}/projects/${this.start.project.id}/review?${new URLSearchParams(query)}`;
  }

  dismissTrouble(): void {
    this.store.setState({ trouble: null });
  }

  /** How models, elements and options are called. */
  get names(): Names {
    const { models, options } = this.state;
    return {
      model: (id) => models.find(({ modelId }) => modelId === id)?.name,
      element: (ref) => {
        const model = this.stage?.loadedModels.find(({ source }) => source.modelId === ref.model);
        const row = model?.rowOf.get(ref.guid);
        return row === undefined ? undefined : model!.index.name[row];
      },
      option: (set, option) => options.find(({ id }) => id === set)?.options.find(({ id }) => id === option)?.name,
    };
  }

  /** What all windows of this person on this project hear. */
  private channel(): BroadcastChannel {
    return new BroadcastChannel(`yurta-${this.start.project.id}-${this.start.you.id}`);
  }

  private get state(): ReviewState {
    return this.store.getState();
  }

  /** Shows the others who stand in the model, and tells them from where this person looks. Returns how to end that. */
  private followPeople(stage: Stage): () => void {
    return this.store.subscribe((state, before) => {
      if (state.eyes !== before.eyes) stage.showPeople(state.eyes);
      if (state.view.camera === before.view.camera && state.gait === before.gait && state.agreed === before.agreed)
        return;
      const { position, target } = state.view.camera;
      this.meeting.looked({
        at: position,
        towards: subtract(target, position),
        stands: state.gait === 'walk' ? stage.walking.body.eye : null,
      });
    });
  }

  private async loadFirst(stage: Stage): Promise<void> {
    stage.setOptions(this.start.options, this.start.fixedOptions);
    await guarded(this.store, () => stage.setModels(this.start.models));
    if (this.stage !== stage) return;
    this.store.setState({ loaded: this.state.loaded + 1, loading: stage.isLoading });
    const whole = this.start.viewpoints.length === 0 ? stage.wholePose() : null;
    if (whole) this.view.follow({ camera: whole }, 'jump', null);
    if (this.replaying) return this.replaying.begin((models) => guarded(this.store, () => stage.setModels(models)));
    const focus = this.state.comments.find((comment) => comment.id === this.start.focus);
    const first = this.state.viewpoints.find(({ id }) => id === this.start.first);
    if (focus) await guarded(this.store, () => this.showComment(focus));
    else if (this.start.note?.view) this.view.open(this.start.note.view);
    else if (first && !this.meeting.isFollower) this.view.openViewpoint(first);
    else this.meeting.showAgreed('jump');
    this.beside?.ask();
  }

  private connect(): Live {
    const live = new Live();
    if (!this.beside && !this.replaying) this.meeting.listen(live);
    live.onConnect(
      async () => {
        this.store.setState({ connected: true });
        await live.ask('watch', { id: this.start.project.id });
        // What happened while the line was down is fetched whole.
        await Promise.all([
          this.beside || this.replaying ? null : this.meeting.reload(),
          this.records.reloadViewpoints(),
          // What is seen again stays as it was then.
          ...(this.replaying ? [] : [this.records.reloadComments(), this.reloadModels(), this.reloadApprovals()]),
        ]);
      },
      (trouble) => this.store.setState({ trouble: trouble || null }),
    );
    live.onDisconnect(() => this.store.setState({ connected: false }));
    live.onEnded(() => this.store.setState({ ended: true }));
    live.on('viewpoints-changed', () => void guarded(this.store, () => this.records.reloadViewpoints()));
    live.on('snapshots-changed', () => this.store.setState({ picturesChanged: this.state.picturesChanged + 1 }));
    if (this.replaying) return live;
    live.on('comments-changed', () => void guarded(this.store, () => this.records.reloadComments()));
    live.on('approvals-changed', () => void guarded(this.store, () => this.reloadApprovals()));
    live.on('models-changed', () => void guarded(this.store, () => this.reloadModels()));
    return live;
  }

  private async reloadApprovals(): Promise<void> {
    this.store.setState({ approvals: await api.get<Approval[]>(`${this.base}/approvals`) });
  }

  private async fetchModels(): Promise<void> {
    const { older } = this.start;
    const [models, options, site] = await Promise.all([
      api.get<StageModelSource[]>(`${this.base}/stage${older ? `?revision=${older}` : ''}`),
      api.get<OptionSet[]>(`${this.base}/options`),
      api.get<ProjectSite>(`${this.base}/site`),
    ]);
    if (JSON.stringify(site) !== JSON.stringify(this.state.site)) this.store.setState({ site });
    if (JSON.stringify(options) !== JSON.stringify(this.state.options)) {
      this.store.setState({ options });
      this.stage?.setOptions(options, this.start.fixedOptions);
    }
    if (JSON.stringify(models) === JSON.stringify(this.state.models)) return;
    const wasEmpty = this.state.models.length === 0;
    this.store.setState({ models });
    await this.stage?.setModels(models);
    this.store.setState({ loaded: this.state.loaded + 1 });
    const whole = wasEmpty ? this.stage?.wholePose() : null;
    if (whole) this.view.follow({ camera: whole }, 'jump', null);
  }
}

/** Does something with what a person has set, now and whenever it changes. Returns how to end that. */
function follow<T>(store: StoreApi<T>, act: (value: T) => void): () => void {
  act(store.getState());
  return store.subscribe(act);
}
