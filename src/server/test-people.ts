import { GUEST_COOKIE, actorOf, type Actor } from './access/access';
import { createAccount } from './access/accounts';
import { auth } from './access/auth';
import { createLink, enterByLink } from './access/links';

/** Somebody in a test, with the cookie that their browser would send. */
export interface TestPerson {
  actor: Actor;
  cookie: string;
}

/** Makes an account and signs it in. */
export async function testAccount(name: string): Promise<TestPerson> {
  const email = `${name.toLowerCase()}-${Date.now()}@example.test`;
  await createAccount(name, email, 'long enough here');
  const answer = await auth().api.signInEmail({ body: { email, password: 'long enough here' }, asResponse: true });
  const cookie = answer.headers
    .getSetCookie()
    .map((line) => line.split(';')[0])
    .join('; ');
  return personBehind(cookie);
}

/** Lets a guest in by a fresh link. */
export async function testGuest(
  lead: Actor,
  projectId: string,
  right: 'look' | 'comment',
  name: string,
): Promise<TestPerson & { linkId: string }> {
  const { id, url } = await createLink(lead, projectId, 'http://localhost', { right, label: name });
  const { secret } = await enterByLink(url.split('/l/')[1]!, name);
  return { ...(await personBehind(`${GUEST_COOKIE}=${secret}`)), linkId: id };
}

async function personBehind(cookie: string): Promise<TestPerson> {
  const actor = await actorOf(new Headers({ cookie }));
  if (!actor) throw new Error('the cookie opens nothing');
  return { actor, cookie };
}
