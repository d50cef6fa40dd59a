import { createStore, type StoreApi } from 'zustand/vanilla';
import { columnValue, type ElementIndex } from '@/core/elements/element-index';
import { FINDINGS, type Finding, type FindingKind, type Mend } from '@/core/examination/finding';
import { isEmptyBox, type Box3 } from '@/core/math/box3';
import { AS_IN_FILE } from '@/core/placement/placement';
import type { FactName, FactValue } from '@/core/project/fact';
import type { RevisionDetail, StageModelSource } from '@/core/project/models';
import type { PublishSettings } from '@/core/project/publish-settings';
import { decide, revealAll, type RevealRule, type WithheldFor } from '@/core/reveal/reveal-rule';
import { withheldRows } from '@/core/reveal/withheld-rows';
import { factsAsked, rowsWhere, type FactLookup } from '@/core/elements/match-elements';
import { colorParts, type SurfaceRule } from '@/core/surfaces/surface-rule';
import type { ModelFrame } from '@/core/units/length-unit';
import { ALL_ELEMENTS, whereElements, withoutElements, type Where } from '@/core/elements/element-set';
import { SHOW_ALL } from '@/core/view/visibility';
import { Stage } from '@/stage/stage';
import { api, messageOf, Refusal } from '../../api';

/** Metres around what one flies to, so that one sees where it is. */
const SURROUNDINGS = 1.5;

/** Elements that are marked, and seen through whatever stands before them. */
export interface Marked {
  /** What they were found for; null where somebody asked for them. */
  finding: FindingKind | null;
  guids: string[];
  /** Which of them alone is marked; null for all. */
  at: number | null;
}

export interface LookState {
  /** Null until the model's contents have arrived. */
  rule: RevealRule | null;
  /** By row why the rule withholds the element; null where it reveals it. */
  rows: (WithheldFor | null)[];
  /** How many it reveals. */
  revealed: number;
  selected: { guid: string; name: string } | null;
  findings: Finding[];
  mend: FindingKind[];
  /** Colours and materials that are changed; a later rule goes before an earlier one. */
  surfaces: SurfaceRule[];
  /** By row, as in the file. */
  triangles: number[];
  marked: Marked | null;
  /** Whether something of the model is still on its way. */
  loading: boolean;
  busy: boolean;
  trouble: string | null;
}

/** Somebody looks at a revision before it is published: the stage, and the rule that is being made. */
export class LookSession {
  readonly store: StoreApi<LookState> = createStore<LookState>(() => ({
    rule: null,
    rows: [],
    revealed: 0,
    selected: null,
    findings: [],
    mend: [],
    surfaces: [],
    triangles: [],
    marked: null,
    loading: true,
    busy: false,
    trouble: null,
  }));
  stage: Stage | null = null;
  private loaded: string | null = null;
  private revisionId = '';
  /** Rows by value, of the facts that were asked for. */
  private readonly facts = new Map<string, FactValue[]>();

  constructor(private readonly modelId: string) {}

  open(element: HTMLElement): () => void {
    const stage = new Stage(element, { onLoading: (loading) => this.store.setState({ loading }) });
    stage.pointers.tool = {
      tap: ({ x, y }) => {
        const hit = stage.pick(x, y);
        this.store.setState({ selected: hit && { guid: hit.element.guid, name: hit.name }, marked: null });
        this.show();
        return true;
      },
      doubleTap: ({ x, y }) => {
        const hit = stage.pick(x, y);
        if (hit) stage.flyToElements(whereElements([hit.element]));
        return true;
      },
    };
    this.stage = stage;
    return () => {
      stage.dispose();
      this.stage = null;
      this.loaded = null;
    };
  }

  /** Loads what a revision's file gave, unless that is on the stage already. */
  async load(revision: RevisionDetail): Promise<void> {
    const { report, files } = revision;
    if (!report?.extent || !files || !this.stage || this.loaded === files) return;
    this.loaded = files;
    this.revisionId = revision.id;
    this.facts.clear();
    const source: StageModelSource = {
      modelId: this.modelId,
      revisionId: files, // each reading has its own files, and the stage tells revisions apart by this
      code: '',
      name: revision.modelName,
      discipline: revision.discipline,
      baseUrl: files,
      offset: report.offset,
      extent: report.extent,
      placement: AS_IN_FILE,
      georeference: null,
      rounding: 0,
      newerCode: null,
    };
    try {
      await this.stage.setModels([source]);
      const index = this.stage?.loadedModels[0]?.index;
      if (!index) return;
      const { mend = [], surfaces = [] } = revision.settings;
      this.store.setState({ findings: report.findings, mend, surfaces, marked: null });
      this.setRule(revision.settings.reveal ?? revealAll(index.category.values));
      // Strays would make the building a dot: the first look is at the rest.
      const strays = (report.findings.find(({ kind }) => kind === 'far-away')?.elements ?? []).map((guid) => ({
        model: this.modelId,
        guid,
      }));
      this.stage?.showPerson(this.stage.extentWithout(strays));
      this.stage?.showWhole(strays);
      this.store.setState({ triangles: await weights(files) });
      for (const { set, name } of factsAsked(surfaces.map(({ of }) => [{ also: of }])))
        await this.factValues(set, name);
      this.show();
    } catch (error) {
      this.store.setState({ trouble: messageOf(error), loading: false });
    }
  }

