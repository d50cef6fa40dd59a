import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { config } from '@/server/config';

/**
 * Sets the security headers of every answer. Next finds the nonce for its own scripts in the request's policy header,
 * which therefore is set here and never taken from outside.
 */
export function setSecurityHeaders(request: IncomingMessage, response: ServerResponse): void {
  const nonce = randomBytes(16).toString('base64');
  const policy = [
    "default-src 'self'",
    // The mesh decoder and the 3D engine's workers compile WebAssembly.
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'`,
    "style-src 'self' 'unsafe-inline'", // Emotion writes style elements at run time
    "img-src 'self' data: blob:",
    "connect-src 'self' blob: data:", // its own host by web sockets as well
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
  request.headers['content-security-policy'] = policy;
  response.setHeader('Content-Security-Policy', policy);
  response.setHeader('X-Content-Type-Options', 'nosniff');
  // Where people come by TLS, they come by nothing else.
  if (config().publicUrl.startsWith('https:')) response.setHeader('Strict-Transport-Security', 'max-age=31536000');
  response.setHeader('Referrer-Policy', 'same-origin');
  response.setHeader('Permissions-Policy', 'camera=(), geolocation=(), payment=()');
}

/** A state-changing request must come from our own pages. */
export function isForeign(request: IncomingMessage): boolean {
  if (request.method === 'GET' || request.method === 'HEAD' || request.method === 'OPTIONS') return false;
  return request.headers['sec-fetch-site'] === 'cross-site' || isFromOtherSite(request);
}

/** Whether a page of another site sent a request. Programs do not say where they come from. */
export function isFromOtherSite({ headers: { origin, host } }: IncomingMessage): boolean {
  return origin !== undefined && !(URL.canParse(origin) && new URL(origin).host === host);
}
