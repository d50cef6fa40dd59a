import { auth } from '@/server/access/auth';
import { atDoor } from '@/server/access/door-guard';
import { addressOf, answeringAnyone, readBytes, readJson } from '../../answering';

export const GET = (request: Request) => auth().handler(request);

/** What is sent is read here first, as far as any request may go; passwords are tried only so often. */
export const POST = answeringAnyone(async (request) => {
  const { url, method, headers } = request;
  const body = await readBytes(request);
  const given = body.length > 0 ? readJson(body.toString('utf8')) : {};
  const hand = () => auth().handler(new Request(url, { method, headers, body: new Uint8Array(body) }));
  if (!new URL(url).pathname.endsWith('/sign-in/email')) return hand();
  return atDoor(addressOf(request), hand, {
    account: addressIn(given),
    isRefused: ({ status }) => status === 401,
  });
});

/** Whose password is tried; nobody's where that is not said. */
function addressIn(given: unknown): string | undefined {
  const { email } = (given ?? {}) as { email?: unknown };
  return typeof email === 'string' ? email : undefined;
}
