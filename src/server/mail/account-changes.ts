import { eq } from 'drizzle-orm';
import { db } from '@/db/database';
import { user } from '@/db/schema';
import { config } from '../config';
import { enqueueMail, type AccountChange } from '../publishing/queue';
import { sendMail } from './mail';

const WORDS: Record<AccountChange, { subject: string; happened: string; otherwise: string }> = {
  password: {
    subject: 'Your password was changed',
    happened: 'The password of your account was changed. Other browsers have to sign in again.',
    otherwise: 'If that was not you, tell whoever runs this installation at once: they can set a new one.',
  },
  token: {
    subject: 'An access token was made',
    happened: 'A new access token lets a program act in your name.',
    otherwise: 'If that was not you, end it in the settings of your account and change your password:',
  },
};

/** Has an account's owner told of a change, where there is a mail server; the change never waits for it. */
export async function tellOwner(userId: string, change: AccountChange): Promise<void> {
  if (config().smtpUrl) await enqueueMail({ account: userId, change }, 0);
}

/** Tells an account's owner of a change. @throws Error if the mail server refuses */
export async function mailAccountChange(userId: string, change: AccountChange): Promise<void> {
  const [owner] = await db().select({ name: user.name, email: user.email }).from(user).where(eq(user.id, userId));
  if (!owner) return;
  const { subject, happened, otherwise } = WORDS[change];
  await sendMail({
    to: owner.email,
    subject,
    text: [`${owner.name},`, happened, otherwise, `${config().publicUrl}/settings`].join('\n\n'),
  });
}
