import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Vec3 } from '@/core/math/mat4';
import { distance, dot, scale, subtract, add } from '@/core/math/vec3';
import { growingMeasure, isAsked, measureOf, PLACES_TOLD, type AskedKind } from '@/core/measure/growing';
import {
  freeMeasureId,
  KIND_WORDS,
  MOST_MEASURES,
  MOST_POINTS,
  thinnedOutline,
  type Measure,
  type MeasureKind,
} from '@/core/measure/measures';
import { alongAxis, SNAP_KINDS, type SnapKind } from '@/core/snap/choose-snap';
import type { PlaceAt } from '@/stage/surfaces/snapping';
import type { ReviewSession } from '../../session';

/** An axis that is held: one of three, or whichever one is nearest to where one points. */
export type HeldAxis = 'x' | 'y' | 'z' | 'nearest';

const AXES: Record<'x' | 'y' | 'z', Vec3> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** What is said of what a place was taken for. */
const SNAP_WORDS: Record<SnapKind, string> = {
  corner: 'corner',
  edge: 'edge',
  middle: 'middle',
  crossing: 'crossing',
  centre: 'centre of a circle',
  'centre line': 'centre line',
  square: 'square to it',
  face: 'face',
};

/** What the hand that measures holds. Nobody else's business, unlike the measures. */
export interface Hand {
  kind: MeasureKind;
  /** What places may be taken for. */
  kinds: ReadonlySet<SnapKind>;
  axis: HeldAxis | null;
  /** The places named so far. */
  places: readonly PlaceAt[];
  /** Whether an answer is being worked out. */
  isAsking: boolean;
  /** Why nothing came of it. */
  trouble: string | null;
  /** The measure that is pointed out in the list. */
  chosen: string | null;
}

/** Where a hand points: a line of sight in project coordinates. */
export interface Sight {
  origin: Vec3;
  direction: Vec3;
}

/** Measures grow in it, place by place; where the places come from, the model or a flat drawing, is not its business. */
export class Measuring {
  readonly hand: StoreApi<Hand> = createStore<Hand>(() => ({
    kind: 'distance',
    kinds: new Set(SNAP_KINDS),
    axis: null,
    places: [],
    isAsking: false,
    trouble: null,
    chosen: null,
  }));
  /** The id of the measure that grows; null while none does. */
  private growing: string | null = null;

  constructor(private readonly session: ReviewSession) {}

  get measures(): readonly Measure[] {
    return this.session.store.getState().view.measures;
  }

  get from(): Vec3 | null {
    return this.state.places.at(-1)?.point ?? null;
  }

  takeUp(kind: MeasureKind): void {
    this.abandon();
    this.hand.setState({ kind, trouble: null });
  }

  hold(axis: HeldAxis | null): void {
    this.hand.setState({ axis: this.state.axis === axis ? null : axis });
  }

  switchKind(kind: SnapKind): void {
    const kinds = new Set(this.state.kinds);
    if (!kinds.delete(kind)) kinds.add(kind);
    this.hand.setState({ kinds });
  }

  /**
   * Points at a place. @param sight along which one points, for a held axis @param held an axis that a key holds
   * @returns the place as it would be taken, and its word
   */
  aim(place: PlaceAt | null, sight: Sight, held: HeldAxis | null): { place: PlaceAt; word: string } | null {
    const axis = held ?? this.state.axis;
    const { from } = this;
    const bound = from && axis ? placeAlong(place, from, axis, sight) : null;
    const aim = bound?.place ?? place;
    this.grow(aim ? [...this.state.places, aim] : this.state.places);
    if (!aim) return null;
    const isInTheOpen = aim.kind === 'face' && !aim.element;
    const word = bound ? `along ${bound.name}` : isInTheOpen ? 'in the plane' : SNAP_WORDS[aim.kind];
    return { place: aim, word: aim.about ? `about, ${word}` : word };
  }

  /** Points at nothing any more. */
  letGo(): void {
    this.grow(this.state.places);
  }

