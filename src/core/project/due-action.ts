import type { CommentDetails } from './comment';

/** Something that one is to do, as a list over all projects shows it. */
export interface DueAction extends Pick<CommentDetails, 'kind' | 'status' | 'dueOn' | 'priority'> {
  id: string;
  projectId: string;
  projectName: string;
  number: number | null;
  text: string;
  /** Who said it. */
  by: string;
  hasPicture: boolean;
}
