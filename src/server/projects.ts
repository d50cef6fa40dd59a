import { and, asc, desc, eq, inArray } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { may } from '@/core/rights';
import { revisionCode } from '@/core/revision-code';
import { db } from '@/db/database';
import { members, models, projects, revisions, user } from '@/db/schema';
import type { ProjectCard, ProjectDetail, RevisionSummary, StageModelSource } from '@/core/project/models';
import type { PublishReport } from '@/core/project/publish-report';
import { authorise, requirePerson, requireUser, type Actor } from './access';
import { notFound } from './problems';
import { timesLeft, type TimesLeft } from './time-left';

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
  const published = await db()
    .select({
      projectId: revisions.projectId,
      modelId: revisions.modelId,
      contentId: revisions.contentId,
      publishedAt: revisions.publishedAt,
      report: revisions.report,
    })
    .from(revisions)
    .where(
      and(
        inArray(
          revisions.projectId,
          rows.map(({ project }) => project.id),
        ),
        eq(revisions.state, 'published'),
      ),
    )
    .orderBy(desc(revisions.publishedAt));
  return rows.map(({ project }) => {
    const own = published.filter((revision) => revision.projectId === project.id);
    const newestPerModel = own.filter(
      (revision, i) => own.findIndex((other) => other.modelId === revision.modelId) === i,
    );
    // The model with the largest extent shows the place best.
    const pictured = newestPerModel.sort((a, b) => extentSize(b.report) - extentSize(a.report))[0];
    return {
      id: project.id,
      name: project.name,
      place: project.place,
      models: newestPerModel.length,
      preview: pictured ? `/published/${pictured.contentId}/preview.png` : null,
      newest: own[0]?.publishedAt?.toISOString() ?? null,
    };
  });
}

function extentSize(report: unknown): number {
  const extent = (report as PublishReport | null)?.extent;
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
  const revisionRows = await db()
    .select({ revision: revisions, author: user.name })
    .from(revisions)
    .innerJoin(user, eq(user.id, revisions.authorId))
    .where(eq(revisions.projectId, projectId))
    .orderBy(desc(revisions.createdAt));
  const seesDrafts = may(role, 'model.publish');
  const goingOn = revisionRows.some(({ revision: { state } }) => state === 'queued' || state === 'running');
  const left: TimesLeft = goingOn ? await timesLeft() : new Map();
  return {
    id: project!.id,
    name: project!.name,
    place: project!.place,
    models: modelRows.map((model) => ({
      id: model.id,
      name: model.name,
      discipline: model.discipline,
      revisions: revisionRows
        .filter(({ revision }) => revision.modelId === model.id && (seesDrafts || revision.state === 'published'))
        .map(({ revision, author }) => summarise(revision, author, left)),
    })),
  };
}

function summarise(revision: typeof revisions.$inferSelect, author: string, left: TimesLeft): RevisionSummary {
  return {
    id: revision.id,
    code: revision.number === null ? null : revisionCode(revision.number),
    state: revision.state,
    note: revision.note,
    fileName: revision.fileName,
    fileBytes: revision.fileBytes,
    author,
    stage: revision.stage,
    share: revision.share,
    secondsLeft: left.get(revision.id) ?? null,
    error: revision.error,
    createdAt: revision.createdAt.toISOString(),
    publishedAt: revision.publishedAt?.toISOString() ?? null,
    files: revision.contentId && `/published/${revision.contentId}/`,
    settings: revision.settings,
    report: revision.report,
  };
}

/** How one revision stands. */
export async function readRevision(actor: Actor, revisionId: string): Promise<RevisionSummary> {
  const [row] = await db()
    .select({ revision: revisions, author: user.name })
    .from(revisions)
    .innerJoin(user, eq(user.id, revisions.authorId))
    .where(eq(revisions.id, revisionId));
  if (!row) throw notFound('The revision');
  const { revision, author } = row;
  await authorise(actor, revision.projectId, revision.state === 'published' ? 'project.read' : 'model.publish');
  return summarise(revision, author, await timesLeft());
}

/** The newest published revision of every model of a project: what the Review shows. */
export async function newestRevisions(actor: Actor, projectId: string): Promise<StageModelSource[]> {
  const project = await readProject(actor, projectId);
  return project.models.flatMap((model) => {
    const newest = model.revisions
      .filter((revision) => revision.state === 'published')
      .sort((a, b) => (b.code! > a.code! ? 1 : -1))[0];
    if (!newest?.report?.extent || !newest.files) return [];
    return [
      {
        modelId: model.id,
        revisionId: newest.id,
        code: newest.code!,
        name: model.name,
        discipline: model.discipline,
        baseUrl: newest.files,
        offset: newest.report.offset,
        extent: newest.report.extent,
      },
    ];
  });
}
