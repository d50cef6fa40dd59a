/** A picture of the model that was kept. */
export interface SnapshotCard {
  id: string;
  name: string;
  /** Empty where it is in none. */
  group: string;
  /** Pixels. */
  width: number;
  height: number;
  bytes: number;
  author: string;
  /** ISO 8601, UTC. */
  at: string;
}

export const MOST_SNAPSHOT_BYTES = 40 * 1024 * 1024;
/** As many times as large as the screen. */
export const SNAPSHOT_SIZES = [1, 2, 4] as const;

/** A file name that every system takes. */
export function snapshotFileName({ name }: Pick<SnapshotCard, 'name'>): string {
  return `${name.replace(/[\\/:*?"<>|\p{Cc}]/gu, ' ').trim() || 'picture'}.png`;
}
