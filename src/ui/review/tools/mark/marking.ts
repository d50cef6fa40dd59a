import { v4 as uuidv4 } from 'uuid';
import { createStore, type StoreApi } from 'zustand';
import { grownMark, movedMark, reshapedMark, scaledMark } from '@/core/mark/edit-mark';
import { INKS, isWholeMark, MARK_KINDS, PENS, type Ink, type Mark, type MarkKind, type Pen } from '@/core/mark/marks';
import { distance } from '@/core/math/vec3';
import type { Drag, PointerTaker, Press } from '@/stage/input/pointer-taker';
import type { SurfaceHit } from '@/stage/surfaces/surfaces';
import { keptStore } from '../../../kept-store';
import type { ReviewSession } from '../../session';

/** What one draws with; kept in the person's browser. */
interface PenInHand {
  kind: MarkKind;
  ink: Ink;
  pen: Pen;
}

const FIRST: PenInHand = { kind: 'cloud', ink: 'madder', pen: 'medium' };

export const penStore: StoreApi<PenInHand> = keptStore('pen', FIRST, ({ kind, ink, pen }) => ({
  kind: MARK_KINDS.find((one) => one === kind) ?? FIRST.kind,
  ink: INKS.find((one) => one === ink) ?? FIRST.ink,
  pen: PENS.find((one) => one === pen) ?? FIRST.pen,
}));

interface MarkingState {
  /** The mark that is taken hold of. */
  chosen: string | null;
  /** Where words are being written; the mark of that place, once there is one, is `chosen`. */
  writing: [number, number] | null;
}

/** Pixels within which a mark or a handle is meant. */
const REACH = { mouse: 5, pen: 6, touch: 16 } as const;
/** Parts of half the picture: what is smaller than this was no drawing. */
const LEAST_SIZE = 0.015;
/** A hand that moved less than this has not moved. */
const LEAST_STEP = 0.003;
/** Between two elements' surfaces this far apart lies an edge: there a line ends and another one begins. */
const MOST_GAP = 0.15;
const MOST_GAP_PIXELS = 12;
/** Between two places of the hand a surface is felt for every so many pixels. */
const FELT_PIXELS = 5;
/** What a key moves and scales a mark by. */
const KEY_STEP = 0.01;
const KEY_SCALE = 1.08;
/** A mark that is made by a key lies in the middle. */
const IN_THE_MIDDLE = [-0.22, 0.14, 0.22, -0.14];

/** Draws over the view and on surfaces, and changes what was drawn. */
export class Marking {
  readonly store = createStore<MarkingState>(() => ({ chosen: null, writing: null }));
  /** What this hand is drawing, with what the same stroke has left already. */
  private drafts: readonly Mark[] = [];

  constructor(private readonly session: ReviewSession) {}

  get marks(): readonly Mark[] {
    return this.session.store.getState().view.marks;
  }

  /** The mark that is taken hold of, as long as it is there. */
  get chosen(): Mark | null {
    const { chosen } = this.store.getState();
    return this.marks.find(({ id }) => id === chosen) ?? null;
  }

  choose(id: string | null): void {
    this.store.setState({ chosen: id, writing: null });
    this.session.stage?.marks.choose(id);
  }

  /** In a meeting what others drew is theirs, unless one leads. */
  mayChange(mark: Mark): boolean {
    const { meeting, start } = this.session;
    return !meeting.isMeeting || meeting.isLead || mark.by.id === start.you.id;
  }

  /** Changes what is taken hold of. */
  change(change: (mark: Mark) => Mark): void {
    const { chosen } = this;
    if (!chosen || !this.mayChange(chosen)) return;
    const changed = change(chosen);
    if (isWholeMark(changed)) this.session.view.mark([changed]);
  }

  remove(): void {
    const { chosen } = this;
    if (!chosen || !this.mayChange(chosen)) return;
    this.choose(null);
    this.session.view.mark([], [chosen.id]);
  }

  /** Takes away all that this person may take away. */
  removeAll(): void {
    const gone = this.marks.filter((mark) => this.mayChange(mark)).map(({ id }) => id);
    this.choose(null);
    if (gone.length > 0) this.session.view.mark([], gone);
  }

  /** Puts what was written to its place, or changes what stands there. */
  write(text: string): void {
    const { writing } = this.store.getState();
    const { chosen } = this;
    if (chosen?.kind === 'text') {
      if (text.trim()) this.change((mark) => ({ ...mark, text: text.trim() }));
      else this.remove();
    } else if (writing && text.trim()) {
      const mark = { ...this.begun('text', writing), text: text.trim() };
      this.session.view.mark([mark]);
      this.choose(mark.id);
    }
    this.store.setState({ writing: null });
  }

