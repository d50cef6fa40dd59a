import { readFile } from 'node:fs/promises';
import { and, desc, eq, isNotNull } from 'drizzle-orm';
import { guidRows } from '@/core/elements/element-flags';
import type { ElementIndex } from '@/core/elements/element-index';
import { factsAsked, type FactRows, type ModelElements } from '@/core/elements/match-elements';
import { goesByRules, nameElements, setsOf } from '@/core/elements/name-elements';
import type { ViewState } from '@/core/view/view-state';
import { db } from '@/db/database';
import { revisions } from '@/db/schema';
import { factValues } from '../projects/facts';
import { stands } from '../projects/standing-revisions';
import { optionSetsOf } from '../review/options';
import { revisionKey, storage } from '../storage/storage';

/**
 * Views for programs that know elements by their guids alone: what rules mean in the newest revisions of a project, element by
 * element. Views that name their elements anyway stay as they are.
 */
export async function namedViews(
  projectId: string,
  views: ReadonlyMap<string, ViewState>,
): Promise<Map<string, ViewState>> {
  const options = await optionSetsOf(projectId);
  const byRules = [...views.values()].filter((view) => goesByRules(view, options));
  if (byRules.length === 0) return new Map(views);
  const models = await elementsOf(projectId, byRules);
  return new Map(
    [...views].map(([id, view]) => [id, goesByRules(view, options) ? nameElements(view, models, options) : view]),
  );
}

async function elementsOf(projectId: string, views: readonly ViewState[]): Promise<ModelElements[]> {
  const newest = await db()
    .selectDistinctOn([revisions.modelId], {
      model: revisions.modelId,
      revision: revisions.id,
      content: revisions.contentId,
    })
    .from(revisions)
    .where(and(eq(revisions.projectId, projectId), stands(), isNotNull(revisions.contentId)))
    .orderBy(revisions.modelId, desc(revisions.number));
  const asked = factsAsked(views.flatMap(setsOf));
  const store = await storage();
  const models: ModelElements[] = [];
  for (const { model, revision, content } of newest) {
    const text = await store.withFile(`${revisionKey(content!)}/elements.json`, (path) => readFile(path, 'utf8'));
    const index = JSON.parse(text) as ElementIndex;
    const facts = new Map<string, FactRows[]>();
    for (const { set, name } of asked) facts.set(`${set}\n${name}`, await factValues(revision, set, name));
    models.push({ model, index, rowOf: guidRows(index), facts: (set, name) => facts.get(`${set}\n${name}`) });
  }
  return models;
}
