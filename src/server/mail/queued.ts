import type { MailJob } from '../publishing/queue';
import { mailAccountChange } from './account-changes';
import { mailApprover } from './approvals';
import { mailAssignment } from './assignments';
import { mailDay } from './daily';
import { mailMention } from './mentions';
import { mailMinutes } from './minutes';
import { mailNotice } from './notices';

/** Sends a mail that was asked for. @throws Error if the mail server refuses: it is tried again then */
export async function sendQueued(mail: MailJob): Promise<void> {
  if ('assignment' in mail) await mailAssignment(mail.assignment, { by: mail.by });
  else if ('reminder' in mail) await mailAssignment(mail.reminder, { isReminder: true });
  else if ('minutes' in mail) await mailMinutes(mail.minutes, mail.to);
  else if ('mention' in mail) await mailMention(mail.mention, mail.to, mail.by);
  else if ('approver' in mail) await mailApprover(mail.approver);
  else if ('daily' in mail) await mailDay(mail.daily, new Date(mail.since));
  else if ('account' in mail) await mailAccountChange(mail.account, mail.change);
  else await mailNotice(mail.noticeId);
}