  /** Shows what is being drawn, here and by others. */
  grow(): void {
    const others = Object.values(this.session.store.getState().growing);
    this.session.stage?.marks.grow([...others, ...this.drafts]);
  }

  /** What a hand does while Mark is the tool. */
  taker(): PointerTaker {
    return {
      press: (press) => (press.kind === 'mouse' && press.buttons !== 1 ? null : this.press(press)),
      tap: (press) => this.tap(press),
      doubleTap: (press) => this.tap(press),
      longPress: () => true,
      key: (event) => this.key(event),
    };
  }

  /** A pen draws whatever tool is in hand, unless that tool wants it. */
  penTaker(): PointerTaker {
    return {
      press: (press) =>
        press.kind === 'pen' && press.buttons === 1 && this.session.start.rights.comment
          ? this.draw(press, true)
          : null,
    };
  }

  private press(press: Press): Drag | null {
    const { stage } = this.session;
    const { chosen } = this;
    if (!stage) return null;
    const [x, y] = stage.within(press);
    if (chosen && this.mayChange(chosen)) {
      const handle = stage.marks.handleAt(x, y, REACH[press.kind]);
      if (handle !== null) return this.edit((mark, at) => reshapedMark(mark, handle, at), press);
      if (stage.marks.markAt(x, y, REACH[press.kind])?.id === chosen.id) {
        const from = stage.marks.toView(x, y);
        return this.edit((mark, [u, v]) => movedMark(mark, u - from[0], v - from[1]), press);
      }
    }
    return this.draw(press, false);
  }

  /** Changes the chosen mark as long as the hand moves. */
  private edit(change: (mark: Mark, at: [number, number]) => Mark, first: Press): Drag {
    const original = this.chosen!;
    let at = this.viewAt(first);
    return {
      move: (_, moved) => {
        at = this.viewAt(moved);
        this.sketch(change(original, at));
      },
      end: (isCancelled) => {
        const changed = change(original, at);
        this.sketch(null);
        if (!isCancelled && isWholeMark(changed)) this.session.view.mark([changed]);
      },
    };
  }

  /** @param isPen whether it is a pen that draws without the tool: that draws freely */
  private draw(first: Press, isPen: boolean): Drag | null {
    const kind = isPen ? 'free' : penStore.getState().kind;
    if (kind === 'text') return null;
    return kind === 'surface' ? this.drawOnSurfaces(first) : this.drawOver(first, kind);
  }

  private drawOver(first: Press, kind: MarkKind): Drag {
    const start = this.viewAt(first);
    let mark = kind === 'free' ? grownMark(this.begun(kind, []), start, pressureOf(first)) : this.begun(kind, start);
    return {
      fingers: meansCamera,
      move: (_, moved) => {
        const at = this.viewAt(moved);
        if (kind !== 'free') mark = { ...mark, points: [...start, ...at] };
        else if (Math.hypot(at[0] - mark.points.at(-2)!, at[1] - mark.points.at(-1)!) > LEAST_STEP)
          mark = grownMark(mark, at, pressureOf(moved));
        this.sketch(mark);
      },
      end: (isCancelled) => {
        this.sketch(null);
        if (!isCancelled && sizeOf(mark) > LEAST_SIZE && isWholeMark(mark)) {
          this.session.view.mark([mark]);
          this.choose(null);
        }
      },
    };
  }

  private drawOnSurfaces(first: Press): Drag {
    const done: Mark[] = [];
    let mark = this.begun('surface', []);
    let last: SurfaceHit | null = null;
    let hand = first;
    const finish = () => {
      if (isWholeMark(mark)) done.push(mark);
      mark = this.begun('surface', []);
      last = null;
    };
    const feel = (x: number, y: number, pressure: number | null) => {
      const { stage } = this.session;
      const hit = stage?.surfaces.hit(stage.rig.ray(x, y)).value;
      if (!hit) return finish();
      const pixel = stage!.rig.metresPerPixel(hit.distance);
      const gap = last && distance(last.point, hit.point);
      const isOther = last !== null && last.element.guid !== hit.element.guid;
      if (gap !== null && isOther && gap > Math.max(MOST_GAP, MOST_GAP_PIXELS * pixel)) finish();
      if (last && gap! < pixel) return;
      last = hit;
      mark = grownMark(mark, hit.point, pressure);
    };
    const add = (press: Press) => {
      const [dx, dy] = [press.x - hand.x, press.y - hand.y];
      const steps = Math.max(1, Math.ceil(Math.hypot(dx, dy) / FELT_PIXELS));
      for (let step = 1; step <= steps; step++)
        feel(hand.x + (dx * step) / steps, hand.y + (dy * step) / steps, pressureOf(press));
      hand = press;
    };
    add(first);
    return {
      fingers: meansCamera,
      move: (_, moved) => {
        add(moved);
        this.sketch(mark, done);
      },
      end: (isCancelled) => {
        finish();
        this.sketch(null);
        if (!isCancelled && done.length > 0) this.session.view.mark(done);
      },
    };
  }

