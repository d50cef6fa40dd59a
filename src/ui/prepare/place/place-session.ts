import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Vec3 } from '@/core/math/mat4';
import {
  AS_IN_FILE,
  fitOnePoint,
  fitTwoPoints,
  unplacePoint,
  type Placement,
  type PlacementChoice,
} from '@/core/placement/placement';
import { choiceShowing, type OptionSet } from '@/core/options/option-set';
import type { StageModelSource } from '@/core/project/models';
import { SHOW_ALL } from '@/core/view/visibility';
import { Stage, type StageHit } from '@/stage/stage';
import { api, messageOf } from '../../api';

/** A point of the model, in its file's coordinates, and where it belongs in the project. */
interface Pair {
  from: Vec3;
  to: Vec3;
}

export interface PlaceState {
  by: PlacementChoice['by'];
  /** What the fields of a placement by hand hold. */
  hand: Placement;
  /** What the next tap means; null while nobody picks points. */
  picking: 'from' | 'to' | null;
  from: Vec3 | null;
  pairs: Pair[];
  /** By how much the two distances differ, in metres; null until two pairs are there. */
  misfit: number | null;
  /** Whether something of the models is still on its way. */
  loading: boolean;
  busy: boolean;
  trouble: string | null;
}

/** Somebody finds the place of a model among the others: by its file, by the map, or by hand. */
export class PlaceSession {
  readonly store: StoreApi<PlaceState>;
  stage: Stage | null = null;

  /** @param byMap where the map puts the model, or null */
  constructor(
    private readonly projectId: string,
    private readonly modelId: string,
    private readonly models: StageModelSource[],
    initial: PlacementChoice,
    private readonly byMap: Placement | null,
    private readonly options: OptionSet[] = [],
  ) {
    const hand = initial.by === 'hand' ? { turn: initial.turn, offset: initial.offset } : AS_IN_FILE;
    this.store = createStore<PlaceState>(() => ({
      by: initial.by,
      hand,
      picking: null,
      from: null,
      pairs: [],
      misfit: null,
      loading: true,
      busy: false,
      trouble: null,
    }));
  }

  open(element: HTMLElement): () => void {
    const stage = new Stage(element, {
      onLoading: (loading) => this.store.setState({ loading }),
    });
    stage.pointers.tool = {
      tap: ({ x, y }) => {
        const hit = stage.pick(x, y);
        if (hit) this.picked(hit);
        return true;
      },
    };
    this.stage = stage;
    stage.setOptions(this.options, choiceShowing(this.options, this.modelId));
    stage.setModels(this.models).then(
      () => {
        this.show();
        stage.showWhole();
      },
      (error: unknown) => this.store.setState({ trouble: messageOf(error), loading: false }),
    );
    return () => {
      stage.dispose();
      this.stage = null;
    };
  }

  /** Where the model stands under what is chosen now. */
  get placement(): Placement {
    const { by, hand } = this.store.getState();
    if (by === 'hand') return hand;
    return by === 'georeference' ? (this.byMap ?? AS_IN_FILE) : AS_IN_FILE;
  }

  choose(by: PlacementChoice['by']): void {
    this.store.setState({ by, picking: null, from: null, trouble: null });
    this.show();
  }

  setHand(hand: Placement): void {
    this.store.setState({ hand, pairs: [], misfit: null });
    this.show();
  }

  /** Begins to pick pairs of points: one on the model, then where it belongs. */
  startPicking(): void {
    this.store.setState({ by: 'hand', picking: 'from', from: null, pairs: [], misfit: null, trouble: null });
    this.show();
  }

  stopPicking(): void {
    this.store.setState({ picking: null, from: null });
    this.show();
  }

  /** A tap on the model to be placed or on another one, whichever is asked for. */
  picked(hit: Pick<StageHit, 'element' | 'point'>): void {
    const { picking, from, pairs, hand } = this.store.getState();
    const isOwn = hit.element.model === this.modelId;
    // What is hidden only since the last tap may still be hit, and counts for nothing.
    if (picking === 'from' && isOwn) {
      this.store.setState({ from: unplacePoint(hand, hit.point), picking: 'to', trouble: null });
      this.show();
    } else if (picking === 'to' && from && !isOwn) this.fit([...pairs, { from, to: hit.point }]);
  }

  /** Keeps what is chosen. Returns whether the server took it. */
  async keep(): Promise<boolean> {
    const { by, hand } = this.store.getState();
    this.store.setState({ busy: true, trouble: null });
    try {
      const placement: PlacementChoice = by === 'hand' ? { by, ...hand } : { by };
      await api.patch(`/api/projects/${this.projectId}/models/${this.modelId}`, { placement });
      return true;
    } catch (error) {
      this.store.setState({ trouble: messageOf(error) });
      return false;
    } finally {
      this.store.setState({ busy: false });
    }
  }

  private fit(pairs: Pair[]): void {
    const { hand } = this.store.getState();
    const [first, second] = pairs as [Pair, Pair | undefined];
    try {
      const fitted = second
        ? fitTwoPoints([first.from, second.from], [first.to, second.to])
        : { placement: fitOnePoint(hand.turn, first.from, first.to), misfit: null };
      this.store.setState({
        hand: fitted.placement,
        misfit: fitted.misfit,
        pairs,
        from: null,
        picking: second ? null : 'from',
        trouble: null,
      });
    } catch (error) {
      this.store.setState({ trouble: messageOf(error), from: null, picking: 'from' });
    }
    this.show();
  }

  private show(): void {
    this.stage?.placeModel(this.modelId, this.placement);
    this.stage?.show({ visibility: { ...SHOW_ALL, hiddenModels: this.hiddenModels() } });
  }

  /** While points are picked only what they may lie on shows: a frame stands within its walls, a roof over the rooms. */
  private hiddenModels(): string[] {
    const { picking } = this.store.getState();
    if (picking === 'to') return [this.modelId];
    return picking === 'from' ? this.models.map(({ modelId }) => modelId).filter((id) => id !== this.modelId) : [];
  }
}
