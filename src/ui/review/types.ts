import type { Vec3 } from '@/core/math/mat4';
import type { ElementRef, ViewState } from '@/core/viewpoint';
import type { ModelSource } from '@/stage/stage-model';

export interface ReviewModel extends ModelSource {
  name: string;
  code: string;
  discipline: string;
}

export interface ReviewComment {
  id: string;
  number: number | null;
  replyTo: string | null;
  text: string;
  author: string;
  guest: boolean;
  anchor: { element: ElementRef | null; point: Vec3 } | null;
  elementName: string;
  view: ViewState | null;
  hasPicture: boolean;
  status: 'open' | 'closed';
  createdAt: string;
}

export interface ReviewViewpoint {
  id: string;
  name: string;
  state: ViewState;
  hasPicture: boolean;
}

export interface RunningMeeting {
  id: string;
  title: string;
  code: string | null;
}

/** What the person in front of the screen may do. */
export interface ReviewRights {
  arrange: boolean;
  host: boolean;
  comment: boolean;
  stations: boolean;
}

export interface ReviewStart {
  project: { id: string; name: string };
  you: { id: string; name: string };
  rights: ReviewRights;
  models: ReviewModel[];
  viewpoints: ReviewViewpoint[];
  comments: ReviewComment[];
  meeting: RunningMeeting | null;
  /** A comment to fly to at once. */
  focus: string | null;
}
