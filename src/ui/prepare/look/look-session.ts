import { createStore, type StoreApi } from 'zustand/vanilla';
import { FINDINGS, type Finding, type FindingKind } from '@/core/examination/finding';
import { AS_IN_FILE } from '@/core/placement/placement';
import type { RevisionDetail, StageModelSource } from '@/core/project/models';
import { revealAll, revealedRows } from '@/core/reveal/reveal-index';
import type { RevealColumn, RevealRule } from '@/core/reveal/reveal-rule';
import type { ModelFrame } from '@/core/units/length-unit';
import { SHOW_ALL } from '@/core/viewpoint';
import { Stage } from '@/stage/stage';
import { api, messageOf } from '../../api';

export interface LookState {
  /** Null until the model's contents have arrived. */
  rule: RevealRule | null;
  /** By row whether the rule reveals the element. */
  rows: boolean[];
  /** How many it reveals. */
  revealed: number;
  selected: { guid: string; name: string } | null;
  findings: Finding[];
  mend: FindingKind[];
  /** The finding whose elements are marked. */
  marked: FindingKind | null;
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
    marked: null,
    busy: false,
    trouble: null,
  }));
  stage: Stage | null = null;
  private loaded: string | null = null;

  constructor(private readonly modelId: string) {}

  open(element: HTMLElement): () => void {
    const stage = new Stage(element, {
      onMove: () => undefined,
      onSettle: () => undefined,
      onPick: (hit) => {
        this.store.setState({ selected: hit && { guid: hit.element.guid, name: hit.name }, marked: null });
        this.show();
      },
      onPoint: () => undefined,
      onFrame: () => undefined,
      onLoading: () => undefined,
    });
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
      newerCode: null,
    };
    try {
      await this.stage.setModels([source]);
      const index = this.stage?.loadedModels[0]?.index;
      if (!index) return;
      this.store.setState({ findings: report.findings, mend: revision.settings.mend ?? [], marked: null });
      this.setRule(revision.settings.reveal ?? revealAll(index));
      // Strays would make the building a dot: the first look is at the rest.
      const strays = (report.findings.find(({ kind }) => kind === 'far-away')?.elements ?? []).map((guid) => ({
        model: this.modelId,
        guid,
      }));
      this.stage?.showPerson(this.stage.extentWithout(strays));
      this.stage?.showWhole(strays);
    } catch (error) {
      this.store.setState({ trouble: messageOf(error) });
    }
  }

  /** Ticks a branch or takes the tick away. A ticked category counts as decided about. */
  setBranch(column: RevealColumn, value: string, ticked: boolean): void {
    const { rule } = this.store.getState();
    if (!rule) return;
    const others = rule.withheld.filter((branch) => branch.column !== column || branch.value !== value);
    const known = new Set(rule.knownCategories);
    if (column === 'category') known.add(value);
    this.setRule({
      ...rule,
      withheld: ticked ? others : [...others, { column, value }],
      knownCategories: [...known],
    });
  }

  /** Withholds single elements or lets them through. */
  setElements(guids: string[], ticked: boolean): void {
    const { rule } = this.store.getState();
    if (!rule) return;
    const elements = new Set(rule.elements);
    for (const guid of guids) {
      if (ticked) elements.delete(guid);
      else elements.add(guid);
    }
    this.setRule({ ...rule, elements: [...elements] });
  }

  /** Agrees to mend a kind of finding, or not; what is to be left out disappears at once. */
  setMend(kind: FindingKind, agreed: boolean): void {
    const others = this.store.getState().mend.filter((other) => other !== kind);
    this.store.setState({ mend: agreed ? [...others, kind] : others });
    this.show();
  }

  /** Marks the elements of a finding and flies to them. */
  showFinding(finding: Finding): void {
    this.store.setState({ marked: finding.kind, selected: null });
    this.show();
    this.stage?.flyToElements(finding.elements.map((guid) => ({ model: this.modelId, guid })));
  }

  /** Reads the file again with another scale or up axis. Returns whether the server took it. */
  readAs(revisionId: string, frame: ModelFrame): Promise<boolean> {
    return this.decide(revisionId, { frame, publish: false });
  }

  async publish(revisionId: string, frame: ModelFrame | undefined): Promise<boolean> {
    const { rule, mend } = this.store.getState();
    return this.decide(revisionId, { ...(rule && { reveal: rule }), ...(frame && { frame }), mend, publish: true });
  }

  async putAside(revisionId: string): Promise<boolean> {
    return this.guarded(() => api.delete(`/api/revisions/${revisionId}/decision`));
  }

  private decide(revisionId: string, decision: object): Promise<boolean> {
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
    const index = this.stage?.loadedModels[0]?.index;
    if (!index) return;
    const rows = revealedRows(index, rule);
    this.store.setState({ rule, rows, revealed: rows.filter(Boolean).length });
    this.show();
  }

  /** What the rule withholds disappears; what is selected is marked. */
  private show(): void {
    const { rule, rows, selected, findings, mend, marked } = this.store.getState();
    const index = this.stage?.loadedModels[0]?.index;
    if (!index || !rule) return;
    const ref = (guid: string) => ({ model: this.modelId, guid });
    const leftOut = findings.filter(({ kind }) => FINDINGS[kind].mend === 'leave-out' && mend.includes(kind));
    const gone = new Set(leftOut.flatMap((finding) => finding.elements));
    const hidden = index.guid.filter((guid, row) => !rows[row] || gone.has(guid)).map(ref);
    const chosen = selected ? [selected.guid] : (findings.find(({ kind }) => kind === marked)?.elements ?? []);
    this.stage?.setState({ ...SHOW_ALL, hidden }, chosen.map(ref));
  }
}
