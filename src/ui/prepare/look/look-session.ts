import { createStore, type StoreApi } from 'zustand/vanilla';
import type { StageModelSource, RevisionSummary, ModelSummary } from '@/core/project/models';
import { revealAll, revealedRows } from '@/core/reveal/reveal-index';
import type { RevealColumn, RevealRule } from '@/core/reveal/reveal-rule';
import type { ModelFrame } from '@/core/units/length-unit';
import { SHOW_ALL } from '@/core/viewpoint';
import { Stage } from '@/stage/stage';
import { api, messageOf } from '../../api';

export interface LookState {
  /** Null until the model's contents have arrived. */
  rule: RevealRule | null;
  /** How many elements the rule reveals. */
  revealed: number;
  selected: { guid: string; name: string } | null;
  busy: boolean;
  trouble: string | null;
}

/** Somebody looks at a revision before it is published: the stage, and the rule that is being made. */
export class LookSession {
  readonly store: StoreApi<LookState> = createStore<LookState>(() => ({
    rule: null,
    revealed: 0,
    selected: null,
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
        this.store.setState({ selected: hit && { guid: hit.element.guid, name: hit.name } });
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
  async load(model: ModelSummary, revision: RevisionSummary): Promise<void> {
    const { report, files } = revision;
    if (!report?.extent || !files || !this.stage || this.loaded === files) return;
    this.loaded = files;
    const source: StageModelSource = {
      modelId: this.modelId,
      revisionId: files, // each reading has its own files, and the stage tells revisions apart by this
      code: '',
      name: model.name,
      discipline: model.discipline,
      baseUrl: files,
      offset: report.offset,
      extent: report.extent,
    };
    try {
      await this.stage.setModels([source]);
      const index = this.stage?.loadedModels[0]?.index;
      if (!index) return;
      this.setRule(revision.settings.reveal ?? revealAll(index));
      this.stage?.showPerson(true);
      this.stage?.showWhole();
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

  /** Reads the file again with another scale or up axis. Returns whether the server took it. */
  readAs(revisionId: string, frame: ModelFrame): Promise<boolean> {
    return this.decide(revisionId, { frame, publish: false });
  }

  async publish(revisionId: string, frame: ModelFrame | undefined): Promise<boolean> {
    const { rule } = this.store.getState();
    return this.decide(revisionId, { ...(rule && { reveal: rule }), ...(frame && { frame }), publish: true });
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
    this.store.setState({ rule, revealed: revealedRows(index, rule).filter(Boolean).length });
    this.show();
  }

  /** What the rule withholds disappears; what is selected is marked. */
  private show(): void {
    const { rule, selected } = this.store.getState();
    const index = this.stage?.loadedModels[0]?.index;
    if (!index || !rule) return;
    const ref = (guid: string) => ({ model: this.modelId, guid });
    const rows = revealedRows(index, rule);
    const hidden = index.guid.filter((_, row) => !rows[row]).map(ref);
    this.stage?.setState({ ...SHOW_ALL, hidden }, selected ? [ref(selected.guid)] : []);
  }
}
