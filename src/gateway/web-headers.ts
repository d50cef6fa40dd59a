import type { IncomingMessage } from 'node:http';

/** A Node request's headers as the web's Headers, which the services read. */
export function webHeaders(request: IncomingMessage): Headers {
  const headers = new Headers();
  for (const [name, value] of Object.entries(request.headers)) {
    if (value !== undefined) headers.set(name, Array.isArray(value) ? value.join(', ') : value);
  }
  return headers;
}
