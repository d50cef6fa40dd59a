import type { Vec3 } from '@/core/math/mat4';
import type { SentEvent } from '@/core/meeting/meeting';
import type { ViewpointCard } from '@/core/project/viewpoint-card';
import { SHOW_ALL, type ElementRef, type ViewState, type Visibility } from '@/core/viewpoint';
import type { CameraRig } from '@/stage/camera-rig';
import type { Stage } from '@/stage/stage';
import { asDataUrl } from '../api';
import type { ReviewState, ReviewStore } from './review-state';

/** As much of the stage as the view steers. */
export type ViewStage = Pick<Stage, 'setState' | 'flyToElements' | 'showWhole' | 'picture'> & {
  rig: Pick<CameraRig, 'pose' | 'destination' | 'flyTo' | 'glideTo'>;
};

/** Who hears of what the person does with the view. */
export interface ViewWatcher {
  /** The person changed what shows or is selected. */
  changed(event: SentEvent): void;
  /** The person looks somewhere of their own accord. */
  strayed(): void;
}

const UNDO_STEPS = 50;

/** One person's view of the model: what shows, what is selected, where the camera goes. */
export class ReviewView {
  stage: ViewStage | null = null;
  private undoStack: Visibility[] = [];

  constructor(
    private readonly store: ReviewStore,
    private readonly watcher: ViewWatcher,
  ) {}

  select(selection: ElementRef[]): void {
    this.store.setState({ selection });
    this.stage?.setState(this.state.visibility, selection);
    this.watcher.changed({ type: 'selection-set', selection: selection.slice(0, 1000) });
  }

  flyTo(refs: ElementRef[]): void {
    this.watcher.strayed();
    this.stage?.flyToElements(refs);
  }

  showWhole(): void {
    this.watcher.strayed();
    this.stage?.showWhole();
  }

  hide(refs: ElementRef[]): void {
    const { visibility } = this.state;
    this.change({ ...visibility, hidden: [...without(visibility.hidden, refs), ...refs] });
  }

  show(refs: ElementRef[]): void {
    const { visibility } = this.state;
    const only = visibility.only && [...without(visibility.only, refs), ...refs];
    this.change({ ...visibility, hidden: without(visibility.hidden, refs), only });
  }

  showOnly(refs: ElementRef[]): void {
    this.change({ ...this.nothingHidden(), only: refs });
  }

  showAll(): void {
    this.change(this.nothingHidden());
  }

  /** Switches a whole model off or on. */
  switchModel(modelId: string): void {
    const { visibility } = this.state;
    const others = visibility.hiddenModels.filter((id) => id !== modelId);
    const off = others.length < visibility.hiddenModels.length;
    this.change({ ...visibility, hiddenModels: off ? others : [...others, modelId] });
  }

  /** Shows another design option of a place. */
  chooseOption(set: string, option: string): void {
    const { visibility } = this.state;
    this.change({ ...visibility, options: { ...visibility.options, [set]: option } });
  }

  get canUndo(): boolean {
    return this.undoStack.length > 0;
  }

  /** Takes back the last change of what shows. */
  undo(): void {
    const before = this.undoStack.pop();
    if (before) this.applyVisibility(before);
  }

  openViewpoint(viewpoint: ViewpointCard): void {
    this.watcher.changed({ type: 'viewpoint-applied', viewpoint: viewpoint.id });
    this.apply(viewpoint.state, true);
    this.store.setState({ viewpoint: viewpoint.id });
  }

  /** Goes to the next or previous card of the running order; from nowhere, to its first or last. */
  stepViewpoint(by: 1 | -1): void {
    const { viewpoints, viewpoint } = this.state;
    const at = viewpoints.findIndex((card) => card.id === viewpoint);
    const next = viewpoints[at < 0 ? (by > 0 ? 0 : viewpoints.length - 1) : at + by];
    if (next) this.openViewpoint(next);
  }

  /** Takes over a whole view without telling anybody. */
  apply(view: ViewState, fly: boolean): void {
    this.store.setState({ visibility: view.visibility, selection: view.selection });
    this.stage?.setState(view.visibility, view.selection);
    if (fly) this.stage?.rig.flyTo(view.camera);
    else if (this.stage) this.stage.rig.pose = view.camera;
  }

  /** The view as it is, or as it will be when the camera has arrived. */
  current(): ViewState {
    const { visibility, selection } = this.state;
    return { camera: this.openStage().rig.destination, visibility, selection };
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

  /** Everything, under the design options that are chosen. */
  private nothingHidden(): Visibility {
    const { options } = this.state.visibility;
    return options ? { ...SHOW_ALL, options } : SHOW_ALL;
  }

  private change(visibility: Visibility): void {
    this.undoStack = [...this.undoStack.slice(1 - UNDO_STEPS), this.state.visibility];
    this.applyVisibility(visibility);
  }

  private applyVisibility(visibility: Visibility): void {
    this.store.setState({ visibility, viewpoint: null });
    this.stage?.setState(visibility, this.state.selection);
    this.watcher.changed({ type: 'visibility-set', visibility });
  }
}

function without(refs: ElementRef[], gone: ElementRef[]): ElementRef[] {
  const keys = new Set(gone.map(refKey));
  return refs.filter((ref) => !keys.has(refKey(ref)));
}

export function refKey(ref: ElementRef): string {
  return `${ref.model}/${ref.guid}`;
}
