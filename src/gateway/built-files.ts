import { existsSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import send from 'send';

const STATIC = '/_next/static/';
const TYPES: Record<string, string> = { js: 'text/javascript', css: 'text/css' };

/**
 * Serves scripts and styles of the pages as they were packed when the pages were built, to browsers that take Brotli.
 *
 * @param build folder of the built pages
 * @returns whether there is such a file; if not, nothing is answered yet
 */
export function serveBuilt(request: IncomingMessage, response: ServerResponse, build: string): boolean {
  const path = decoded(new URL(request.url ?? '/', 'http://x').pathname);
  const type = TYPES[path.split('.').at(-1)!];
  if (!type || !path.startsWith(STATIC) || path.includes('..')) return false;
  if (!/\bbr\b/.test(String(request.headers['accept-encoding'] ?? ''))) return false;
  const packed = `${path.slice('/_next'.length)}.br`;
  if (!existsSync(join(build, packed))) return false;
  response.setHeader('Content-Type', `${type}; charset=utf-8`);
  response.setHeader('Content-Encoding', 'br');
  response.setHeader('Vary', 'Accept-Encoding');
  send(request, packed, { root: build, immutable: true, maxAge: '1y', acceptRanges: false }).pipe(response);
  return true;
}

function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return path;
  }
}
