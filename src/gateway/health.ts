import { timingSafeEqual } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { connection } from '@/db/database';
import { config } from '@/server/config';
import type { Metrics } from './metrics';

/** A database that has not answered after so long is not there. */
const PATIENCE_MS = 2000;

/**
 * Answers those who watch over the node: `/healthz` says that it lives, `/readyz` whether it can serve (its database answers),
 * `/metrics` its figures, to this machine and to whoever has the token for it.
 *
 * @returns false if the request asks for something else; then nothing was answered
 */
export async function serveHealth(
  request: IncomingMessage,
  response: ServerResponse,
  metrics: Metrics,
): Promise<boolean> {
  const path = request.url?.split('?')[0];
  if (path === '/healthz') answer(response, 200, { state: 'alive' });
  else if (path === '/readyz') {
    const database = await isAnswering();
    answer(response, database ? 200 : 503, { state: database ? 'ready' : 'not ready', database });
  } else if (path === '/metrics') {
    if (!mayMeasure(request)) answer(response, 403, { state: 'refused' });
    else {
      const { type, text } = await metrics.text();
      response.writeHead(200, { 'Content-Type': type, 'Cache-Control': 'no-store' }).end(text);
    }
  } else return false;
  return true;
}

function answer(response: ServerResponse, status: number, body: object): void {
  response
    .writeHead(status, { 'Content-Type': 'application/json', 'Cache-Control': 'no-store' })
    .end(JSON.stringify(body));
}

async function isAnswering(): Promise<boolean> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<boolean>((done) => (timer = setTimeout(() => done(false), PATIENCE_MS)));
  const answered = connection()
    .pool.query('select 1')
    .then(
      () => true,
      () => false,
    );
  return Promise.race([answered, late]).finally(() => clearTimeout(timer));
}

function mayMeasure(request: IncomingMessage): boolean {
  const { metricsToken } = config();
  const given = /^Bearer (\S+)$/i.exec(request.headers.authorization ?? '')?.[1];
  if (metricsToken && given) {
    const [a, b] = [Buffer.from(given), Buffer.from(metricsToken)];
    return a.length === b.length && timingSafeEqual(a, b);
  }
  // A proxy on this machine passes on what comes from outside.
  const isPassedOn = config().trustProxy;
  return !isPassedOn && ['127.0.0.1', '::1', '::ffff:127.0.0.1'].includes(request.socket.remoteAddress ?? '');
}
