import { createHash } from 'node:crypto';
import type Joi from 'joi';
import { isPng } from '@/core/picture-format';
import { requireActor, type Actor } from '@/server/access/access';
import { Pace } from '@/server/access/pace';
import { answerOnce, type Answer } from '@/server/access/answered-requests';
import { refuseOddities } from '@/server/plain-text';
import { config } from '@/server/config';
import { log } from '@/server/log';
import { outage } from '@/server/outage';
import { notFound, Problem, problemBody } from '@/server/problems';

type Params = Record<string, string>;
interface Call {
  request: Request;
  actor: Actor;
  params: Params;
}

/** Changes that a guest may make by HTTP in a minute; members are known people. */
const guestWrites = new Pace(240, 60, 'That is more at once than one person does. Wait a little, then go on.');

/** A route handler for a signed-in account or guest: answers JSON, or what the work returns as a Response. */
export function answering(work: (call: Call) => Promise<unknown>) {
  return (request: Request, context: { params: Promise<Params | undefined> }): Promise<Response> =>
    guarded(request, async () => {
      const params = (await context.params) ?? {}; // an address without ids has none
      checkIds(params);
      const actor = await requireActor(request.headers);
      if (actor.kind === 'guest' && request.method !== 'GET') await guestWrites.count(actor.id);
      const key = request.method === 'GET' ? null : requestKey(request, actor);
      if (key === null) return work({ request, actor, params });
      const about = `${request.method} ${new URL(request.url).pathname} ${await fingerprint(request)}`;
      const { status, body } = await answerOnce(key, about, async () =>
        asAnswer(await work({ request, actor, params })),
      );
      return Response.json(body, { status });
    });
}

/** What tells the content of a request from another: its hash, of a long one its length. */
async function fingerprint(request: Request): Promise<string> {
  const length = request.headers.get('content-length');
  if (length === null || Number(length) > USUAL_LIMIT.most) return length ?? '';
  const hash = createHash('sha256');
  for await (const chunk of (request.clone().body ?? []) as AsyncIterable<Uint8Array>) hash.update(chunk);
  return hash.digest('base64url');
}

/** What a route answers to a request that changes something: JSON. */
async function asAnswer(result: unknown): Promise<Answer> {
  if (!(result instanceof Response)) return { status: 200, body: result ?? {} };
  if (!result.headers.get('content-type')?.startsWith('application/json'))
    throw new Problem(400, 'This request changes nothing and takes no Idempotency-Key.');
  return { status: result.status, body: await result.json() };
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** All that an address names is an id, except an element, which is a row. What is none cannot exist. */
function checkIds({ element: _, ...ids }: Params): void {
  if (!Object.values(ids).every((id) => UUID.test(id))) throw notFound('What this address names');
}

/** The same for anybody. */
export function answeringAnyone(work: (request: Request) => Promise<unknown>) {
  return (request: Request): Promise<Response> => guarded(request, () => work(request));
}

async function guarded(request: Request, work: () => Promise<unknown>): Promise<Response> {
  try {
    const result = await work();
    return result instanceof Response ? result : Response.json(result ?? {});
  } catch (error) {
    const problem = error instanceof Problem ? error : unexpected(error, request);
    return new Response(JSON.stringify(problemBody(problem)), {
      status: problem.status,
      headers: { 'Content-Type': 'application/problem+json' },
    });
  }
}

function unexpected(error: unknown, request: Request): Problem {
  log.error({ request: request.headers.get('x-request-id'), error: error instanceof Error ? (error.stack ?? error.message) : String(error) }, 'request failed'); // prettier-ignore
  return outage(error) ?? new Problem(500, 'The server could not do that. Nothing was changed; try again.');
}

const KEY = /^[\w-]{1,100}$/;

/**
 * What a request is known by, from its Idempotency-Key header, so that sending it again after a lost answer makes nothing
 * twice; null without one. One person's keys mean nothing to another.
 *
 * @throws Problem 400 if it is no key
 */
export function requestKey(request: Request, actor: Actor): string | null {
  const key = request.headers.get('idempotency-key');
  if (key === null) return null;
  if (!KEY.test(key)) throw new Problem(400, 'The Idempotency-Key is not one: letters, digits and dashes, up to 100.');
  return `${actor.id}:${key}`;
}

/** How much may be sent, in bytes, and what is said of more. */
interface BodyLimit {
  most: number;
  tooLarge: string;
}

const USUAL_LIMIT: BodyLimit = {
  most: 64 * 1024,
  tooLarge: 'That is more than can be taken here. Send less at once.',
};

/** Where a picture or a view comes along. */
export const PICTURED: BodyLimit = {
  most: 6 * 1024 * 1024,
  tooLarge: 'That is too large to store. Use a smaller picture.',
};

/** Where rules may name thousands of elements. */
export const RULES: BodyLimit = {
  most: 4 * 1024 * 1024,
  tooLarge: 'That names more elements than can be taken at once. Choose them by storey or category.',
};

/**
 * The request's JSON, checked.
 *
 * @throws Problem 400 with what is wrong, in the schema's words
 */
export async function readBody<T>(request: Request, schema: Joi.Schema<T>, limit = USUAL_LIMIT): Promise<T> {
  const text = await readText(request, limit);
  const body = readJson(text);
  const { error, value } = schema.validate(body, { convert: false });
  if (error) throw new Problem(400, `Please check what you entered: ${error.message.replaceAll('"', '')}.`);
  return value as T;
}

/** @throws Problem 400 for what is no JSON, and for what no honest program sends */
export function readJson(text: string): unknown {
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new Problem(400, 'The request is not valid JSON.');
  }
  refuseOddities(body);
  return body;
}

