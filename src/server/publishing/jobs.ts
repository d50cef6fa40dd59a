import { and, desc, eq, gt, inArray, lt, ne, or } from 'drizzle-orm';
import type { JobFilter, JobPage } from '@/core/jobs/job';
import { may } from '@/core/rights';
import { revisionCode } from '@/core/revision-code';
import type { RevisionState } from '@/core/project/models';
import { db } from '@/db/database';
import { members, models, projects, revisions, user } from '@/db/schema';
import { requireUser, type Actor } from '../access/access';
import { timesLeft } from './time-left';

const PAGE = 50;

const STATES: Record<JobFilter, RevisionState[]> = {
  all: ['queued', 'running', 'ready', 'published', 'failed'],
  'going-on': ['queued', 'running'],
  failed: ['failed'],
};

/**
 * The publications of all projects in which the actor may publish, the last queued first.
 *
 * @param before only those queued before; `next` of the page before
 */
export async function listJobs(actor: Actor, filter: JobFilter, before?: Date): Promise<JobPage> {
  requireUser(actor);
  const memberships = await db().select().from(members).where(eq(members.userId, actor.id));
  const allowed = memberships.filter(({ role }) => may(role, 'model.publish')).map(({ projectId }) => projectId);
  if (allowed.length === 0) return { jobs: [], next: null };
  const [rows, left] = await Promise.all([
    db()
      .select({ revision: revisions, model: models.name, project: projects.name, author: user.name })
      .from(revisions)
      .innerJoin(models, eq(models.id, revisions.modelId))
      .innerJoin(projects, eq(projects.id, revisions.projectId))
      .innerJoin(user, eq(user.id, revisions.authorId))
      .where(
        and(
          inArray(revisions.projectId, allowed),
          inArray(revisions.state, STATES[filter]),
          // One that was only made the newest again was no work.
          or(ne(revisions.state, 'published'), gt(revisions.attempts, 0)),
          before ? lt(revisions.queuedAt, before) : undefined,
        ),
      )
      .orderBy(desc(revisions.queuedAt))
      .limit(PAGE + 1),
    timesLeft(),
  ]);
  const shown = rows.slice(0, PAGE);
  return {
    jobs: shown.map(({ revision, model, project, author }) => ({
      id: revision.id,
      projectId: revision.projectId,
      projectName: project,
      modelName: model,
      fileName: revision.fileName,
      fileBytes: revision.fileBytes,
      author,
      state: revision.state,
      code: revision.number === null ? null : revisionCode(revision.number),
      phase: revision.phase,
      share: revision.share,
      seconds: left.get(revision.id) ?? null,
      worker: revision.worker,
      queuedAt: revision.queuedAt.toISOString(),
      took:
        revision.endedAt && revision.startedAt
          ? Math.max(0, revision.endedAt.getTime() - revision.startedAt.getTime()) / 1000
          : null,
      error: revision.error,
    })),
    next: rows.length > PAGE ? shown.at(-1)!.revision.queuedAt.toISOString() : null,
  };
}
