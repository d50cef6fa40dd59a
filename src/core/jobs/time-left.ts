import { PUBLISH_STAGES, type PublishStage } from './stage';

/** A publication that went well, as a measure for others. */
export interface PastJob {
  /** Of the file. */
  bytes: number;
  /** Milliseconds a stage. */
  stages: Partial<Record<PublishStage, number>>;
}

/** How far a publication is. */
export interface JobProgress {
  bytes: number;
  stage: PublishStage;
  /** Milliseconds since it began, and of these since its present stage began. */
  elapsed: number;
  elapsedInStage: number;
}

/** Past jobs that are asked: those nearest in size. */
const ASKED = 5;
/** A pace of more than this times the usual one is a disturbance, not a property of the file. */
const STRANGEST_PACE = 4;
/** A stage that takes longer than foretold is still not over: this much of it is left. */
const STILL_LEFT = 0.1;

/**
 * How long each stage of a file will take, by past jobs with files of about its size: the median of their times, each in
 * proportion to the size.
 *
 * @param past jobs on the same machine with the same kind of file
 * @returns milliseconds a stage, or null where there is nothing to go by
 */
export function foretellStages(past: PastJob[], bytes: number): Record<PublishStage, number> | null {
  if (past.length === 0) return null;
  const distance = (job: PastJob) => Math.abs(Math.log(Math.max(job.bytes, 1) / Math.max(bytes, 1)));
  const nearest = [...past].sort((a, b) => distance(a) - distance(b)).slice(0, ASKED);
  return Object.fromEntries(
    PUBLISH_STAGES.map((stage) => [
      stage,
      median(nearest.map((job) => ((job.stages[stage] ?? 0) * bytes) / Math.max(job.bytes, 1))),
    ]),
  ) as Record<PublishStage, number>;
}

/** How long a whole publication will take, in milliseconds; null where there is nothing to go by. */
export function foretellWhole(past: PastJob[], bytes: number): number | null {
  const stages = foretellStages(past, bytes);
  return stages && sum(PUBLISH_STAGES.map((stage) => stages[stage]));
}

/**
 * The time that a running publication still needs: what its stages usually take, at the pace that it has shown so far.
 *
 * @returns milliseconds, or null where there is nothing to go by
 */
export function timeLeft(past: PastJob[], job: JobProgress): number | null {
  const usual = foretellStages(past, job.bytes);
  if (!usual) return null;
  const at = PUBLISH_STAGES.indexOf(job.stage);
  const over = sum(PUBLISH_STAGES.slice(0, at).map((stage) => usual[stage]));
  const taken = job.elapsed - job.elapsedInStage;
  const pace = over > 0 ? clamp(taken / over, 1 / STRANGEST_PACE, STRANGEST_PACE) : 1;
  const present = usual[job.stage] * pace;
  const later = sum(PUBLISH_STAGES.slice(at + 1).map((stage) => usual[stage])) * pace;
  return Math.max(present - job.elapsedInStage, present * STILL_LEFT) + later;
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
