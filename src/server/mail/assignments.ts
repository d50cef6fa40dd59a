import { PRIORITY_WORDS } from '@/core/project/comment';
import { linkForAddress, mayManageLinks } from '../access/links';
import { config } from '../config';
import { assignmentOf } from '../review/comment-changes';
import { sendWithLink } from './mail-with-link';

interface Reason {
  /** Who gave it to them; not of reminders. */
  by?: string;
  isReminder?: boolean;
}

/**
 * Tells somebody what they are to do, with the picture and a link that opens right there. Who has no account gets a link that
 * lets them in, where somebody gave it to them who may let people in.
 *
 * @throws Error if the mail server refuses
 */
export async function mailAssignment(commentId: string, { by, isReminder = false }: Reason): Promise<void> {
  const assigned = await assignmentOf(commentId);
  if (!assigned) return;
  const { comment, project, to, isMember } = assigned;
  const { number, text, dueOn, priority, authorName, projectId, picture } = comment;
  const letsIn = !isMember && by !== undefined && (await mayManageLinks(by, projectId));
  const link = letsIn ? await linkForAddress(projectId, by, to, `comment=${commentId}`) : null;
  const url = link?.url ?? `${config().publicUrl}/projects/${projectId}/review?comment=${commentId}`;
  const due = dueOn ? `Due on ${dueOn}.` : 'No day is set.';
  const mail = {
    to,
    subject: isReminder
      ? `${project}: number ${number} is due on ${dueOn}`
      : `${project}: number ${number} is yours to do`,
    text: [
      isReminder ? 'This is still to be done:' : `${authorName} said, and it is yours to do:`,
      text,
      `${due} Priority: ${PRIORITY_WORDS[priority].toLowerCase()}.`,
      'See it in its place:',
      url,
    ].join('\n\n'),
    ...(picture && { picture: { bytes: picture, describes: `View of number ${number}` } }),
  };
  await sendWithLink(mail, link?.id ?? null);
}
