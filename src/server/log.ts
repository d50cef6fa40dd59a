import pino from 'pino';

/**
 * What happens, as one line of JSON each. No line holds what opens a door: addresses are cut where a secret begins, bodies and
 * headers are never written.
 */
export const log = pino({
  level: process.env.YURTA_LOG_LEVEL ?? 'info',
  base: { process: process.pid },
  timestamp: pino.stdTimeFunctions.isoTime,
});

/** A path without what follows its question mark, and without the secret of a link. */
export function plainPath(url: string): string {
  return url.split(/[?#]/)[0]!.replace(/^\/l\/.*/, '/l/…');
}
