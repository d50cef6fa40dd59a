import { createReadStream } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { text } from 'node:stream/consumers';
import { OAuthError, Request, Response } from '@node-oauth/oauth2-server';
import { openAuthorisation, SCOPE, type StoreClient } from './authorisation';
import { announce } from './change-notices';
import { consentPage, shelfPage } from './pages';
import { Shelf, type ShelfFile } from './shelf';

/** Who is always signed in at the store. */
const PERSON = { id: 'person', name: 'Ines Okafor', email: 'ines@okafor-brandt.example' };

/** What only programs with a right reach. */
const PROGRAM_ROOMS = ['me', 'folders', 'files', 'subscriptions'];

/**
 * Plays a model store in the cloud, on loopback: OAuth 2.0 for programs, folders, files with versions, change notices by
 * webhook, and a page of its own on which a person puts new versions. README.md beside it describes its interface.
 *
 * @param home folder where all is kept
 * @param port 0 for any that is free
 * @param client the one program that is registered
 */
export async function startModelStore(
  home: string,
  port: number,
  client: StoreClient,
): Promise<{ origin: string; close(): Promise<void> }> {
  await mkdir(home, { recursive: true });
  const shelf = await Shelf.open(home);
  const authorisation = await openAuthorisation(home, client);
  const server = createServer((request, response) => {
    answer(request, response).catch((error: unknown) => refuse(response, error));
  });
  await new Promise<void>((ready, fail) => {
    server.once('error', fail);
    server.listen(port, '127.0.0.1', ready);
  });
  const origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return {
    origin,
    close: () =>
      new Promise((closed) => {
        server.close(() => closed());
        server.closeAllConnections();
      }),
  };

  async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const url = new URL(request.url ?? '/', origin);
    const [room = '', id = '', part = '', number = '', what = ''] = url.pathname.split('/').slice(1);
    const route = `${request.method} ${room}`;
    if (route === 'GET ') return html(response, shelfPage(shelf));
    if (url.pathname === '/.well-known/oauth-authorization-server') return json(response, metadata(origin));
    if (route === 'GET authorize') return html(response, consentPage(client.name, PERSON.name, url.searchParams));
    if (route === 'POST authorize') return authorize(request, response);
    if (route === 'POST token') return token(request, response);
    if (route === 'POST revoke') return revoke(request, response);
    if (route === 'POST shelf') return put(request, response, url);
    if (!PROGRAM_ROOMS.includes(room)) throw new Refused(404, 'There is nothing at this address.');
    // From here on a program acts for a person.
    await authorisation.server.authenticate(toLibrary(request, url), new Response({}));
    if (route === 'GET me') return json(response, { name: PERSON.name, email: PERSON.email });
    if (route === 'GET folders') return json(response, folderAnswer(id));
    if (route === 'GET files' && !part) return json(response, fileAnswer(fileOf(id)));
    if (route === 'GET files' && part === 'versions' && what === 'content') {
      const version = fileOf(id).versions.find((one) => one.number === Number(number));
      if (!version) throw new Refused(404, 'There is no such version.');
      response.writeHead(200, { 'Content-Type': 'application/octet-stream', 'Content-Length': version.bytes });
      createReadStream(shelf.contentPath(id, version.number))
        .on('error', (error) => response.destroy(error))
        .pipe(response);
      return;
    }
    if (route === 'POST subscriptions') return subscribe(request, response);
    if (route === 'DELETE subscriptions') {
      if (!(await shelf.unsubscribe(id))) throw new Refused(404, 'There is no such subscription.');
      return json(response, {});
    }
    throw new Refused(404, 'There is nothing at this address.');
  }

  async function authorize(request: IncomingMessage, response: ServerResponse): Promise<void> {
    ownPageOnly(request);
    const { answer: said, ...given } = Object.fromEntries(new URLSearchParams(await text(request)));
    const result = new Response({});
    await authorisation.server
      .authorize(
        new Request({
          headers: {},
          method: 'POST',
          query: said === 'allow' ? given : { ...given, allowed: 'false' },
          body: given,
        }),
        result,
        { authenticateHandler: { handle: () => PERSON } },
      )
      .catch((error: unknown) => {
        // Where the library has an address to send the person back to, it has put the error there.
        if (!result.headers?.location) throw error;
      });
    response.writeHead(302, { Location: result.headers!.location }).end();
  }

  async function token(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const result = new Response({});
    const body = Object.fromEntries(new URLSearchParams(await text(request)));
    const asked = new Request({ headers: plainHeaders(request), method: 'POST', query: {}, body });
    await authorisation.server.token(asked, result).catch((error: unknown) => {
      if (!(error instanceof OAuthError)) throw error;
      result.status = error.code;
      result.body = { error: error.name, error_description: error.message };
    });
    response.writeHead(result.status ?? 200, { 'Content-Type': 'application/json', 'Cache-Control': 'no-store' });
    response.end(JSON.stringify(result.body));
  }

  async function revoke(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const body = new URLSearchParams(await text(request));
    const [user, password] = Buffer.from(/^Basic (.+)$/.exec(request.headers.authorization ?? '')?.[1] ?? '', 'base64')
      .toString()
      .split(':');
    const known = await authorisation.revoke(
      body.get('token') ?? '',
      body.get('client_id') ?? decodeURIComponent(user ?? ''),
      body.get('client_secret') ?? decodeURIComponent(password ?? ''),
    );
    if (!known) throw new Refused(401, 'This program is not registered.');
    json(response, {});
  }

  async function put(request: IncomingMessage, response: ServerResponse, url: URL): Promise<void> {
    ownPageOnly(request);
    const name = url.searchParams.get('name') ?? '';
    const folders = (url.searchParams.get('folder') ?? '').split('/').map((part) => part.trim());
    if (!name || name.includes('/')) throw new Refused(400, 'The file has no name.');
    const file = await shelf.add(folders.filter(Boolean), name, PERSON.name, request);
    void announce(shelf, file);
    json(response, fileAnswer(file));
  }

  async function subscribe(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const { file, address, secret } = parseJson(await text(request));
    if (typeof file !== 'string' || typeof secret !== 'string' || typeof address !== 'string' || !URL.canParse(address))
      throw new Refused(400, 'A subscription needs a file, an address and a secret.');
    fileOf(file);
    const { id } = await shelf.subscribe({ file, address, secret });
    json(response, { id });
  }

  function fileOf(id: string): ShelfFile {
    const file = shelf.file(id);
    if (!file) throw new Refused(404, 'There is no such file.');
    return file;
  }

  function folderAnswer(id: string) {
    const folder = shelf.folder(id);
    if (!folder) throw new Refused(404, 'There is no such folder.');
    const named = ({ id: of, name }: { id: string; name: string }) => ({ id: of, name });
    return {
      ...named(folder),
      path: shelf.pathTo(id).map(named),
      folders: shelf.foldersIn(id).map(named),
      files: shelf.filesIn(id).map((file) => ({ ...named(file), version: file.versions.at(-1) })),
    };
  }

  function fileAnswer(file: ShelfFile) {
    return {
      id: file.id,
      name: file.name,
      path: shelf.pathTo(file.folder).map(({ id, name }) => ({ id, name })),
      versions: file.versions,
    };
  }
}

