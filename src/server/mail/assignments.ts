import { PRIORITY_WORDS } from '@/core/project/comment';
import { config } from '../config';
import { assignmentOf } from '../review/comment-changes';
import { sendMail } from './mail';

/** Tells somebody what they are to do, with the picture and a link that opens right there. @throws Error if the mail server refuses */
export async function mailAssignment(commentId: string, isReminder = false): Promise<void> {
  const assigned = await assignmentOf(commentId);
  if (!assigned) return;
  const { comment, project, to } = assigned;
  const { number, text, dueOn, priority, authorName, projectId, picture } = comment;
  const due = dueOn ? `Due on ${dueOn}.` : 'No day is set.';
  await sendMail({
    to,
    subject: isReminder
      ? `${project}: number ${number} is due on ${dueOn}`
      : `${project}: number ${number} is yours to do`,
    text: [
      isReminder ? 'This is still to be done:' : `${authorName} said, and it is yours to do:`,
      text,
      `${due} Priority: ${PRIORITY_WORDS[priority].toLowerCase()}.`,
      'See it in its place:',
      `${config().publicUrl}/projects/${projectId}/review?comment=${commentId}`,
    ].join('\n\n'),
    ...(picture && { picture: { bytes: picture, describes: `View of number ${number}` } }),
  });
}