  /** The facts that elements have, to choose from. */
  factNames(): Promise<FactName[]> {
    return api.get<FactName[]>(`/api/revisions/${this.revisionId}/facts`);
  }

  /** The values of a fact, with the rows of their elements. */
  async factValues(set: string, name: string): Promise<FactValue[]> {
    const key = `${set}\n${name}`;
    const known = this.facts.get(key);
    if (known) return known;
    const values = await api.get<FactValue[]>(
      `/api/revisions/${this.revisionId}/facts?${new URLSearchParams({ set, name })}`,
    );
    this.facts.set(key, values);
    return values;
  }

  /** Changes colours and materials by one more rule, which goes before all others. */
  addSurfaceRule(rule: SurfaceRule): void {
    this.setSurfaces([...this.store.getState().surfaces, rule]);
  }

  removeSurfaceRule(rule: SurfaceRule): void {
    this.setSurfaces(this.store.getState().surfaces.filter((other) => other !== rule));
  }

  private setSurfaces(surfaces: SurfaceRule[]): void {
    this.store.setState({ surfaces });
    this.show();
  }

  /** Reveals only what touches a box, in the model's own coordinates; null for no such limit. */
  setBox(box: Box3 | null): void {
    const { rule } = this.store.getState();
    if (!rule) return;
    const { box: _, ...rest } = rule;
    this.setRule(box ? { ...rest, box } : rest);
  }

  /** Box of the model, or of an element, in the model's own coordinates; null if it has no shape. */
  boxOf(guid?: string): Box3 | null {
    const model = this.stage?.loadedModels[0];
    if (!model) return null;
    if (guid === undefined) return model.extent;
    const box = model.elementBox(model.rowOf.get(guid) ?? -1);
    return isEmptyBox(box) ? null : box;
  }

  /** Reveals a part of the model; or withholds it, where it is revealed as far as the box allows. @param rows of its elements */
  toggle(where: Where, rows: readonly number[]): void {
    const before = this.store.getState().rows;
    this.decideAbout(
      where,
      rows,
      rows.some((row) => before[row] === 'new' || before[row] === 'rule'),
    );
  }

  /** Withholds single elements or lets them through, by row. */
  setElements(rows: readonly number[], revealed: boolean): void {
    const index = this.stage?.loadedModels[0]?.index;
    if (index) this.decideAbout([{ is: 'element', guids: rows.map((row) => index.guid[row]!) }], rows, revealed);
  }

  private decideAbout(where: Where, rows: readonly number[], revealed: boolean): void {
    const { rule } = this.store.getState();
    const index = this.stage?.loadedModels[0]?.index;
    if (!rule || !index) return;
    const categories = new Set(rows.map((row) => columnValue(index.category, row)));
    this.setRule(decide(rule, where, [...categories], revealed));
  }

  /** Agrees to mend a kind of finding, or not. What that does shows at once; where faces are turned, on what is marked. */
  setMend(kind: FindingKind, agreed: boolean): void {
    const { mend, marked } = this.store.getState();
    const others = mend.filter((other) => other !== kind);
    this.store.setState({
      mend: agreed ? [...others, kind] : others,
      marked: FINDINGS[kind].mend === 'turn' ? this.markFor(kind) : marked,
    });
    this.show();
  }

  /** Marks the elements of a finding and flies to them. */
  showFinding(finding: Finding): void {
    this.mark(this.markFor(finding.kind));
  }

  /** Marks the next of the marked elements alone, or one before it, and flies there. @param by 1 or -1 */
  step(by: 1 | -1): void {
    const { marked } = this.store.getState();
    if (!marked) return;
    const { length } = marked.guids;
    const at = marked.at === null ? (by > 0 ? 0 : length - 1) : (marked.at + by + length) % length;
    this.mark({ ...marked, at });
  }

  /** Marks elements by row and flies to them. */
  showRows(rows: number[]): void {
    const index = this.stage?.loadedModels[0]?.index;
    if (index) this.mark({ finding: null, guids: rows.map((row) => index.guid[row]!), at: null });
  }

  private markFor(kind: FindingKind): Marked {
    const { findings } = this.store.getState();
    return { finding: kind, guids: findings.find((one) => one.kind === kind)?.elements ?? [], at: null };
  }

  private mark(marked: Marked): void {
    this.store.setState({ marked, selected: null });
    this.show();
    this.stage?.flyToElements(
      whereElements(alone(marked).map((guid) => ({ model: this.modelId, guid }))),
      SURROUNDINGS,
    );
  }

