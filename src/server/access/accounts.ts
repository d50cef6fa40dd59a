import { and, eq, isNull, ne } from 'drizzle-orm';
import { db } from '@/db/database';
import { accessTokens, session, user } from '@/db/schema';
import { requirePerson, type Actor } from './access';
import { auth } from './auth';
import { Problem } from '../problems';

/** Makes an account with a password. @throws Problem 409 if the address has one already, 400 if the password is short */
export async function createAccount(name: string, email: string, password: string): Promise<Actor> {
  if (password.length < 8) throw new Problem(400, 'A password has at least eight characters.');
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
 * @throws Problem 403 if the present password is wrong
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
  await context.internalAdapter.updatePassword(actor.id, await context.password.hash(next));
  if (endsTokens)
    await db()
      .update(accessTokens)
      .set({ revokedAt: new Date() })
      .where(and(eq(accessTokens.userId, actor.id), isNull(accessTokens.revokedAt)));
  const here = await auth().api.getSession({ headers });
  await db()
    .delete(session)
    .where(and(eq(session.userId, actor.id), ne(session.token, here?.session.token ?? '')));
}
