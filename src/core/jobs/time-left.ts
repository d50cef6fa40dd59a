import { PUBLISH_PHASES, type PublishPhase } from './phase';

/** A publication that went well, as a measure for others. */
export interface PastJob {
  /** Of the file. */
  bytes: number;
  /** Milliseconds a phase. */
  phases: Partial<Record<PublishPhase, number>>;
}

/** How far a publication is. */
export interface JobProgress {
  bytes: number;
  phase: PublishPhase;
  /** Milliseconds since it began, and of these since its present phase began. */
  elapsed: number;
  elapsedInPhase: number;
}

/** Past jobs that are asked: those nearest in size. */
const ASKED = 5;
/** A pace of more than this times the usual one is a disturbance, not a property of the file. */
const STRANGEST_PACE = 4;
/** A phase that takes longer than foretold is still not over: this much of it is left. */
const STILL_LEFT = 0.1;

/**
 * How long each phase of a file will take, by past jobs with files of about its size: the median of their times, each in
 * proportion to the size.
 *
 * @param past jobs on the same machine with the same kind of file
 * @returns milliseconds a phase, or null where there is nothing to go by
 */
export function foretellPhases(past: PastJob[], bytes: number): Record<PublishPhase, number> | null {
  if (past.length === 0) return null;
  const distance = (job: PastJob) => Math.abs(Math.log(Math.max(job.bytes, 1) / Math.max(bytes, 1)));
  const nearest = [...past].sort((a, b) => distance(a) - distance(b)).slice(0, ASKED);
  return Object.fromEntries(
    PUBLISH_PHASES.map((phase) => [
      phase,
      median(nearest.map((job) => ((job.phases[phase] ?? 0) * bytes) / Math.max(job.bytes, 1))),
    ]),
  ) as Record<PublishPhase, number>;
}

/** How long a whole publication will take, in milliseconds; null where there is nothing to go by. */
export function foretellWhole(past: PastJob[], bytes: number): number | null {
  const phases = foretellPhases(past, bytes);
  return phases && sum(PUBLISH_PHASES.map((phase) => phases[phase]));
}

/**
 * The time that a running publication still needs: what its phases usually take, at the pace that it has shown so far.
 *
 * @returns milliseconds, or null where there is nothing to go by
 */
export function timeLeft(past: PastJob[], job: JobProgress): number | null {
  const usual = foretellPhases(past, job.bytes);
  if (!usual) return null;
  const at = PUBLISH_PHASES.indexOf(job.phase);
  const over = sum(PUBLISH_PHASES.slice(0, at).map((phase) => usual[phase]));
  const taken = job.elapsed - job.elapsedInPhase;
  const pace = over > 0 ? clamp(taken / over, 1 / STRANGEST_PACE, STRANGEST_PACE) : 1;
  const present = usual[job.phase] * pace;
  const later = sum(PUBLISH_PHASES.slice(at + 1).map((phase) => usual[phase])) * pace;
  return Math.max(present - job.elapsedInPhase, present * STILL_LEFT) + later;
}

/**
 * When a waiting publication will begin: all that is before it, shared among those who work.
 *
 * @param before milliseconds that each job before it still needs
 */
export function timeUntilBegin(before: number[], workers: number): number {
  return sum(before) / Math.max(1, workers);
}

function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

function sum(values: number[]): number {
  return values.reduce((total, value) => total + value, 0);
}

function clamp(value: number, low: number, high: number): number {
  return Math.min(high, Math.max(low, value));
}