  /** Takes a place. What its kind needs no more of is done. */
  async take(place: PlaceAt): Promise<void> {
    const { kind, places } = this.state;
    if (this.state.isAsking) return;
    if (this.measures.length >= MOST_MEASURES) return this.fail(`A view holds ${MOST_MEASURES} measures at most.`);
    const last = places.at(-1);
    if (last && kind !== 'elements' && distance(last.point, place.point) < 1e-6) return;
    const next = [...places, place];
    this.hand.setState({ places: next, trouble: null });
    this.growing ??= freeMeasureId(this.measures);
    if (next.length >= MOST_POINTS) return this.finish();
    if (next.length !== PLACES_TOLD[kind]) return this.grow(next);
    if (isAsked(kind)) await this.ask(kind, next);
    else this.finish();
  }

  /** Ends a chain or an area where it is. */
  finish(): void {
    const { kind, places } = this.state;
    const measure = this.growing && !isAsked(kind) ? measureOf(kind, this.growing, places) : null;
    if (measure) this.keep(measure);
    else if (kind === 'faces' && places.length === 2) this.fail('One of the two places is on no face.');
    else this.abandon();
  }

  /** Takes the last place back. */
  back(): void {
    const places = this.state.places.slice(0, -1);
    if (places.length === 0) {
      this.abandon();
      return;
    }
    this.hand.setState({ places });
    this.grow(places);
  }

  /** Lets go of what grows. Returns whether there was something. */
  abandon(): boolean {
    const wasGrowing = this.growing !== null;
    const others = this.others;
    const isShown = others.length < this.measures.length;
    this.growing = null;
    this.hand.setState({ places: [], isAsking: false });
    if (isShown) this.session.view.change({ measures: others });
    return wasGrowing;
  }

  rename(id: string, name: string): void {
    this.replace(this.measures.map((one) => (one.id === id ? { ...one, name: name.trim().slice(0, 120) } : one)));
  }

  remove(id: string): void {
    this.replace(this.measures.filter((one) => one.id !== id));
  }

  removeAll(): void {
    this.abandon();
    this.replace([]);
  }

  choose(id: string | null): void {
    this.hand.setState({ chosen: id });
    this.session.stage?.measures.point(id);
  }

  private get state(): Hand {
    return this.hand.getState();
  }

  private get others(): readonly Measure[] {
    return this.measures.filter(({ id }) => id !== this.growing);
  }

  private grow(places: readonly PlaceAt[]): void {
    if (!this.growing) return;
    const measure = growingMeasure(this.state.kind, this.growing, places);
    const measures = measure ? [...this.others, measure] : this.others;
    if (measures.length > 0 || this.measures.length > 0) this.session.view.move({ measures });
  }

  private keep(measure: Measure): void {
    const measures = [...this.others, measure];
    this.growing = null;
    this.hand.setState({ places: [], isAsking: false });
    this.replace(measures);
    this.choose(measure.id);
  }

  private replace(measures: readonly Measure[]): void {
    this.session.view.change({ measures });
  }

  private fail(trouble: string): void {
    this.abandon();
    this.hand.setState({ trouble, isAsking: false });
  }

  private async ask(kind: AskedKind, places: readonly PlaceAt[]): Promise<void> {
    const id = this.growing!;
    this.hand.setState({ isAsking: true });
    try {
      const answer = await this.answer(kind, places);
      if (this.growing !== id) return;
      if (typeof answer === 'string') this.fail(answer);
      else this.keep({ id, name: '', kind, normals: [], area: null, ...answer });
    } finally {
      this.hand.setState({ isAsking: false });
    }
  }

