/** How a publication ended. */
export type NoticeKind = 'published' | 'ready' | 'failed';

/** What somebody is told about a publication of theirs. */
export interface Notice {
  id: string;
  kind: NoticeKind;
  projectId: string;
  projectName: string;
  modelName: string;
  fileName: string;
  revisionId: string;
  /** P01, P02, …; null if it was not published. */
  code: string | null;
  /** Why, where it did not go well. */
  reason: string | null;
  createdAt: string;
  seen: boolean;
}

/** The notice in a sentence, as bell and mail say it. */
export function noticeSentence({ kind, modelName, code, fileName }: Notice): string {
  switch (kind) {
    case 'published':
      return `${modelName} is published as ${code}.`;
    case 'ready':
      return `${modelName}: “${fileName}” is read and waits for you to look at it.`;
    case 'failed':
      return `${modelName}: “${fileName}” was not published.`;
  }
}
