import { timingSafeEqual } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { text } from 'node:stream/consumers';
import { Issues, Refused } from './issues';
import { trackerPage } from './page';

/**
 * Plays an issue tracker on loopback; README.md beside it describes its interface.
 *
 * @param folder where its issues are kept
 * @param port 0 for any that is free
 * @param token what programs show
 */
export async function startIssueTracker(
  folder: string,
  port: number,
  token: string,
): Promise<{ origin: string; close(): Promise<void> }> {
  await mkdir(folder, { recursive: true });
  const issues = await Issues.open(folder);
  // One request at a time: what is checked against a version is changed before anybody else looks.
  let tail: Promise<void> = Promise.resolve();
  const server = createServer((request, response) => {
    tail = tail.then(() => answer(request, response)).catch((error: unknown) => refuse(response, error));
  });
  await new Promise<void>((ready, fail) => {
    server.once('error', fail);
    server.listen(port, '127.0.0.1', ready);
  });
  return {
    origin: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    close: () =>
      new Promise((closed) => {
        server.close(() => closed());
        server.closeAllConnections();
      }),
  };

  async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const url = new URL(request.url ?? '/', 'http://tracker');
    const [room = '', id = '', part = ''] = url.pathname.split('/').slice(1);
    if (request.method === 'GET' && room === '') {
      response.writeHead(200, { 'Content-Type': 'text/html; charset=utf-8' }).end(trackerPage(issues.all, token));
      return;
    }
    if (!isKnown(request.headers.authorization)) throw new Refused(401, 'The token is missing or wrong.');
    const route = `${request.method} ${room}${id ? '/ID' : ''}${part ? `/${part}` : ''}`;
    switch (route) {
      case 'GET changes':
        return json(response, issues.changedSince(url.searchParams.get('since') ?? ''));
      case 'POST issues':
        return json(response, await issues.make(await body(request), one(request.headers['idempotency-key'])));
      case 'PATCH issues/ID':
        return json(response, await issues.change(decodeURIComponent(id), await body(request), request.headers['if-match'])); // prettier-ignore
      case 'POST issues/ID/notes':
        return json(response, await issues.addNote(decodeURIComponent(id), await body(request)));
      default:
        throw new Refused(404, 'There is no such address.');
    }
  }

  function isKnown(header: string | undefined): boolean {
    const [given, wanted] = [Buffer.from(header ?? ''), Buffer.from(`Bearer ${token}`)];
    return given.length === wanted.length && timingSafeEqual(given, wanted);
  }
}

async function body(request: IncomingMessage): Promise<unknown> {
  try {
    return JSON.parse(await text(request));
  } catch {
    throw new Refused(400, 'That is no JSON.');
  }
}

function one(header: string | string[] | undefined): string | undefined {
  return Array.isArray(header) ? header[0] : header;
}

function json(response: ServerResponse, content: unknown): void {
  response.writeHead(200, { 'Content-Type': 'application/json' }).end(JSON.stringify(content));
}

function refuse(response: ServerResponse, error: unknown): void {
  if (response.headersSent) return void response.end();
  const refused = error instanceof Refused ? error : new Refused(500, String(error));
  response.writeHead(refused.status, { 'Content-Type': 'text/plain; charset=utf-8' }).end(refused.message);
}