/** Server metadata as RFC 8414 has it. */
function metadata(origin: string) {
  return {
    issuer: origin,
    authorization_endpoint: `${origin}/authorize`,
    token_endpoint: `${origin}/token`,
    revocation_endpoint: `${origin}/revoke`,
    response_types_supported: ['code'],
    grant_types_supported: ['authorization_code', 'refresh_token'],
    code_challenge_methods_supported: ['S256'],
    token_endpoint_auth_methods_supported: ['client_secret_post'],
    scopes_supported: [SCOPE],
  };
}

/** What a person does at the store comes from the store's own pages or from no page at all. */
function ownPageOnly({ headers: { origin, host } }: IncomingMessage): void {
  if (origin !== undefined && !(URL.canParse(origin) && new URL(origin).host === host))
    throw new Refused(403, 'This is done on the store’s own page.');
}

class Refused extends Error {
  override readonly name = 'Refused';

  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

function refuse(response: ServerResponse, error: unknown): void {
  const status = error instanceof Refused ? error.status : error instanceof OAuthError ? error.code : 500;
  const message = error instanceof Error ? error.message : String(error);
  if (status === 500) process.stderr.write(`model store: ${message}\n`);
  if (response.headersSent) return void response.destroy();
  response.writeHead(status, { 'Content-Type': 'application/json' }).end(JSON.stringify({ error: message }));
}

function toLibrary(request: IncomingMessage, url: URL): Request {
  return new Request({
    headers: plainHeaders(request),
    method: request.method ?? 'GET',
    query: Object.fromEntries(url.searchParams),
  });
}

function plainHeaders({ headers }: IncomingMessage): Record<string, string> {
  return Object.fromEntries(Object.entries(headers).map(([name, value]) => [name, String(value)]));
}

function parseJson(content: string): Record<string, unknown> {
  try {
    return JSON.parse(content) as Record<string, unknown>;
  } catch {
    throw new Refused(400, 'The request is not valid JSON.');
  }
}

function json(response: ServerResponse, body: unknown): void {
  response.writeHead(200, { 'Content-Type': 'application/json' }).end(JSON.stringify(body));
}

function html(response: ServerResponse, body: string): void {
  response.writeHead(200, { 'Content-Type': 'text/html; charset=utf-8' }).end(body);
}
