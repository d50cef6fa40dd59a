import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { join } from 'node:path';
import next from 'next';
import { closeConnection } from '@/db/database';
import { tellBegun } from '@/server/broadcast';
import { log } from '@/server/log';
import { serveBuilt } from './built-files';
import { setClientAddress } from './client-address';
import { serveHealth } from './health';
import { Metrics } from './metrics';
import { servePublished } from './published-files';
import { isForeign, setSecurityHeaders } from './security-headers';
import { attachSockets } from './sockets';
import { uploadServer, UPLOAD_PATH } from './uploads';
import { watch } from './watch-requests';

const PATIENCE_MS = 1500;

/** One port for everything: pages and HTTP API (Next), live traffic (Socket.IO), uploads (tus), published files. */
async function main(): Promise<void> {
  const port = Number(process.env.PORT ?? 3210);
  const hostname = process.env.HOST ?? '127.0.0.1';
  const home = process.env.YURTA_HOME ?? process.cwd();
  const app = next({ dev: false, dir: home, hostname, port });
  const uploads = uploadServer();

  const answer = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    if (await serveHealth(request, response, metrics)) return;
    setClientAddress(request);
    setSecurityHeaders(request, response);
    const path = request.url ?? '/';
    watch(request, response, metrics);
    if (isForeign(request)) response.writeHead(403).end('This request came from another site and was refused.');
    else if (path === UPLOAD_PATH || path.startsWith(`${UPLOAD_PATH}/`)) await uploads.handle(request, response);
    else if (path.startsWith('/published/')) await servePublished(request, response);
    else if (!serveBuilt(request, response, join(home, '.next'))) await (await pages)(request, response);
  };
  const server = createServer((request, response) => {
    answer(request, response).catch((error: unknown) => {
      log.error({ request: request.headers['x-request-id'], error: String(error) }, 'request failed');
      if (!response.headersSent) response.writeHead(500, { 'Content-Type': 'text/plain' });
      response.end('The server could not answer. Nothing was changed; try again.');
    });
  });
  const live = attachSockets(server);
  void tellBegun();
  const metrics = new Metrics(live);
  const listening = new Promise<void>((ready) => server.listen(port, hostname, ready));
  // Whoever was in a meeting is back before the pages are ready; who asks for a page waits for them.
  const pages = listening.then(() => app.prepare()).then(() => app.getRequestHandler());
  await pages;
  console.log(`listening on http://${hostname}:${port}`);

  const stop = () => {
    // What hangs on to its connection after that has nothing to lose: all that was settled is in the database.
    setTimeout(() => process.exit(0), PATIENCE_MS).unref();
    void live
      .close()
      .then(() => server.closeAllConnections())
      .then(closeConnection)
      .finally(() => process.exit(0));
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
}

await main();
