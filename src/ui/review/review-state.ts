import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Vec3 } from '@/core/math/mat4';
import type { Mark } from '@/core/mark/marks';
import type { Eyes } from '@/core/meeting/eyes';
import type { MeetingState } from '@/core/meeting/meeting';
import type { RunningMeeting } from '@/core/meeting/meeting-record';
import type { Recording } from '@/core/meeting/recording';
import type { Approval } from '@/core/project/approval';
import type { Comment } from '@/core/project/comment';
import type { Note } from '@/core/project/note';
import type { OptionChoice, OptionSet } from '@/core/options/option-set';
import type { StageModelSource } from '@/core/project/models';
import type { ViewpointCard } from '@/core/project/viewpoint-card';
import type { ProjectSite } from '@/core/sun/sun-site';
import { INITIAL_VIEW, type ViewState } from '@/core/view/view-state';
import type { Hindrance } from '@/core/walk/walk';
import type { StageHit } from '@/stage/stage';
import type { Gait } from '@/stage/walking/walking';
import type { BesidePage } from './beside/pages';
import type { UndoneChange } from './records/records';
import type { ReplayState } from './replay/replaying';
import type { ToolName } from './tools/registry';
import { messageOf } from '../api';

/** What the person in front of the screen may do. */
export interface ReviewRights {
  arrange: boolean;
  host: boolean;
  comment: boolean;
  /** Whether what is said may be given to somebody, with a day. */
  assign: boolean;
  stations: boolean;
  /** Whether models may be taken along into other programs. */
  take: boolean;
}

/** What the page brings along from the server. */
export interface ReviewStart {
  project: { id: string; name: string };
  you: { id: string; name: string };
  rights: ReviewRights;
  models: StageModelSource[];
  options: OptionSet[];
  /** What is or was put up for approval, newest first. */
  approvals: Approval[];
  /** Design options that this person's link does not let them switch. */
  fixedOptions: OptionChoice;
  /** Where the project stands under the sun. */
  site: ProjectSite;
  viewpoints: ViewpointCard[];
  comments: Comment[];
  meeting: RunningMeeting | null;
  /** The page that this window shows beside another one; null of the first. */
  beside: BesidePage | null;
  /** The viewpoint that was asked for. */
  first: string | null;
  /** A comment to fly to at once. */
  focus: string | null;
  /** A note of this person's to go to. */
  note: Pick<Note, 'text' | 'view'> | null;
  /** A meeting of the past that is seen again. */
  replay: { recording: Recording; at: number | null } | null;
  /** An older revision that was asked for in the place of its model's newest. */
  older: string | null;
}

/** How the camera gets to where the view says that it is. */
export type Approach = 'jump' | 'fly' | 'glide';

export type DrawerPage = 'contents' | 'facts' | 'talk';

export interface Pointer {
  point: Vec3;
  /** When it was last heard of, in milliseconds of the page's clock. */
  seen: number;
}

export interface ReviewState {
  models: StageModelSource[];
  approvals: Approval[];
  options: OptionSet[];
  /** Counts up when a model's contents have arrived. */
  loaded: number;
  loading: boolean;
  /** What this person sees. The stage, the lead's meeting and whatever is saved follow it. */
  view: ViewState;
  approach: Approach;
  /** How many steps can be taken back, and taken again. */
  undoable: number;
  redoable: number;
  viewpoints: ViewpointCard[];
  viewpoint: string | null;
  comments: Comment[];
  tool: ToolName;
  /** How somebody who stands in the model goes on; null where hands turn about it. */
  gait: Gait | null;
  /** What keeps somebody who walks from going on. */
  hindrance: Hindrance | null;
  /** Whether one can go back and forth through places visited. */
  visited: { hasBack: boolean; hasForth: boolean };
  /** Whether the card with all tools and keys is open. */
  help: boolean;
  drawer: DrawerPage | null;
  /** How much of the crown shows. */
  crown: 'coin' | 'crown' | 'panel';
  /** Where a comment is being written. */
  draft: StageHit | null;
  /** What the next press on the model names, in the words of the tool in hand; null where it does what it always does. */
  picking: string | null;
  /** The window that is being drawn on the picture, in client pixels. */
  window: { from: { x: number; y: number }; to: { x: number; y: number } } | null;
  site: ProjectSite;
  /** Whether the kept pictures are open; counts up when others have changed them. */
  pictures: boolean;
  picturesChanged: number;
  /** Whether everything about the model is hidden, as for a projector. */
  quiet: boolean;
  /** Where the hours of sun are asked for, project coordinates; the normal of a face there. */
  sunPlace: { point: Vec3; normal: Vec3 | null } | null;
  /** The face of a cut that is shown as a flat drawing. */
  drawing: string | null;
  meeting: RunningMeeting | null;
  /** What everyone in the meeting agrees on; null outside of one. */
  agreed: MeetingState | null;
  following: boolean;
  connected: boolean;
  /** This person may not look any more: link withdrawn, meeting over, signed out. */
  ended: boolean;
  /** Other people's pointers by participant. */
  pointers: Record<string, Pointer>;
  /** From where others in the meeting look, by participant. */
  eyes: Record<string, Eyes>;
  /** What others are drawing right now, by participant. */
  growing: Record<string, Mark>;
  /** What was done to a viewpoint last and can be taken back. */
  undone: UndoneChange | null;
  /** How far a meeting of the past is seen again; null of the present. */
  replay: ReplayState | null;
  /** When the viewpoint that shows was opened, in milliseconds of the page's clock; null of a free view. */
  viewpointSince: number | null;
  trouble: string | null;
}

export type ReviewStore = StoreApi<ReviewState>;

export function createReviewStore(start: ReviewStart): ReviewStore {
  const first = start.viewpoints.find(({ id }) => id === start.first) ?? start.viewpoints[0];
  return createStore<ReviewState>(() => ({
    models: start.models,
    options: start.options,
    approvals: start.approvals,
    loaded: 0,
    loading: start.models.length > 0,
    view: first ? { ...INITIAL_VIEW, camera: first.state.camera } : INITIAL_VIEW,
    approach: 'jump',
    undoable: 0,
    redoable: 0,
    viewpoints: start.viewpoints,
    viewpoint: first?.id ?? null,
    comments: start.comments,
    tool: 'move',
    gait: null,
    hindrance: null,
    visited: { hasBack: false, hasForth: false },
    help: false,
    drawer: null,
    crown: 'coin',
    draft: null,
    picking: null,
    window: null,
    site: start.site,
    pictures: false,
    picturesChanged: 0,
    quiet: false,
    sunPlace: null,
    drawing: null,
    meeting: start.meeting,
    agreed: null,
    following: true,
    connected: true,
    ended: false,
    pointers: {},
    eyes: {},
    growing: {},
    undone: null,
    replay: null,
    viewpointSince: null,
    trouble: null,
  }));
}

/** Does the work and, where it fails, shows why. Returns whether it succeeded. */
export async function guarded(store: ReviewStore, work: () => Promise<void>): Promise<boolean> {
  try {
    await work();
    return true;
  } catch (error) {
    store.setState({ trouble: messageOf(error) });
    return false;
  }
}
