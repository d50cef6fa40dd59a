import type { IncomingMessage } from 'node:http';
import { config } from '@/server/config';

/**
 * Sets `x-forwarded-for` to the one address that a request really comes from, so that nobody escapes the limits on
 * sign-in and codes by writing addresses into the header. Behind a reverse proxy (YURTA_TRUST_PROXY) it is the last
 * entry, which the proxy wrote.
 */
export function setClientAddress(request: IncomingMessage): void {
  const forwarded = [request.headers['x-forwarded-for'] ?? []].flat().join(',').split(',').at(-1)?.trim();
  const direct = request.socket.remoteAddress ?? 'unknown';
  request.headers['x-forwarded-for'] = config().trustProxy && forwarded ? forwarded : direct;
}
