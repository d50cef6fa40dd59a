import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { closeConnection, db } from '@/db/database';
import { accessTokens } from '@/db/schema';
import { actorOf } from './access';
import { changePassword, resetPassword } from './accounts';
import { auth } from './auth';
import { testAccount, type TestPerson } from '../test-people';
import { createToken, listTokens, revokeToken } from './tokens';

let ines: TestPerson;
let mikko: TestPerson;

beforeAll(async () => {
  ines = await testAccount('Ines-of-tokens');
  mikko = await testAccount('Mikko-of-tokens');
});
afterAll(() => closeConnection());

const by = (token: string) => actorOf(new Headers({ authorization: `Bearer ${token}` }));

it('opens its owner’s account until it is withdrawn or expires, and is kept only as a hash', async () => {
  const { id, token } = await createToken(ines.actor, 'Nightly', 'publish');
  expect(await by(token)).toMatchObject({ id: ines.actor.id, token: 'publish' });
  const [row] = await db().select().from(accessTokens).where(eq(accessTokens.id, id));
  expect(JSON.stringify(row)).not.toContain(token.slice(6));
  expect((await listTokens(ines.actor))[0]).toMatchObject({ label: 'Nightly', state: 'open' });
  expect((await listTokens(ines.actor))[0]!.usedAt).not.toBeNull();
  expect(await listTokens(mikko.actor)).toEqual([]);

  await expect(revokeToken(mikko.actor, id)).rejects.toThrow('was not found');
  await db()
    .update(accessTokens)
    .set({ expiresAt: new Date(0) })
    .where(eq(accessTokens.id, id));
  expect(await by(token)).toBeNull();
  expect((await listTokens(ines.actor))[0]!.state).toBe('expired');

  const other = await createToken(ines.actor, 'Watch', 'read');
  await revokeToken(ines.actor, other.id);
  expect(await by(other.token)).toBeNull();
  await expect(revokeToken(ines.actor, other.id)).rejects.toThrow('was not found');
});

it('goes before a cookie, so that a wrong one is not helped by a browser that is signed in', async () => {
  const headers = new Headers({ authorization: 'Bearer yurta_wrong', cookie: ines.cookie });
  expect(await actorOf(headers)).toBeNull();
});

it('changes a password only for whom knows the present one, and ends the other sessions', async () => {
  const headers = new Headers({ cookie: mikko.cookie });
  const email = mikko.actor.kind === 'user' ? mikko.actor.email : '';
  await auth().api.signInEmail({ body: { email, password: 'long enough here' } });
  const elsewhere = await auth().api.signInEmail({ body: { email, password: 'long enough here' }, asResponse: true });
  const cookie = elsewhere.headers.getSetCookie()[0]!.split(';')[0]!;
  expect(await actorOf(new Headers({ cookie }))).not.toBeNull();

  await expect(changePassword(mikko.actor, headers, 'wrong', 'longer still, and odd')).rejects.toThrow('is not right');
  const { token } = await createToken(mikko.actor, 'Kept', 'read');
  const bearer = new Headers({ authorization: `Bearer ${token}` });
  await changePassword(mikko.actor, headers, 'long enough here', 'longer still, and odd');
  expect(await actorOf(bearer)).not.toBeNull();
  expect(await actorOf(headers)).not.toBeNull();
  expect(await actorOf(new Headers({ cookie }))).toBeNull();
  await expect(auth().api.signInEmail({ body: { email, password: 'long enough here' } })).rejects.toThrow();
  await auth().api.signInEmail({ body: { email, password: 'longer still, and odd' } });
  // Where somebody wishes it, programs have to be let in anew as well.
  await changePassword(mikko.actor, headers, 'longer still, and odd', 'longest of all', true);
  expect(await actorOf(bearer)).toBeNull();
});

it('takes no password that is short or one of the first that somebody would try', async () => {
  const account = await testAccount('Lindqvist');
  const headers = new Headers({ cookie: account.cookie });
  const change = (next: string) => changePassword(account.actor, headers, 'long enough here', next);
  for (const weak of ['eleven char', 'password1234', 'qwertyuiopas', 'aaaaaaaaaaaaaaaa', 'Lindqvist1234'])
    await expect(change(weak), weak).rejects.toThrow(/twelve|12|one of the first/);
  await change('gravel under four lanterns');
});

it('is set anew for whoever has lost it; whatever was open under the old one ends', async () => {
  const account = await testAccount('Lost');
  const email = account.actor.kind === 'user' ? account.actor.email : '';
  const { token } = await createToken(account.actor, 'Program', 'read');
  await expect(resetPassword('nobody@example.test', 'gravel under four lanterns')).rejects.toThrow('not found');
  await resetPassword(email.toUpperCase(), 'gravel under four lanterns');
  expect(await actorOf(new Headers({ cookie: account.cookie }))).toBeNull();
  expect(await actorOf(new Headers({ authorization: `Bearer ${token}` }))).toBeNull();
  await auth().api.signInEmail({ body: { email, password: 'gravel under four lanterns' } });
});
