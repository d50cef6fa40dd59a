import type { ProjectFit } from '../examination/project-fit';
import type { Box3 } from '../math/box3';
import type { Vec3 } from '../math/mat4';
import type { PublishSettings } from './publish-settings';
import type { Placement, PlacementChoice } from '../placement/placement';
import type { Georeference, PublishReport } from './publish-report';
import type { RevisionDigest } from './revision-digest';

/** A project in the list of projects. */
export interface ProjectCard {
  id: string;
  name: string;
  place: string;
  models: number;
  /** Address of the newest preview picture, or null. */
  preview: string | null;
  /** When a model was last published, or null. */
  newest: string | null;
}

/** A revision that is `ready` has been read and waits for somebody to look at it and publish it. */
export const REVISION_STATES = ['queued', 'running', 'ready', 'published', 'failed'] as const;
export type RevisionState = (typeof REVISION_STATES)[number];

export interface RevisionSummary {
  id: string;
  /** P01, P02, …; null until published. */
  code: string | null;
  state: RevisionState;
  /** Where its files are served, ending in a slash; null until they are there. */
  files: string | null;
  settings: PublishSettings;
  note: string;
  fileName: string;
  fileBytes: number;
  author: string;
  phase: string;
  /** Done so far, 0..1. */
  share: number;
  /** Seconds until it ends, for one that runs; until it begins, for one that waits. Null while unknown. */
  secondsLeft: number | null;
  error: string | null;
  createdAt: string;
  publishedAt: string | null;
  /** Who took it back, and when; null while it stands. */
  withdrawn: { by: string; at: string } | null;
  /** Null until its file was read. */
  digest: RevisionDigest | null;
  /** Where its approval stands, in words; null where it was not put up. */
  approval: string | null;
}

/** One revision with all that is known of it. */
export interface RevisionDetail extends RevisionSummary {
  modelId: string;
  modelName: string;
  discipline: string;
  report: PublishReport | null;
  /** How it does not go with the other models of the project; null where it does. */
  fit: ProjectFit | null;
}

export interface ModelSummary {
  id: string;
  name: string;
  discipline: string;
  placement: PlacementChoice;
  /** How it does not go with the other models; null where it does. */
  fit: ProjectFit | null;
  /** Newest first. */
  revisions: RevisionSummary[];
}

export interface ProjectDetail {
  id: string;
  name: string;
  place: string;
  models: ModelSummary[];
}

/** A published revision as the stage loads it. */
export interface StageModelSource {
  modelId: string;
  revisionId: string;
  code: string;
  name: string;
  discipline: string;
  /** Where its files are served, ending in a slash. */
  baseUrl: string;
  /** The model's zero in project coordinates, metres. */
  offset: Vec3;
  extent: Box3;
  placement: Placement;
  /** Where its file says that it is on the map; null where it does not. */
  georeference: Georeference | null;
  /** Metres by which publishing rounded its corners along an axis at most. */
  rounding: number;
  /** P03, where this is not the model's newest revision but one that was asked for; else null. */
  newerCode: string | null;
}

/** The revision that people see: the last one published that still stands. */
export function newestOf(revisions: RevisionSummary[]): RevisionSummary | undefined {
  return revisions
    .filter(({ state, withdrawn }) => state === 'published' && !withdrawn)
    .sort((a, b) => Number(b.code!.slice(1)) - Number(a.code!.slice(1)))[0];
}
