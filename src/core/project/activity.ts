/** What is done in a project and told of in its feed, in daily mails and to other programs. */
export const ACTIVITY_KINDS = [
  'published',
  'withdrawn',
  'said',
  'answered',
  'changed',
  'decided',
  'confirmed',
  'meeting-started',
  'meeting-ended',
  'approval-asked',
  'approval-answered',
] as const;
export type ActivityKind = (typeof ACTIVITY_KINDS)[number];

/** What follows the name of whoever did it: “Ines published Architecture P03”. */
export const ACTIVITY_WORDS: Record<ActivityKind, string> = {
  published: 'published',
  withdrawn: 'withdrew',
  said: 'said',
  answered: 'answered',
  changed: 'changed',
  decided: 'decided',
  confirmed: 'confirmed',
  'meeting-started': 'began the meeting',
  'meeting-ended': 'ended the meeting',
  'approval-asked': 'put up for approval',
  'approval-answered': 'answered on approval',
};

/** Something that was done. */
export interface Activity {
  id: string;
  projectId: string;
  project: string;
  at: string;
  by: { id: string; name: string };
  kind: ActivityKind;
  subjectId: string;
  text: string;
}

/** Where one sees it, as an address within the application; for answers the comment that they answer is opened. */
export function addressOf({ projectId, kind, subjectId }: Pick<Activity, 'projectId' | 'kind' | 'subjectId'>): string {
  const project = `/projects/${projectId}`;
  switch (kind) {
    case 'published':
    case 'withdrawn':
      return `${project}/prepare/${subjectId}`;
    case 'meeting-started':
    case 'meeting-ended':
      return `${project}/follow-up`;
    case 'approval-asked':
    case 'approval-answered':
      return `${project}/approvals`;
    default:
      return `${project}/review?comment=${subjectId}`;
  }
}
