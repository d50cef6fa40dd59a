import { extname } from 'node:path';
import { and, asc, desc, inArray, isNotNull, sql } from 'drizzle-orm';
import { PUBLISH_PHASES, isPublishPhase } from '@/core/jobs/phase';
import { foretellWhole, timeLeft, timeUntilBegin, type PastJob } from '@/core/jobs/time-left';
import { db } from '@/db/database';
import { revisions } from '@/db/schema';

/** Past jobs that are remembered for the estimate. */
const REMEMBERED = 300;

/** Seconds that publications of the whole installation still need, or until they begin, by revision. */
export type TimesLeft = ReadonlyMap<string, number>;

/** Estimates, for all publications that run or wait, when they end or begin, by this installation's own history. */
export async function timesLeft(now = Date.now()): Promise<TimesLeft> {
  const times = new Map<string, number>();
  const going = await db()
    .select({
      id: revisions.id,
      state: revisions.state,
      fileName: revisions.fileName,
      bytes: revisions.fileBytes,
      phase: revisions.phase,
      startedAt: revisions.startedAt,
      phaseAt: revisions.phaseAt,
      worker: revisions.worker,
    })
    .from(revisions)
    .where(inArray(revisions.state, ['queued', 'running']))
    .orderBy(asc(revisions.queuedAt));
  if (going.length === 0) return times;
  const history = await readHistory();
  const running = going.filter(({ state }) => state === 'running');
  const before: number[] = [];
  for (const job of running) {
    if (!job.startedAt || !isPublishPhase(job.phase)) continue;
    const left = timeLeft(pastJobs(history, job.fileName, machineOf(job.worker)), {
      bytes: job.bytes,
      phase: job.phase,
      elapsed: now - job.startedAt.getTime(),
      elapsedInPhase: now - (job.phaseAt ?? job.startedAt).getTime(),
    });
    if (left === null) continue;
    times.set(job.id, seconds(left));
    before.push(left);
  }
  // Where one before it is unknown, nothing can be said about those behind.
  let known = before.length === running.length;
  for (const job of going) {
    if (job.state !== 'queued' || !known) continue;
    if (running.length > 0) times.set(job.id, seconds(timeUntilBegin(before, running.length)));
    const whole = foretellWhole(pastJobs(history, job.fileName, null), job.bytes);
    if (whole === null) known = false;
    else before.push(whole);
  }
  return times;
}

interface PastRow extends PastJob {
  ending: string;
  machine: string | null;
}

async function readHistory(): Promise<PastRow[]> {
  const rows = await db()
    .select({
      fileName: revisions.fileName,
      bytes: revisions.fileBytes,
      worker: revisions.worker,
      startedAt: revisions.startedAt,
      endedAt: revisions.endedAt,
      time: sql<Record<string, number> | null>`${revisions.report}->'time'`,
    })
    .from(revisions)
    .where(
      and(isNotNull(revisions.endedAt), isNotNull(revisions.report), inArray(revisions.state, ['ready', 'published'])),
    )
    .orderBy(desc(revisions.endedAt))
    .limit(REMEMBERED);
  return rows.map(({ fileName, bytes, worker, startedAt, endedAt, time }) => {
    const phases = Object.fromEntries(PUBLISH_PHASES.map((phase) => [phase, time?.[phase] ?? 0]));
    // Starting the process and storing the facts are in no phase of the report, but they take their time.
    const inReport = Object.values(phases).reduce((total, value) => total + value, 0);
    phases.storing = Math.max(0, endedAt!.getTime() - (startedAt ?? endedAt!).getTime() - inReport);
    return { bytes, phases, ending: endingOf(fileName), machine: machineOf(worker) };
  });
}

/** Those with the same kind of file, on the same machine where there are any. */
function pastJobs(history: PastRow[], fileName: string, machine: string | null): PastRow[] {
  const alike = history.filter(({ ending }) => ending === endingOf(fileName));
  const here = alike.filter((job) => job.machine === machine);
  return here.length > 0 ? here : alike;
}

function endingOf(fileName: string): string {
  return extname(fileName).toLowerCase();
}

function machineOf(worker: string | null): string | null {
  return worker?.split('#')[0] ?? null;
}

function seconds(milliseconds: number): number {
  return Math.max(1, Math.round(milliseconds / 1000));
}
