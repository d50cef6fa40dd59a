import { and, asc, eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import {
  memberModel,
  readDesignOptions,
  type OptionChoice,
  type OptionSet,
  type OptionSetDraft,
} from '@/core/options/option-set';
import { db } from '@/db/database';
import { models, optionSets } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { notFound, Problem } from '../problems';

/** The alternatives of a project, place by place. */
export async function listOptionSets(actor: Actor, projectId: string): Promise<OptionSet[]> {
  await authorise(actor, projectId, 'project.read');
  return optionSetsOf(projectId);
}

/** The same, for whom may see the project. */
export async function optionSetsOf(projectId: string): Promise<OptionSet[]> {
  const rows = await db()
    .select()
    .from(optionSets)
    .where(eq(optionSets.projectId, projectId))
    .orderBy(asc(optionSets.createdAt));
  return rows.map(({ id, name, options }) => ({ id, name, options: readDesignOptions(options) }));
}

/** Makes a set of options. Returns its id. */
export async function createOptionSet(actor: Actor, projectId: string, draft: OptionSetDraft): Promise<string> {
  await authorise(actor, projectId, 'model.manage');
  await checkModels(projectId, draft);
  const id = uuidv7();
  await db()
    .insert(optionSets)
    .values({ id, projectId, name: draft.name, options: withIds(draft) });
  await tellProject(projectId, 'models-changed');
  return id;
}

/** Replaces a set's name and options. An option that keeps its name keeps its id, so that viewpoints and links still mean it. */
export async function changeOptionSet(
  actor: Actor,
  projectId: string,
  setId: string,
  draft: OptionSetDraft,
): Promise<void> {
  await authorise(actor, projectId, 'model.manage');
  await checkModels(projectId, draft);
  const [set] = await db().select().from(optionSets).where(isSet(projectId, setId));
  if (!set) throw notFound('The options');
  const known = new Map(readDesignOptions(set.options).map(({ id, name }) => [name, id]));
  await db()
    .update(optionSets)
    .set({ name: draft.name, options: withIds(draft, known) })
    .where(isSet(projectId, setId));
  await tellProject(projectId, 'models-changed');
}

/** Gives up a set: all that belonged to its options shows again. */
export async function deleteOptionSet(actor: Actor, projectId: string, setId: string): Promise<void> {
  await authorise(actor, projectId, 'model.manage');
  const deleted = await db().delete(optionSets).where(isSet(projectId, setId)).returning({ id: optionSets.id });
  if (deleted.length === 0) throw notFound('The options');
  await tellProject(projectId, 'models-changed');
}

/** Of a choice only what names sets and options of this project. */
export async function knownChoice(actor: Actor, projectId: string, choice: OptionChoice): Promise<OptionChoice> {
  const sets = await listOptionSets(actor, projectId);
  return Object.fromEntries(
    Object.entries(choice).filter(([set, option]) =>
      sets.some(({ id, options }) => id === set && options.some((one) => one.id === option)),
    ),
  );
}

function isSet(projectId: string, setId: string) {
  return and(eq(optionSets.id, setId), eq(optionSets.projectId, projectId));
}

function withIds({ options }: OptionSetDraft, known: ReadonlyMap<string, string> = new Map()) {
  return options.map(({ name, members }) => ({ id: known.get(name) ?? uuidv7(), name, members }));
}

/** @throws Problem 400 if an option names a model that the project does not have, or two options have one name */
async function checkModels(projectId: string, { options }: OptionSetDraft): Promise<void> {
  const rows = await db().select({ id: models.id }).from(models).where(eq(models.projectId, projectId));
  const own = new Set(rows.map(({ id }) => id));
  if (options.some(({ members }) => members.some((member) => !own.has(memberModel(member)))))
    throw new Problem(400, 'An option names a model that this project does not have. Nothing was changed.');
  if (new Set(options.map(({ name }) => name)).size < options.length)
    throw new Problem(400, 'Two options have the same name. Give each its own; nothing was changed.');
}
