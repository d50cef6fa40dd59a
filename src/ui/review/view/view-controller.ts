import { setOf, withElements, withoutElements, type ElementSet, type Where } from '@/core/elements/element-set';
import type { Vec3 } from '@/core/math/mat4';
import { changedMarks, withMarks, type Mark } from '@/core/mark/marks';
import type { SentEvent } from '@/core/meeting/meeting';
import { changeOf, type ViewpointCard } from '@/core/project/viewpoint-card';
import type { CameraPose } from '@/core/view/camera';
import type { Spread } from '@/core/view/spread';
import { keepsViewpoint, mergeView, type ViewChange, type ViewState } from '@/core/view/view-state';
import { SHOW_ALL, type Visibility } from '@/core/view/visibility';
import { asDataUrl } from '../../api';
import type { Approach, ReviewState, ReviewStore } from '../review-state';
import { ViewHistory, type ViewStep } from './view-history';

/** As much of the stage as the view asks. */
export interface ViewStage {
  poseOf(wheres: readonly Where[]): CameraPose | null;
  wholePose(): CameraPose | null;
  /** The view as JPEG, with a ring about a place in project coordinates. */
  picture(width: number, mark: Vec3 | null): Promise<Blob>;
}

/** Who hears of what the person does with the view. */
export interface ViewWatcher {
  /** The person changed the view for good. */
  changed(event: SentEvent): void;
  /** Parts of the view are under the person's hand. */
  moving(change: ViewChange): void;
  /** The person drew on what is seen, or took away what was drawn. */
  marked(put: Mark[], gone: string[]): void;
}

/** One person's view: every change of it goes through here. */
export class ViewController {
  stage: ViewStage | null = null;
  private readonly history = new ViewHistory();
  /** The view before a hand began to move a part of it. */
  private beforeMove: ViewState | null = null;

  /** @param you participant's id */
  constructor(
    private readonly store: ReviewStore,
    private readonly watcher: ViewWatcher,
    private readonly you: string,
  ) {}

  /** Changes parts of the view. What can be undone of it is one step, together with what was moved before. */
  change(change: ViewChange): void {
    this.history.remember(this.beforeMove ?? this.state.view, change);
    this.beforeMove = null;
    this.put(change, 'fly', keepsViewpoint(change) ? this.state.viewpoint : null);
    this.watcher.changed({ type: 'view-changed', change });
  }

  /** The same while a hand is still at it, such as on a slider; `change` with the last of it ends that. */
  move(change: ViewChange): void {
    this.beforeMove ??= this.state.view;
    this.put(change, 'jump', keepsViewpoint(change) ? this.state.viewpoint : null);
    this.watcher.moving(change);
  }

  /** Either of both. @param isMoving whether a hand is still at it */
  set(change: ViewChange, isMoving: boolean): void {
    if (isMoving) this.move(change);
    else this.change(change);
  }

  /** Puts marks in or replaces them, and takes some away. Others' marks stay as they are, also where this is undone. */
  mark(put: readonly Mark[], gone: readonly string[] = []): void {
    const { marks } = this.state.view;
    const change = { marks: withMarks(marks, put, gone) };
    this.history.remember(this.state.view, change, true);
    this.put(change, 'jump', this.state.viewpoint);
    this.watcher.marked([...put], [...gone]);
  }

  /** Takes over what somebody else drew. */
  takeMarks(put: readonly Mark[], gone: readonly string[]): void {
    this.put({ marks: withMarks(this.state.view.marks, put, gone) }, 'jump', this.state.viewpoint);
  }

  /** The camera is under the person's hand. */
  moveCamera(camera: CameraPose): void {
    this.put({ camera }, 'jump', null);
    this.watcher.moving({ camera });
  }

  /** The hand has let go of the camera. */
  cameraRested(camera: CameraPose): void {
    this.put({ camera }, 'jump', null);
    this.watcher.changed({ type: 'view-changed', change: { camera } });
  }

  /** Takes over a whole view, such as a comment's, in one step. */
  open(view: ViewState): void {
    this.history.remember(this.state.view, view);
    this.put(view, 'fly', null);
    this.watcher.changed({ type: 'view-changed', change: view });
  }

  openViewpoint(viewpoint: ViewpointCard): void {
    const change = changeOf(viewpoint);
    this.history.remember(this.state.view, change);
    this.put(change, 'fly', viewpoint.id);
    this.watcher.changed({ type: 'view-changed', viewpoint: viewpoint.id });
  }

  /** Goes to the next or previous card of the running order; from nowhere, to its first or last. */
  stepViewpoint(by: 1 | -1): void {
    const { viewpoints, viewpoint } = this.state;
    const at = viewpoints.findIndex((card) => card.id === viewpoint);
    const next = viewpoints[at < 0 ? (by > 0 ? 0 : viewpoints.length - 1) : at + by];
    if (next) this.openViewpoint(next);
  }

