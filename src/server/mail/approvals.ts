import { approverMail } from '../review/approvals';
import { sendWithLink } from './mail-with-link';

/** Asks somebody to approve a revision. @throws Error if the mail server refuses */
export async function mailApprover(approverId: string): Promise<void> {
  const asked = await approverMail(approverId);
  if (!asked) return;
  const { to, project, revision, askedBy, question, dueOn, purpose, url, linkId } = asked;
  const mail = {
    to,
    subject: `${project}: ${revision} waits for your approval`,
    text: [
      `${askedBy} asks you to approve ${revision} of ${project}${purpose ? `, put up ${purpose}` : ''}.`,
      ...(question ? [question] : []),
      ...(dueOn ? [`Please answer by ${dueOn}.`] : []),
      'Look at it and answer here; you need nothing but a browser:',
      url,
    ].join('\n\n'),
  };
  await sendWithLink(mail, linkId);
}
