import type Joi from 'joi';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { requireActor, type Actor } from '@/server/access';
import { Problem, problemBody } from '@/server/problems';

type Params = Record<string, string>;
interface Call {
  request: Request;
  actor: Actor;
  params: Params;
}

/** A route handler for a signed-in account or guest: answers JSON, or what the work returns as a Response. */
export function answering(work: (call: Call) => Promise<unknown>) {
  return (request: Request, context: { params: Promise<Params> }): Promise<Response> =>
    guarded(async () => work({ request, actor: await requireActor(request.headers), params: await context.params }));
}

/** The same for anybody. */
export function answeringAnyone(work: (request: Request) => Promise<unknown>) {
  return (request: Request): Promise<Response> => guarded(() => work(request));
}

async function guarded(work: () => Promise<unknown>): Promise<Response> {
  try {
    const result = await work();
    return result instanceof Response ? result : Response.json(result ?? {});
  } catch (error) {
    const problem = error instanceof Problem ? error : unexpected(error);
    return new Response(JSON.stringify(problemBody(problem)), {
      status: problem.status,
      headers: { 'Content-Type': 'application/problem+json' },
    });
  }
}

function unexpected(error: unknown): Problem {
  process.stderr.write(`${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`);
  return new Problem(500, 'The server could not do that. Nothing was changed; try again.');
}

const MAX_BODY = 6 * 1024 * 1024;

/**
 * The request's JSON, checked.
 *
 * @throws Problem 400 with what is wrong, in the schema's words
 */
export async function readBody<T>(request: Request, schema: Joi.Schema<T>): Promise<T> {
  if (Number(request.headers.get('content-length') ?? 0) > MAX_BODY)
    throw new Problem(413, 'That is too large to store. Use a smaller picture.');
  let body: unknown;
  try {
    body = await request.json();
  } catch {
    throw new Problem(400, 'The request is not valid JSON.');
  }
  const { error, value } = schema.validate(body, { convert: false });
  if (error) throw new Problem(400, `Please check what you entered: ${error.message}.`);
  return value as T;
}

const JPEG = 'data:image/jpeg;base64,';

/** A picture sent as a data address; only JPEG, whose first bytes are checked. */
export function pictureFrom(data: string | undefined): Buffer | undefined {
  if (data === undefined) return undefined;
  const bytes = data.startsWith(JPEG) ? Buffer.from(data.slice(JPEG.length), 'base64') : Buffer.alloc(0);
  if (bytes.subarray(0, 3).toString('hex') !== 'ffd8ff') throw new Problem(400, 'The picture is not a JPEG.');
  return bytes;
}

export function pictureAnswer(bytes: Buffer): Response {
  const type = bytes[0] === 0x89 ? 'image/png' : 'image/jpeg';
  return new Response(new Uint8Array(bytes), {
    headers: { 'Content-Type': type, 'Cache-Control': 'private, max-age=31536000, immutable' },
  });
}

const doorLimit = new RateLimiterMemory({ points: 20, duration: 60 });

/** Slows down guessing of codes and links: twenty tries a minute from one address. */
export async function limitDoor(request: Request): Promise<void> {
  const from = request.headers.get('x-forwarded-for') ?? 'local';
  try {
    await doorLimit.consume(from);
  } catch {
    throw new Problem(429, 'Too many tries. Wait a minute, then enter the code again.');
  }
}

/** The origin that the browser sees, for links to hand out. */
export function originOf(request: Request): string {
  const host = request.headers.get('host') ?? 'localhost';
  return process.env.YURTA_PUBLIC_URL?.replace(/\/$/, '') ?? `http://${host}`;
}