  private tap(press: Press): boolean {
    const { stage } = this.session;
    if (!stage) return false;
    const [x, y] = stage.within(press);
    const found = stage.marks.markAt(x, y, REACH[press.kind]);
    if (found) this.choose(found.id);
    else if (penStore.getState().kind === 'text' && !this.store.getState().writing) {
      this.choose(null);
      this.store.setState({ writing: stage.marks.toView(x, y) });
    } else this.choose(null);
    return true;
  }

  private key({ key, shiftKey }: KeyboardEvent): boolean {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[key];
    // What is not one's own leaves its keys to the camera.
    const chosen = this.chosen && this.mayChange(this.chosen) ? this.chosen : null;
    if (key === 'Enter' && !chosen) return this.putInTheMiddle();
    if (key === '.' || key === ',') return this.chooseNext(key === '.' ? 1 : -1);
    if (!chosen || chosen.kind === 'surface') return key === 'Delete' && chosen ? (this.remove(), true) : false;
    if (way) {
      const step = KEY_STEP * (shiftKey ? 5 : 1);
      this.change((mark) => movedMark(mark, way[0]! * step, way[1]! * step));
    } else if (key === '+' || key === '=') this.change((mark) => scaledMark(mark, KEY_SCALE));
    else if (key === '-') this.change((mark) => scaledMark(mark, 1 / KEY_SCALE));
    else if (key === 'Delete' || key === 'Backspace') this.remove();
    else return false;
    return true;
  }

  private putInTheMiddle(): boolean {
    const { kind } = penStore.getState();
    if (kind === 'text') this.store.setState({ writing: [IN_THE_MIDDLE[0]!, 0] });
    if (kind === 'text' || kind === 'free' || kind === 'surface') return kind === 'text';
    const mark = this.begun(kind, IN_THE_MIDDLE);
    this.session.view.mark([mark]);
    this.choose(mark.id);
    return true;
  }

  private chooseNext(by: 1 | -1): boolean {
    const { marks } = this;
    if (marks.length === 0) return false;
    const at = marks.findIndex(({ id }) => id === this.chosen?.id);
    const next = marks[at < 0 ? (by > 0 ? 0 : marks.length - 1) : (at + by + marks.length) % marks.length]!;
    this.choose(next.id);
    return true;
  }

  /** Shows what is being drawn, to everybody. @param done what the same stroke has left already */
  private sketch(mark: Mark | null, done: readonly Mark[] = []): void {
    this.drafts = mark ? [...done, mark] : [];
    this.grow();
    this.session.meeting.growing(mark);
  }

  private begun(kind: MarkKind, points: readonly number[]): Mark {
    const { ink, pen } = penStore.getState();
    const { start, stage } = this.session;
    return {
      id: uuidv4(),
      kind,
      ink,
      pen,
      points: points.map((value) => Math.round(value * 10_000) / 10_000),
      pressures: [],
      text: '',
      camera: kind === 'surface' ? null : stage!.rig.pose,
      by: { id: start.you.id, name: start.you.name },
    };
  }

  private viewAt(press: Press): [number, number] {
    const stage = this.session.stage!;
    return stage.marks.toView(...stage.within(press));
  }
}

/** How hard a pen presses; nothing of hands that do not tell. */
function pressureOf({ kind, pressure }: Press): number | null {
  return kind === 'pen' ? pressure : null;
}

function sizeOf({ points }: Mark): number {
  const span = (from: number) => {
    const own = points.filter((_, i) => i % 2 === from);
    return Math.max(...own) - Math.min(...own);
  };
  return Math.hypot(span(0), span(1));
}

/** A second finger turns and zooms: what was being drawn is given up. */
function meansCamera(fingers: readonly Press[]): boolean {
  return fingers.length > 1;
}