  /** Takes over what somebody else shows, without telling anybody. Their steps are not this person's to take back. */
  follow(change: ViewChange, approach: Approach, viewpoint: string | null): void {
    this.history.clear();
    this.beforeMove = null;
    this.put(change, approach, viewpoint);
  }

  undo(): void {
    this.replay(this.history.undo(this.state.view));
  }

  redo(): void {
    this.replay(this.history.redo(this.state.view));
  }

  select(selection: readonly Where[]): void {
    this.change({ selection });
  }

  flyTo(wheres: readonly Where[]): void {
    const camera = this.stage?.poseOf(wheres);
    if (camera) this.change({ camera });
  }

  showWhole(): void {
    const camera = this.stage?.wholePose();
    if (camera) this.change({ camera });
  }

  hide(wheres: readonly Where[]): void {
    this.changeVisibility({ shown: withoutElements(this.state.view.visibility.shown, wheres) });
  }

  show(wheres: readonly Where[]): void {
    this.changeVisibility({ shown: withElements(this.state.view.visibility.shown, wheres) });
  }

  showOnly(wheres: readonly Where[]): void {
    this.changeVisibility({ shown: setOf(wheres), hiddenModels: [] });
  }

  showAll(): void {
    this.changeVisibility(SHOW_ALL);
  }

  /** Switches a whole model off or on. */
  switchModel(modelId: string): void {
    const { hiddenModels } = this.state.view.visibility;
    const others = hiddenModels.filter((id) => id !== modelId);
    this.changeVisibility({ hiddenModels: others.length < hiddenModels.length ? others : [...hiddenModels, modelId] });
  }

  /** Shows another design option of a place. */
  chooseOption(set: string, option: string): void {
    this.change({ options: { ...this.state.view.options, [set]: option } });
  }

  /** Fades elements, or fades them otherwise. @param isMoving whether a hand is still at it */
  fade(of: ElementSet, clear: number, isMoving = false): void {
    this.set({ fades: withEntry(this.state.view.fades, { of, clear }) }, isMoving);
  }

  unfade(at: number): void {
    this.change({ fades: this.state.view.fades.filter((_, i) => i !== at) });
  }

  /** Gives elements a colour as #rrggbb, or another one in its place. @param isMoving whether a hand is still at it */
  colour(of: ElementSet, colour: string, isMoving = false): void {
    this.set({ colouring: withEntry(this.state.view.colouring, { of, colour }) }, isMoving);
  }

  uncolour(at: number): void {
    this.change({ colouring: this.state.view.colouring.filter((_, i) => i !== at) });
  }

  /** Pulls crowded parts apart. @param isMoving whether a hand is still at it */
  spread(spread: Spread | null, isMoving = false): void {
    this.set({ spread: spread && spread.amount > 0 ? spread : null }, isMoving);
  }

  /** The view to save: with the camera where it is going. */
  current(): ViewState {
    this.openStage();
    return this.state.view;
  }

  /** The view as a JPEG data address, with a ring about `mark` (project coordinates). */
  async picture(width: number, mark: Vec3 | null = null): Promise<string> {
    return asDataUrl(await this.openStage().picture(width, mark));
  }

  private get state(): ReviewState {
    return this.store.getState();
  }

  private openStage(): ViewStage {
    if (!this.stage) throw new Error('The model is not open any more. Load the page again.');
    return this.stage;
  }

  private changeVisibility(visibility: Partial<Visibility>): void {
    this.change({ visibility: { ...this.state.view.visibility, ...visibility } });
  }

  private replay(step: ViewStep | null): void {
    if (!step) return;
    const { change, isDrawn } = step;
    if (isDrawn) {
      // What others have drawn since is theirs.
      const { put, gone } = changedMarks(this.state.view.marks, change.marks ?? [], this.you);
      this.takeMarks(put, gone);
      this.watcher.marked(put, gone);
      return;
    }
    this.put(change, 'fly', null);
    this.watcher.changed({ type: 'view-changed', change });
  }

  private put(change: ViewChange, approach: Approach, viewpoint: string | null): void {
    const { undoable, redoable } = this.history;
    const { view, viewpoint: before, viewpointSince } = this.state;
    this.store.setState({
      view: mergeView(view, change),
      approach,
      viewpoint,
      viewpointSince: viewpoint === before ? viewpointSince : viewpoint === null ? null : Date.now(),
      undoable,
      redoable,
    });
  }
}

/** The list with an entry in the place of the one for the same elements, or as its last. */
function withEntry<T extends { of: ElementSet }>(list: readonly T[], entry: T): T[] {
  const isSame = ({ of }: T) => JSON.stringify(of) === JSON.stringify(entry.of);
  return list.some(isSame) ? list.map((one) => (isSame(one) ? entry : one)) : [...list, entry];
}
