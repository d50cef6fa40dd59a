/** How a project and its issue tracker get on. */
export interface TrackerSummary {
  url: string;
  /** What went wrong last; empty while it goes well. */
  trouble: string;
  syncedAt: string | null;
  issues: number;
  conflicts: number;
}
