import { and, asc, desc, eq, getTableColumns, inArray, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import type { ProjectFit } from '@/core/examination/project-fit';
import { approvalOf, approvalWords, type Approval } from '@/core/project/approval';
import { may } from '@/core/rights';
import { FINDINGS } from '@/core/examination/finding';
import { revisionCode } from '@/core/revision-code';
import { db } from '@/db/database';
import { members, models, projects, revisions, user } from '@/db/schema';
import type {
  ProjectCard,
  ProjectDetail,
  RevisionDetail,
  RevisionSummary,
  StageModelSource,
} from '@/core/project/models';
import { readPublishSettings } from '@/core/project/publish-settings';
import type { Georeference } from '@/core/project/publish-report';
import type { RevisionDigest } from '@/core/project/revision-digest';
import { authorise, requirePerson, requireUser, type Actor } from '../access/access';
import { placements } from './placing';
import { projectFits } from './project-fit';
import { forbidden, notFound } from '../problems';
import { stands } from './standing-revisions';
import { approvalsOf } from '../review/approvals';
import { timesLeft, type TimesLeft } from '../publishing/time-left';

/** The projects that an account belongs to, newest first. */
export async function listProjects(actor: Actor): Promise<ProjectCard[]> {
  requireUser(actor);
  const rows = await db()
    .select({ project: projects })
    .from(projects)
    .innerJoin(members, eq(members.projectId, projects.id))
    .where(eq(members.userId, actor.id))
    .orderBy(desc(projects.createdAt));
  if (rows.length === 0) return [];
  const ids = rows.map(({ project }) => project.id);
  const newest = await db()
    .selectDistinctOn([revisions.modelId], {
      projectId: revisions.projectId,
      contentId: revisions.contentId,
      publishedAt: revisions.publishedAt,
      extent: sql<Box3 | null>`${revisions.report}->'extent'`,
    })
    .from(revisions)
    .where(and(inArray(revisions.projectId, ids), stands()))
    .orderBy(revisions.modelId, desc(revisions.number));
  return rows.map(({ project }) => {
    const own = newest.filter((revision) => revision.projectId === project.id);
    // The model with the largest extent shows the place best.
    const pictured = [...own].sort((a, b) => area(b.extent) - area(a.extent))[0];
    const last = Math.max(...own.map(({ publishedAt }) => publishedAt?.getTime() ?? 0));
    return {
      id: project.id,
      name: project.name,
      place: project.place,
      models: own.length,
      preview: pictured ? `/published/${pictured.contentId}/preview.png` : null,
      newest: own.length > 0 ? new Date(last).toISOString() : null,
    };
  });
}

function area(extent: Box3 | null): number {
  return extent ? (extent[3] - extent[0]) * (extent[4] - extent[1]) : 0;
}

export async function createProject(actor: Actor, name: string, place: string): Promise<string> {
  requirePerson(actor);
  const id = uuidv7();
  await db().transaction(async (tx) => {
    await tx.insert(projects).values({ id, name, place });
    await tx.insert(members).values({ projectId: id, userId: actor.id, role: 'lead' });
  });
  return id;
}

export async function addMember(projectId: string, userId: string, role: 'lead' | 'designer'): Promise<void> {
  await db()
    .insert(members)
    .values({ projectId, userId, role })
    .onConflictDoUpdate({ target: [members.projectId, members.userId], set: { role } });
}

export async function readProject(actor: Actor, projectId: string): Promise<ProjectDetail> {
  const role = await authorise(actor, projectId, 'project.read');
  const [project] = await db().select().from(projects).where(eq(projects.id, projectId));
  const modelRows = await db()
    .select()
    .from(models)
    .where(eq(models.projectId, projectId))
    .orderBy(asc(models.createdAt));
  const revisionRows = await summaries().where(eq(revisions.projectId, projectId)).orderBy(desc(revisions.createdAt));
  const seesDrafts = may(role, 'model.publish');
  const goingOn = revisionRows.some(({ revision: { state } }) => state === 'queued' || state === 'running');
  const fits = seesDrafts ? await projectFits(projectId) : new Map<string, ProjectFit>();
  const asked = seesDrafts ? await approvalsOf(projectId) : [];
  const left: TimesLeft = goingOn ? await timesLeft() : new Map();
  return {
    id: project!.id,
    name: project!.name,
    place: project!.place,
    models: modelRows.map((model) => ({
      id: model.id,
      name: model.name,
      discipline: model.discipline,
      placement: model.placement,
      fit: fits.get(model.id) ?? null,
      revisions: revisionRows
        .filter(
          ({ revision }) =>
            revision.modelId === model.id &&
            (seesDrafts || (revision.state === 'published' && revision.withdrawnAt === null)),
        )
        .map((row) => summarise(row, left, asked))
        .map((revision) => (seesDrafts ? revision : asGuestsSee(revision))),
    })),
  };
}

const { report: _, ...allButReport } = getTableColumns(revisions);

/** What those who only look at a project hear of a revision: not how it was made, nor what is withheld of it. */
function asGuestsSee(revision: RevisionSummary): RevisionSummary {
  return { ...revision, settings: {}, note: '', fileName: '', fileBytes: 0, author: '', error: null, digest: null };
}

/** Revisions with their authors, without their reports: these are long. */
function summaries() {
  // Joined with nothing, a report is unpacked once, and not for every part of it that is asked for.
  const digest = sql<RevisionDigest | null>`(select jsonb_build_object(
    'format', report->'source'->'format',
    'schema', report->'source'->'schema',
    'elements', report->'counts'->'elements',
    'triangles', report->'counts'->'triangles',
    'sent', (report->'weight'->>'tilesBrotli')::float + (report->'weight'->>'indexBrotli')::float
      + (report->'weight'->>'pictures')::float,
    'firstLook', report->'forecast'->'firstLook',
    'heavyOn', jsonb_path_query_array(report, '$.forecast.devices[*] ? (@.fits == false).device'),
    'unread', jsonb_array_length(report->'unread'),
    'withheld', report->'withheld',
    'mended', report->'mended',
    'noticed', coalesce((
      select jsonb_agg(jsonb_build_object('kind', finding->'kind', 'count', finding->'count'))
      from jsonb_array_elements(report->'findings') finding
    ), '[]'),
    'cameras', jsonb_array_length(report->'cameras'),
    'surfaces', jsonb_build_object(
      'applied', jsonb_array_length(jsonb_path_query_array(report, '$.surfaces[*] ? (@.elements > 0)')),
      'idle', jsonb_array_length(jsonb_path_query_array(report, '$.surfaces[*] ? (@.elements == 0)'))
    ),
    'scaleGuessed', report->'frame'->>'from' = 'proposed'
  ) from (select ${revisions.report} || '{}'::jsonb as report offset 0) whole where report is not null)`;
  return db()
    .select({ revision: allButReport, author: user.name, digest })
    .from(revisions)
    .innerJoin(user, eq(user.id, revisions.authorId))
    .$dynamic();
}

function summarise(
  { revision, author, digest }: Awaited<ReturnType<typeof summaries>>[number],
  left: TimesLeft,
  asked: readonly Approval[] = [],
): RevisionSummary {
  const approval = approvalOf(asked, revision.id);
  const settings = readPublishSettings(revision.settings);
  return {
    id: revision.id,
    code: revision.number === null ? null : revisionCode(revision.number),
    state: revision.state,
    note: revision.note,
    fileName: revision.fileName,
    fileBytes: revision.fileBytes,
    author,
    phase: revision.phase,
    share: revision.share,
    secondsLeft: left.get(revision.id) ?? null,
    error: revision.error,
    createdAt: revision.createdAt.toISOString(),
    publishedAt: revision.publishedAt?.toISOString() ?? null,
    withdrawn: revision.withdrawnAt && {
      by: revision.withdrawnBy ?? '',
      at: revision.withdrawnAt.toISOString(),
    },
    files: revision.contentId && `/published/${revision.contentId}/`,
    settings,
    approval: approval && approvalWords(approval),
    digest: digest && {
      ...digest,
      heavyOn: digest.firstLook === null ? null : digest.heavyOn,
      noticed: digest.noticed.filter(
        ({ kind }) =>
          FINDINGS[kind].severity === 'warning' &&
          !settings.mend?.includes(kind) &&
          !digest.mended.some((done) => done.kind === kind),
      ),
    },
  };
}

/** One revision with its report. */
export async function readRevision(actor: Actor, revisionId: string): Promise<RevisionDetail> {
  const [row] = await summaries().where(eq(revisions.id, revisionId));
  const [rest] = await db()
    .select({ report: revisions.report, model: models })
    .from(revisions)
    .innerJoin(models, eq(models.id, revisions.modelId))
    .where(eq(revisions.id, revisionId));
  if (!row || !rest) throw notFound('The revision');
  await authoriseReport(actor, row.revision);
  const { report, model } = rest;
  const fits = report?.extent
    ? await projectFits(model.projectId, { modelId: model.id, extent: report.extent, offset: report.offset })
    : null;
  return {
    ...summarise(row, await timesLeft()),
    modelId: model.id,
    modelName: model.name,
    discipline: model.discipline,
    report,
    fit: fits?.get(model.id) ?? null,
  };
}

/** Whether somebody may see a revision: all who may enter, as long as it stands; otherwise only who may publish. */
export async function authoriseRevision(
  actor: Actor,
  { projectId, state, withdrawnAt }: Pick<typeof revisions.$inferSelect, 'projectId' | 'state' | 'withdrawnAt'>,
): Promise<void> {
  const open = state === 'published' && withdrawnAt === null;
  await authorise(actor, projectId, open ? 'project.read' : 'model.publish');
}

/** Whether somebody may see how a revision was made, and what is withheld of it: members, also by a program that reads. */
export async function authoriseReport(
  actor: Actor,
  revision: Pick<typeof revisions.$inferSelect, 'projectId' | 'state' | 'withdrawnAt'>,
): Promise<void> {
  await authoriseRevision(actor, revision);
  if (!may(await authorise(actor, revision.projectId, 'project.read'), 'model.publish')) throw forbidden();
}

/**
 * What the Review shows: of every model the newest published revision that stands.
 *
 * @param instead ids of older revisions to show in place of the newest of their models, for whom may publish
 */
export async function stageModels(
  actor: Actor,
  projectId: string,
  instead: string[] = [],
): Promise<StageModelSource[]> {
  await authorise(actor, projectId, instead.length > 0 ? 'model.publish' : 'project.read');
  return modelsOnStage(projectId, instead, false);
}

/** The same, for whom may see these revisions. @param onlyThose without the newest of other models */
export async function modelsOnStage(
  projectId: string,
  instead: readonly string[],
  onlyThose: boolean,
): Promise<StageModelSource[]> {
  const rows = await db()
    .selectDistinctOn([revisions.modelId], shownOnStage)
    .from(revisions)
    .innerJoin(models, eq(models.id, revisions.modelId))
    .where(and(eq(revisions.projectId, projectId), stands()))
    .orderBy(revisions.modelId, desc(revisions.number));
  const asked =
    instead.length === 0
      ? []
      : await db()
          .select(shownOnStage)
          .from(revisions)
          .innerJoin(models, eq(models.id, revisions.modelId))
          .where(
            and(
              eq(revisions.projectId, projectId),
              inArray(revisions.id, [...instead]),
              eq(revisions.state, 'published'),
            ),
          );
  const placementOf = await placements(projectId);
  const others = onlyThose ? [] : rows.filter((row) => !asked.some((one) => one.model.id === row.model.id));
  const shown = others.concat(asked);
  return shown
    .filter(({ extent, contentId }) => extent && contentId)
    .sort((a, b) => a.model.createdAt.getTime() - b.model.createdAt.getTime())
    .map(({ model, id, number, contentId, offset, extent, georeference, rounding }) => {
      const newest = rows.find((row) => row.model.id === model.id);
      return {
        modelId: model.id,
        revisionId: id,
        code: revisionCode(number!),
        name: model.name,
        discipline: model.discipline,
        baseUrl: `/published/${contentId}/`,
        offset: offset!,
        extent: extent!,
        placement: placementOf(model.id),
        georeference,
        rounding: rounding ?? 0,
        newerCode: newest && newest.id !== id ? revisionCode(newest.number!) : null,
      };
    });
}

const shownOnStage = {
  id: revisions.id,
  rounding: sql<number | null>`(${revisions.report}->>'quantisationError')::float8`,
  georeference: sql<Georeference | null>`nullif(${revisions.report}->'georeference', 'null'::jsonb)`,
  number: revisions.number,
  contentId: revisions.contentId,
  model: models,
  offset: sql<Vec3 | null>`${revisions.report}->'offset'`,
  extent: sql<Box3 | null>`${revisions.report}->'extent'`,
};
