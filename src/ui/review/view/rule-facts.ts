import { factsAsked, type FactLookup, type FactRows } from '@/core/elements/match-elements';
import type { ViewState } from '@/core/view/view-state';
import type { StageModel } from '@/stage/model/stage-model';
import type { ReviewStore } from '../review-state';

/** As much of the stage as facts are for. */
export interface FactStage {
  readonly loadedModels: readonly Pick<StageModel, 'source'>[];
  setFacts(facts: (model: string) => FactLookup | undefined): void;
}

/** Fetches the facts that rules of the view ask about; until they are there, no element has them. */
export class RuleFacts {
  /** By revision, set and name. A list that is empty is being fetched, or could not be had. */
  private readonly known = new Map<string, FactRows[]>();

  constructor(private readonly fetchFact: (revision: string, set: string, name: string) => Promise<FactRows[]>) {}

  /** Keeps a stage supplied. Returns how to end that. */
  follow(store: ReviewStore, stage: FactStage): () => void {
    const look = () => this.supply(store.getState().view, stage);
    look();
    return store.subscribe((state, before) => {
      if (
        state.view.visibility !== before.view.visibility ||
        state.view.fades !== before.view.fades ||
        state.view.colouring !== before.view.colouring ||
        state.loaded !== before.loaded
      )
        look();
    });
  }

  private supply({ visibility, fades, colouring, selection }: ViewState, stage: FactStage): void {
    const asked = factsAsked([
      visibility.shown,
      ...[...fades, ...colouring].map(({ of }) => of),
      selection.map((also) => ({ also })),
    ]);
    for (const { source } of stage.loadedModels)
      for (const { set, name } of asked) {
        const key = keyOf(source.revisionId, set, name);
        if (this.known.has(key)) continue;
        this.known.set(key, []);
        this.fetchFact(source.revisionId, set, name).then(
          (rows) => {
            this.known.set(key, rows);
            this.hand(stage);
          },
          () => this.known.delete(key), // asked again with the next change
        );
      }
  }

  private hand(stage: FactStage): void {
    stage.setFacts((model) => {
      const source = stage.loadedModels.find((one) => one.source.modelId === model)?.source;
      return source && ((set, name) => this.known.get(keyOf(source.revisionId, set, name)));
    });
  }
}

function keyOf(revision: string, set: string, name: string): string {
  return [revision, set, name].join('\n');
}
