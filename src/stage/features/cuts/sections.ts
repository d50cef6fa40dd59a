import { cutFaces, type CutFace, type Cuts } from '@/core/cut/cuts';
import type { Plane } from '@/core/section/plane';
import type { CoordinateFrame } from '../../coordinate-frame';
import type { CutUniforms } from '../../materials/cut-uniforms';
import type { StageModel } from '../../model/stage-model';
import type { RowCut } from '../../workers/cut-task';
import type { WorkerPool } from '../../workers/worker-pool';
import type { Feature } from '../feature';
import { Cap, CapMaterials } from './caps';
import { cutModel } from '../../surfaces/cut-model';

/** A cut that has not changed for so long rests. */
const REST_MS = 120;

/** An exact section: of one model by one face of a cut. */
export interface ExactCut {
  model: StageModel;
  face: CutFace;
  /** In the frame of the plane as the model sees it. */
  cuts: readonly RowCut[];
}

/** The exact sections of all models in one face of a cut. */
export interface WholeSection {
  plane: Plane;
  exact: readonly ExactCut[];
  /** Faces of the other cuts, beyond which nothing is. */
  others: readonly Plane[];
  frame: CoordinateFrame;
}

/**
 * What is cut away, and at rest the exact sections in the faces of the cuts. While a cut is dragged its section is what shows
 * of back faces; the exact one takes its place once it rests.
 */
export class Sections implements Feature {
  private faces: readonly CutFace[] = [];
  private readonly whole = new Map<string, WholeSection>();
  /** Exact sections that are there now; another list whenever they change. */
  exact: readonly ExactCut[] = [];
  private readonly caps = new Map<string, { cap: Cap; exact: ExactCut }>();
  private readonly materials: CapMaterials;
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** What is being cut. It is not cancelled but waited for: the worker keeps the tiles that it has read. */
  private readonly underWay = new Set<string>();
  /** Counts changes of what is cut: what was begun before the last of them is out of date. */
  private generation = 0;
  private isDisposed = false;

  constructor(
    private readonly models: () => readonly StageModel[],
    readonly frame: CoordinateFrame,
    private readonly uniforms: CutUniforms,
    readonly pool: WorkerPool,
    private readonly events: { onSection: () => void; onTrouble: (error: Error) => void },
  ) {
    this.materials = new CapMaterials(uniforms);
  }

  /** Cuts anew. Faces that stayed where they were keep their sections. */
  show(cuts: Cuts): void {
    const before = this.faces;
    this.faces = cutFaces(cuts);
    this.apply();
    const isSame = ({ key, plane }: CutFace) =>
      before.some((other) => other.key === key && isSamePlane(other.plane, plane));
    const kept = new Set(this.faces.filter(isSame).map(({ key }) => key));
    for (const [name, { cap, exact }] of this.caps)
      if (!kept.has(exact.face.key)) {
        cap.dispose();
        this.caps.delete(name);
      }
    this.list();
    this.request();
  }

  /** What is cut has changed: other elements show, or stand elsewhere. */
  invalidate(): void {
    this.generation++;
    this.apply();
    if (this.faces.length === 0) return;
    this.clear();
    this.request();
  }

  /** Whether the sections of all faces are there. */
  get isExact(): boolean {
    return this.faces.every(({ key }) => this.models().every((model) => this.caps.has(nameOf(model, key))));
  }

  /** The section in one face; null until it is there whole. Another object whenever it changes. */
  wholeSection(key: string): WholeSection | null {
    const known = this.whole.get(key);
    if (known) return known;
    const face = this.faces.find((one) => one.key === key);
    if (!face || !this.models().every((model) => model.isAway || this.caps.has(nameOf(model, key)))) return null;
    const others = this.faces.filter((one) => one !== face).map(({ plane }) => plane);
    const own = this.exact.filter((exact) => exact.face.key === key);
    const section = { plane: face.plane, exact: own, others, frame: this.frame };
    this.whole.set(key, section);
    return section;
  }

  resize(width: number, height: number): void {
    this.materials.resize(width, height);
  }

  dispose(): void {
    this.isDisposed = true;
    clearTimeout(this.timer);
    this.clear();
    this.materials.dispose();
  }

  private apply(): void {
    this.uniforms.set(this.faces, this.frame.origin);
    for (const model of this.models()) model.setCutting(this.faces.length > 0);
  }

  private clear(): void {
    for (const { cap } of this.caps.values()) cap.dispose();
    this.caps.clear();
    this.list();
  }

  private list(): void {
    this.whole.clear();
    this.exact = [...this.caps.values()].map(({ exact }) => exact);
  }

  private request(): void {
    clearTimeout(this.timer);
    if (this.faces.length > 0 && !this.isDisposed) this.timer = setTimeout(() => this.cutAll(), REST_MS);
  }

  private cutAll(): void {
    for (const model of this.models())
      for (const face of this.faces) {
        const name = nameOf(model, face.key);
        if (this.caps.has(name) || this.underWay.has(name) || model.isAway || model.isSpread) continue;
        this.underWay.add(name);
        this.cut(model, face, name)
          .catch((error: unknown) => {
            if (!this.isDisposed) this.events.onTrouble(error instanceof Error ? error : new Error(String(error)));
          })
          .finally(() => this.underWay.delete(name));
      }
  }

  private async cut(model: StageModel, face: CutFace, name: string): Promise<void> {
    const { generation } = this;
    const output = await cutModel(model, face.plane, model.cutRows, this, 2);
    if (this.isDisposed || !this.models().includes(model)) return;
    if (generation !== this.generation || !this.isStill(face)) return this.request();
    const cap = new Cap(output, model.index, model.group, this.materials);
    this.caps.set(name, { cap, exact: { model, face, cuts: output.cuts } });
    this.list();
    this.events.onSection();
  }

  /** Whether a face is where it was. */
  private isStill(face: CutFace): boolean {
    return this.faces.some(({ key, plane }) => key === face.key && isSamePlane(plane, face.plane));
  }
}

function isSamePlane(a: Plane, b: Plane): boolean {
  return a.offset === b.offset && a.normal.every((one, axis) => one === b.normal[axis]);
}

function nameOf(model: StageModel, key: string): string {
  return `${model.source.revisionId} ${key}`;
}
