import { randomInt } from 'node:crypto';
import getPort from 'get-port';

/** Below what systems give to outgoing connections: from 32 768 on Linux, from 49 152 elsewhere. */
const FIRST = 20_000;
const LAST = 32_000;
const TRIES = 50;

/**
 * A port on 127.0.0.1 that is free and stays so until whoever it is for listens on it, seconds later or started anew: no
 * outgoing connection takes it meanwhile, and two processes that ask at once hardly get the same one.
 *
 * @param wanted is given if it is free
 */
export async function freePort(wanted?: number): Promise<number> {
  const drawn = Array.from({ length: TRIES }, () => randomInt(FIRST, LAST));
  return getPort({ host: '127.0.0.1', port: wanted === undefined ? drawn : [wanted, ...drawn] });
}
