import { randomUUID } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { config } from '@/server/config';
import { log, plainPath } from '@/server/log';
import type { Metrics } from './metrics';
import { UPLOAD_PATH } from './uploads';

const ID = /^[\w.-]{8,64}$/;

/** Gives a request an id, which its answer and what is written of it carry, and counts and writes down how it ended. */
export function watch(request: IncomingMessage, response: ServerResponse, metrics: Metrics): void {
  const given = [request.headers['x-request-id'] ?? []].flat()[0];
  // A proxy that is trusted has its own name for the request.
  const id = config().trustProxy && given && ID.test(given) ? given : randomUUID();
  request.headers['x-request-id'] = id;
  response.setHeader('X-Request-Id', id);
  const began = performance.now();
  const { method = '', url = '/' } = request;
  response.once('close', () => {
    const seconds = (performance.now() - began) / 1000;
    const kind = kindOf(url);
    metrics.answered(method, response.statusCode, kind, seconds);
    const line = { request: id, method, path: plainPath(url), status: response.statusCode, ms: Math.round(seconds * 1000) }; // prettier-ignore
    if (response.statusCode >= 500) log.warn(line, 'answered');
    else if (kind === 'file') log.debug(line, 'answered');
    else log.info(line, 'answered');
  });
}

function kindOf(url: string): string {
  if (url.startsWith('/api/') || url.startsWith('/bcf/')) return 'api';
  if (url.startsWith('/published/') || url.startsWith('/_next/')) return 'file';
  return url.startsWith(UPLOAD_PATH) ? 'upload' : 'page';
}
