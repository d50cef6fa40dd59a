import type { Names } from '../elements/describe-set';

/**
 * One thing that a person can set up in the Review and would want back. A part is added with its own file here and one line
 * in `view-state.ts` and `view-state-schema.ts`; viewpoints, comments, links, meetings and undo then hold it without more.
 */
export interface ViewPart<T> {
  readonly initial: T;
  /** Reads what was stored: of an older form, of before the part existed, or damaged. Never throws. */
  read(stored: unknown): T;
  /** One sentence without its full stop, for minutes and screen readers; empty where there is nothing to say. */
  describe(value: T, names: Names): string;
  /** Whether undo and redo bring it back. The camera and the selection change too often to be steps of their own. */
  readonly undone: boolean;
}