  /** What the model answers about places, or why there is nothing to say. */
  private async answer(
    kind: AskedKind,
    places: readonly PlaceAt[],
  ): Promise<(Pick<Measure, 'points'> & Partial<Measure>) | string> {
    const { stage } = this.session;
    const [place, second] = places as [PlaceAt, PlaceAt | undefined];
    const { element, point, normal, cut } = place;
    if (kind === 'face' && cut) {
      const { area, outline } = cut();
      return { points: [point, ...thinnedOutline(outline)], area };
    }
    if (!stage) return 'The model is not open any more.';
    if (kind === 'room') {
      // What stands on the floor may have been tapped as well.
      const floor = normal && normal[2] > 0.9 ? null : await stage.measured.floorBelow(point, element);
      const outline = await stage.rooms.around(floor?.[1] ?? point);
      return outline ? { points: outline } : 'No walls close around this place.';
    }
    if (!element) return 'There is nothing to measure at this place.';
    const { axis } = this.state;
    if (kind === 'elements') {
      if (!second?.element) return 'There is nothing to measure at this place.';
      if (second.element.guid === element.guid && second.element.model === element.model)
        return 'Both places are on one element. Name two.';
      const found = await stage.surfaces.distance(element, second.element);
      return found ? { points: [found.from, found.to] } : 'One of the two has no surface.';
    }
    if (kind === 'face') {
      const face = await stage.measured.face(element, point);
      return face
        ? { points: [point, ...thinnedOutline(face.outline)], area: face.area }
        : 'There is no face at this place.';
    }
    if (kind === 'round') {
      const round = stage.measured.round(element, point);
      return round ? { points: [round.centre, round.rim], normals: [round.normal] } : 'Nothing is round at this place.';
    }
    if (kind === 'height') {
      const found = await stage.measured.floorBelow(point, element);
      return found ? { points: found } : 'There is no floor below this place.';
    }
    if (!normal) return 'The surface there is not known yet. Try again in a moment.';
    const held = axis && axis !== 'nearest' ? AXES[axis] : null;
    const found = await stage.measured.clearWidth(point, normal, held);
    return found ? { points: found } : 'Nothing stands opposite this place.';
  }
}

/** The words that ask for the next place. */
export function nextWords({ kind, places, isAsking }: Pick<Hand, 'kind' | 'places' | 'isAsking'>): string {
  if (isAsking) return 'Working it out …';
  const count = places.length;
  switch (kind) {
    case 'distance':
      return count === 0 ? 'Tap the first place.' : 'Tap the second place.';
    case 'chain':
      return count === 0 ? 'Tap the first place.' : 'Tap the next place, or twice to end.';
    case 'area':
      return count < 3 ? `Tap corner ${count + 1}.` : 'Tap the next corner, or twice to end.';
    case 'angle':
      return ['Tap a place on one arm.', 'Tap the vertex.', 'Tap a place on the other arm.'][count]!;
    case 'elements':
      return count === 0 ? 'Tap the first element.' : 'Tap the second element.';
    case 'clear':
      return 'Tap a wall, or a floor for the narrowest way across.';
    case 'face':
      return 'Tap a face.';
    case 'faces':
      return count === 0 ? 'Tap the first face.' : 'Tap the second face.';
    case 'round':
      return 'Tap something round.';
    case 'height':
      return 'Tap a place above a floor.';
    case 'room':
      return 'Tap the floor of a room.';
    case 'place':
      return 'Tap a place.';
  }
}

/** What a measure is called. */
export function measureName({ name, kind }: Measure): string {
  return name || KIND_WORDS[kind];
}

/** A place bound to an axis through the one before: the foot of what was snapped to, or else where one points. */
function placeAlong(
  place: PlaceAt | null,
  from: Vec3,
  axis: HeldAxis,
  sight: Sight,
): { place: PlaceAt; name: string } | null {
  const along = (direction: Vec3): Vec3 | null =>
    place && place.kind !== 'face'
      ? add(from, scale(direction, dot(subtract(place.point, from), direction)))
      : alongAxis(sight, from, direction);
  const names = axis === 'nearest' ? (['x', 'y', 'z'] as const) : [axis];
  let best: { point: Vec3; name: string; off: number } | null = null;
  for (const name of names) {
    const point = along(AXES[name]);
    if (!point) continue;
    const off = place ? distance(point, place.point) : offSight(point, sight);
    if (!best || off < best.off) best = { point, name, off };
  }
  if (!best) return null;
  const { point, name } = best;
  const base = place ?? { element: null, normal: null, about: false };
  return { place: { ...base, kind: 'edge', line: null, point, cut: null }, name };
}

function offSight(point: Vec3, { origin, direction }: Sight): number {
  const from = subtract(point, origin);
  return distance(from, scale(direction, dot(from, direction)));
}

const hands = new WeakMap<ReviewSession, Measuring>();

/** The hand that measures in a Review. */
export function measuringOf(session: ReviewSession): Measuring {
  let measuring = hands.get(session);
  if (!measuring) hands.set(session, (measuring = new Measuring(session)));
  return measuring;
}
