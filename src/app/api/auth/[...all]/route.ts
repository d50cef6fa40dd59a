import { auth } from '@/server/access/auth';
import { answeringAnyone, readBytes } from '../../answering';

export const GET = (request: Request) => auth().handler(request);

/** What is sent is read here first, as far as any request may go. */
export const POST = answeringAnyone(async (request) => {
  const { url, method, headers } = request;
  return auth().handler(new Request(url, { method, headers, body: new Uint8Array(await readBytes(request)) }));
});
