import { and, eq, isNull, ne } from 'drizzle-orm';
import { db } from '@/db/database';
import { accessTokens, session, user } from '@/db/schema';
import { requirePerson, type Actor } from './access';
import { auth } from './auth';
import { MIN_PASSWORD } from '@/core/forms/password-length';
import { tellOwner } from '../mail/account-changes';
import { notFound, Problem } from '../problems';
import { isGuessable } from './guessable';

/** Makes an account with a password. @throws Problem 409 if the address has one already, 400 if the password is weak */
export async function createAccount(name: string, email: string, password: string): Promise<Actor> {
  requireStrong(password, [name, email]);
  if (await findAccount(email)) throw new Problem(409, `There is an account for ${email} already.`);
  const context = await auth().$context;
  const created = await context.internalAdapter.createUser(
    { name, email: email.toLowerCase(), emailVerified: true },
    { method: 'admin' },
  );
  await context.internalAdapter.linkAccount({
    userId: created.id,
    providerId: 'credential',
    accountId: created.id,
    password: await context.password.hash(password),
  });
  return { kind: 'user', id: created.id, name, email: created.email };
}

/** The account of an e-mail address, or null. */
export async function findAccount(email: string): Promise<Actor | null> {
  const [row] = await db().select().from(user).where(eq(user.email, email.toLowerCase()));
  return row ? { kind: 'user', id: row.id, name: row.name, email: row.email } : null;
}

/**
 * Changes an account's own password; its other sessions end.
 *
 * @param headers of the request, with the cookie of the session that stays
 * @throws Problem 403 if the present password is wrong, 400 if the next one is weak
 */
export async function changePassword(
  actor: Actor,
  headers: Headers,
  present: string,
  next: string,
  endsTokens = false,
): Promise<void> {
  requirePerson(actor);
  const context = await auth().$context;
  const credential = (await context.internalAdapter.findAccounts(actor.id)).find(
    ({ providerId }) => providerId === 'credential',
  );
  const hash = credential?.password;
  if (!hash || !(await context.password.verify({ hash, password: present })))
    throw new Problem(403, 'The present password is not right. Nothing was changed.');
  requireStrong(next, [actor.name, actor.email]);
  await context.internalAdapter.updatePassword(actor.id, await context.password.hash(next));
  if (endsTokens) await endTokens(actor.id);
  await tellOwner(actor.id, 'password');
  const here = await auth().api.getSession({ headers });
  await db()
    .delete(session)
    .where(and(eq(session.userId, actor.id), ne(session.token, here?.session.token ?? '')));
}

/** Sets a new password for whoever has lost theirs; all sessions and access tokens end. @throws Problem 404 without such an account */
export async function resetPassword(email: string, next: string): Promise<void> {
  const account = await findAccount(email);
  if (account?.kind !== 'user') throw notFound(`An account of ${email}`);
  requireStrong(next, [account.name, email]);
  const context = await auth().$context;
  await context.internalAdapter.updatePassword(account.id, await context.password.hash(next));
  await endTokens(account.id);
  await db().delete(session).where(eq(session.userId, account.id));
}

async function endTokens(userId: string): Promise<void> {
  await db()
    .update(accessTokens)
    .set({ revokedAt: new Date() })
    .where(and(eq(accessTokens.userId, userId), isNull(accessTokens.revokedAt)));
}

/** @throws Problem 400 for a password that is short or soon guessed */
function requireStrong(password: string, known: readonly string[]): void {
  if (password.length < MIN_PASSWORD) throw new Problem(400, `A password has at least ${MIN_PASSWORD} characters.`);
  if (isGuessable(password, known))
    throw new Problem(
      400,
      'That password is one of the first that somebody would try. Take a few words that do not belong together.',
    );
}
