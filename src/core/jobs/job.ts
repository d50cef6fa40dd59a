import type { RevisionState } from '../project/models';

/** A publication as the page of jobs shows it. */
export interface JobSummary {
  /** The revision's id. */
  id: string;
  projectId: string;
  projectName: string;
  modelName: string;
  fileName: string;
  fileBytes: number;
  author: string;
  state: RevisionState;
  /** P01, P02, …; null until published. */
  code: string | null;
  phase: string;
  share: number;
  /** Seconds until it ends, for one that runs; until it begins, for one that waits. Null while unknown. */
  seconds: number | null;
  /** Machine and process that works or worked on it. */
  worker: string | null;
  queuedAt: string;
  /** Seconds that it took; null while it is not over. */
  took: number | null;
  error: string | null;
}

/** Which jobs to list. */
export const JOB_FILTERS = ['all', 'going-on', 'failed'] as const;
export type JobFilter = (typeof JOB_FILTERS)[number];

export interface JobPage {
  jobs: JobSummary[];
  /** Where the next page begins; null at the end. */
  next: string | null;
}
