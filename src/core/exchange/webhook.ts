import type { ActivityKind } from '../project/activity';

/** A program that is told what is done in a project. */
export interface WebhookSummary {
  id: string;
  url: string;
  kinds: ActivityKind[];
  createdAt: string;
  /** How it went last; null where nothing was to be told yet. */
  last: { status: number | null; trouble: string; tries: number } | null;
  /** How many things are still to be told. */
  waiting: number;
}