  /** Reads the file again with another scale or up axis. Returns whether the server took it. */
  readAs(revisionId: string, frame: ModelFrame): Promise<boolean> {
    return this.send(revisionId, { frame, publish: false });
  }

  async publish(revisionId: string, frame: ModelFrame | undefined): Promise<boolean> {
    return this.send(revisionId, { ...this.settings(frame), publish: true });
  }

  /** Publishes what is revealed as a new model; what is looked at stays as it is. */
  publishPart(revisionId: string, name: string, frame: ModelFrame | undefined): Promise<boolean> {
    return this.guarded(() => api.post(`/api/revisions/${revisionId}/part`, { ...this.settings(frame), name }));
  }

  private settings(frame: ModelFrame | undefined): PublishSettings {
    const { rule, mend, surfaces } = this.store.getState();
    return { ...(rule && { reveal: rule }), ...(frame && { frame }), mend, surfaces };
  }

  async putAside(revisionId: string): Promise<boolean> {
    return this.guarded(() => api.delete(`/api/revisions/${revisionId}/decision`));
  }

  private send(revisionId: string, decision: object): Promise<boolean> {
    return this.guarded(() => api.post(`/api/revisions/${revisionId}/decision`, decision));
  }

  private async guarded(work: () => Promise<unknown>): Promise<boolean> {
    this.store.setState({ busy: true, trouble: null });
    try {
      await work();
      return true;
    } catch (error) {
      this.store.setState({ trouble: messageOf(error) });
      return false;
    } finally {
      this.store.setState({ busy: false });
    }
  }

  private setRule(rule: RevealRule): void {
    const model = this.stage?.loadedModels[0];
    if (!model) return;
    const rows = withheldRows(model.index, model.rowOf, rule, (row) => {
      const box = model.elementBox(row);
      return isEmptyBox(box) ? null : box;
    });
    this.store.setState({ rule, rows, revealed: rows.filter((reason) => reason === null).length });
    this.show();
  }

  /** What the rule withholds disappears; what is selected is marked; colours are shown as they will be. */
  private show(): void {
    const { rule, rows, selected, findings, mend, marked } = this.store.getState();
    const model = this.stage?.loadedModels[0];
    if (!model || !rule) return;
    const { index } = model;
    const agreed = (what: Mend) => findings.filter(({ kind }) => FINDINGS[kind].mend === what && mend.includes(kind));
    const rowsOf = (some: Finding[]) => some.flatMap(({ elements }) => elements.map((guid) => model.rowOf.get(guid)!));
    const turnable = findings.filter(({ kind }) => FINDINGS[kind].mend === 'turn' && kind === marked?.finding);
    model.setPaint({
      colors: this.paint(index),
      solid: rowsOf(agreed('solid')),
      backs: rowsOf(turnable.filter(({ kind }) => !mend.includes(kind))),
      lifts: new Map(
        agreed('lift').flatMap(({ elements, lifts = [] }) =>
          elements.map((guid, i) => [model.rowOf.get(guid)!, lifts[i] ?? 1] as const),
        ),
      ),
    });
    this.stage?.showBox(rule.box ?? null);
    const ref = (guid: string) => ({ model: this.modelId, guid });
    const gone = new Set(agreed('leave-out').flatMap(({ elements }) => elements));
    const hidden = index.guid.filter((guid, row) => rows[row] !== null || gone.has(guid)).map(ref);
    const chosen = selected ? [selected.guid] : marked ? alone(marked) : [];
    this.stage?.show(
      {
        visibility: { ...SHOW_ALL, shown: withoutElements(ALL_ELEMENTS, whereElements(hidden)) },
        selection: whereElements(chosen.map(ref)),
      },
      marked !== null,
    );
  }

  /** Colours that rules give, by row. */
  private paint(index: ElementIndex): Map<number, [number, number, number]> {
    const colors = new Map<number, [number, number, number]>();
    for (const rule of this.store.getState().surfaces) {
      if (rule.color === null) continue;
      for (const row of this.rowsOf(rule, index)) colors.set(row, colorParts(rule.color));
    }
    return colors;
  }

  /** Rows that a rule is about, as far as the contents tell. */
  rowsOf(rule: SurfaceRule, index: ElementIndex): number[] {
    const rowOf = this.stage!.loadedModels[0]!.rowOf;
    const facts: FactLookup = (set, name) => this.facts.get(`${set}\n${name}`);
    return rowsWhere([rule.of], { model: this.modelId, index, rowOf, facts });
  }
}

/** The guids of what is marked just now. */
function alone({ guids, at }: Marked): string[] {
  return at === null ? guids : [guids[at]!];
}

/** Triangles by row; none where the file was read by a version of Yurta that did not count them. */
async function weights(files: string): Promise<number[]> {
  try {
    return await api.get<number[]>(`${files}triangles.json`);
  } catch (error) {
    if (error instanceof Refusal && error.status === 404) return [];
    throw error;
  }
}
