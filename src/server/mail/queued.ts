import type { MailJob } from '../publishing/queue';
import { mailAssignment } from './assignments';
import { mailMinutes } from './minutes';
import { mailNotice } from './notices';

/** Sends a mail that was asked for. @throws Error if the mail server refuses: it is tried again then */
export async function sendQueued(mail: MailJob): Promise<void> {
  if ('assignment' in mail) await mailAssignment(mail.assignment);
  else if ('reminder' in mail) await mailAssignment(mail.reminder, true);
  else if ('minutes' in mail) await mailMinutes(mail.minutes, mail.to);
  else await mailNotice(mail.noticeId);
}
