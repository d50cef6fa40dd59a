/** The one place from which pages call the server. */

/** What the server refused, in its own words for the user. */
export class Refusal extends Error {
  override readonly name = 'Refusal';

  /** @param status of HTTP; 0 where no answer came */
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** Whether the server could not answer just now: the same is worth another try in a moment. */
export function isAway(error: unknown): boolean {
  return error instanceof Refusal && [0, 503].includes(error.status);
}

/** @throws Refusal where the server does not answer, or refuses */
async function send(method: string, path: string, body?: unknown, key?: string): Promise<Response> {
  let answer: Response;
  try {
    answer = await fetch(path, {
      method,
      headers: {
        ...(body !== undefined && { 'Content-Type': body instanceof Blob ? body.type : 'application/json' }),
        ...(key !== undefined && { 'Idempotency-Key': key }),
      },
      body: body === undefined || body instanceof Blob ? body : JSON.stringify(body),
    });
  } catch {
    throw new Refusal(0, 'The server does not answer. What you see stays; check the connection and try again.');
  }
  if (answer.ok) return answer;
  const problem = (await answer.json().catch(() => null)) as { title?: string } | null;
  throw new Refusal(answer.status, problem?.title ?? 'The server could not do that. Nothing was changed; try again.');
}

async function call<T>(method: string, path: string, body?: unknown, key?: string): Promise<T> {
  const answer = await send(method, path, body, key);
  return (await answer.json().catch(() => null)) as T;
}

export const api = {
  get: <T>(path: string) => call<T>('GET', path),
  /** @param key the same for every try of one request, where a second one must make nothing twice */
  post: <T>(path: string, body: unknown, key?: string) => call<T>('POST', path, body, key),
  /** Asks for a file that is made of what is sent. */
  file: async (path: string, body: unknown) => (await send('POST', path, body)).blob(),
  /** Sends bytes as they are. @param key the same for every try of one request */
  bytes: async <T>(path: string, body: Blob, key?: string): Promise<T> => {
    const answer = await send('POST', path, body, key);
    return (await answer.json()) as T;
  },
  picture: async (path: string) => (await send('GET', path)).blob(),
  delete: <T>(path: string) => call<T>('DELETE', path),
  put: <T>(path: string, body: unknown) => call<T>('PUT', path, body),
  patch: <T>(path: string, body: unknown) => call<T>('PATCH', path, body),
};

export function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : 'That did not work. Nothing was changed; try again.';
}

export function asDataUrl(blob: Blob): Promise<string> {
  return new Promise((done, fail) => {
    const reader = new FileReader();
    reader.onload = () => done(reader.result as string);
    reader.onerror = () => fail(new Error('The picture could not be read.'));
    reader.readAsDataURL(blob);
  });
}