/**
 * What stands in the address after its question mark, checked; each name once.
 *
 * @throws Problem 400 with what is wrong, in the schema's words
 */
export function readQuery<T>(request: Request, schema: Joi.Schema<T>): T {
  const query = Object.fromEntries(new URL(request.url).searchParams);
  refuseOddities(query);
  const { error, value } = schema.validate(query);
  if (error) throw new Problem(400, `The address is not understood: ${error.message.replaceAll('"', '')}.`);
  return value as T;
}

/** The body as text, as long as it is not too long, whatever the request says about its length. */
export async function readText(request: Request, limit = USUAL_LIMIT): Promise<string> {
  return (await readBytes(request, limit)).toString('utf8');
}

/** The body as it is, under the same rule. */
export async function readBytes(request: Request, { most, tooLarge } = USUAL_LIMIT): Promise<Buffer> {
  // What says that it is too long is not begun with: an answer in the middle of it would break the connection off.
  if (Number(request.headers.get('content-length') ?? 0) > most) throw new Problem(413, tooLarge);
  const chunks: Uint8Array[] = [];
  let length = 0;
  for await (const chunk of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    length += chunk.length;
    if (length > most) throw new Problem(413, tooLarge);
    chunks.push(chunk);
  }
  return Buffer.concat(chunks);
}

export function pictureAnswer(bytes: Buffer): Response {
  const type = isPng(bytes) ? 'image/png' : 'image/jpeg';
  return new Response(new Uint8Array(bytes), {
    headers: { 'Content-Type': type, 'Cache-Control': 'private, max-age=31536000, immutable' },
  });
}

/** The one address that a request comes from, as the gateway has found it. */
export function addressOf(request: Request): string {
  return request.headers.get('x-forwarded-for') ?? 'local';
}

/**
 * The origin that the browser sees, for links to hand out. What a request says of its host counts only where nobody from outside
 * can say it.
 */
export function originOf(request: Request): string {
  const { isLocal, publicUrl } = config();
  const host = request.headers.get('host');
  return isLocal && host && !process.env.YURTA_PUBLIC_URL ? `http://${host}` : publicUrl;
}
