import { isIPv4, isIPv6 } from 'node:net';
import { createHash } from 'node:crypto';
import { lt } from 'drizzle-orm';
import { RateLimiterPostgres } from 'rate-limiter-flexible';
import { connection, db } from '@/db/database';
import { doorTries } from '@/db/schema';
import { Problem } from '../problems';

/**
 * Slows down guessing at the doors: passwords, codes of meetings, links and passphrases. Only what fails counts, so that a
 * whole office behind one address comes in at once. Counted in the database, for all nodes together.
 */

/** Wrong tries from one address in a minute. */
const TRIES = 20;
/** People who come in from one address in a minute. */
const ENTRIES = 600;
/** Wrong codes in ten minutes, over the whole installation, from which on six digits do not suffice. */
const SIEGE = 100;
/** Wrong passwords of one account before it has to wait, longer with each further one. */
const FREE_PASSWORDS = 5;
const LONGEST_WAIT_SECONDS = 120;

function limiter(keyPrefix: string, points: number, duration: number): RateLimiterPostgres {
  return new RateLimiterPostgres({
    storeClient: connection().pool,
    tableName: 'door_tries',
    tableCreated: true,
    keyPrefix,
    points,
    duration,
  });
}

function makeLimits() {
  return {
    pool: connection().pool,
    tries: limiter('tries', TRIES, 60),
    entries: limiter('entries', ENTRIES, 60),
    codes: limiter('codes', SIEGE, 10 * 60),
    passwords: limiter('passwords', FREE_PASSWORDS, 15 * 60),
    waits: limiter('waits', 1, LONGEST_WAIT_SECONDS),
  };
}
let made: ReturnType<typeof makeLimits> | undefined;

function limits() {
  if (made?.pool !== connection().pool) made = makeLimits();
  return made!;
}

/**
 * Lets somebody try at a door.
 *
 * @param from the address that the request comes from
 * @param work tries; throws a Problem of status 401, 403 or 404 where the door stays closed
 * @param account whose password is tried, if one is
 * @param isCode whether the code of a meeting is tried
 * @param onSiege is told when so many wrong codes are tried that six digits do not suffice any more
 * @throws Problem 429 while there are too many tries
 */
export async function atDoor<Result>(
  from: string,
  work: () => Promise<Result>,
  { account, isCode = false, onSiege }: { account?: string; isCode?: boolean; onSiege?: () => Promise<void> } = {},
): Promise<Result> {
  const { tries, entries, codes, passwords, waits } = limits();
  const address = networkOf(from);
  const named = account && createHash('sha256').update(account.trim().toLowerCase()).digest('base64url');
  const tried = await tries.get(address);
  if (tried && tried.consumedPoints >= TRIES) throw tooMany(tried.msBeforeNext);
  const wait = named ? await waits.get(named) : null;
  if (wait && wait.msBeforeNext > 0) throw tooMany(wait.msBeforeNext);
  try {
    const result = await work();
    if (named) await Promise.all([passwords.delete(named), waits.delete(named)]);
    await entries.consume(address).catch(refuse);
    return result;
  } catch (error) {
    if (!(error instanceof Problem && [401, 403, 404].includes(error.status))) throw error;
    await tries.penalty(address);
    if (isCode && (await codes.penalty('all')).consumedPoints === SIEGE) await onSiege?.();
    if (named) {
      const wrong = (await passwords.penalty(named)).consumedPoints - FREE_PASSWORDS;
      if (wrong >= 0) await waits.block(named, Math.min(2 ** (wrong + 1), LONGEST_WAIT_SECONDS));
    }
    throw error;
  }
}

/** Forgets tries that count no more. Returns how many went. */
export async function forgetTries(now = Date.now()): Promise<number> {
  const gone = await db().delete(doorTries).where(lt(doorTries.expire, now)).returning({ key: doorTries.key });
  return gone.length;
}

/** Whether so many wrong codes are tried just now that six digits could be guessed. */
export async function isSiege(): Promise<boolean> {
  return ((await limits().codes.get('all'))?.consumedPoints ?? 0) >= SIEGE;
}

function refuse(reason: unknown): never {
  if (reason instanceof Error) throw reason;
  throw tooMany((reason as { msBeforeNext: number }).msBeforeNext);
}

function tooMany(milliseconds: number): Problem {
  const seconds = Math.max(1, Math.ceil(milliseconds / 1000));
  return new Problem(
    429,
    `Too many tries. Wait ${seconds < 60 ? `${seconds} seconds` : 'a minute or two'}, then try again.`,
  );
}

/** What counts as one address: of IPv6 the network that one household or office has (/64). */
export function networkOf(address: string): string {
  const plain = address.replace(/^::ffff:(?=\d+\.)/i, '').replace(/%.*$/, '');
  if (isIPv4(plain) || !isIPv6(plain)) return plain;
  const [head = '', tail] = plain.split('::');
  const before = head.split(':').filter(Boolean);
  const after = (tail ?? '').split(':').filter(Boolean);
  const zeros = tail === undefined ? [] : Array<string>(Math.max(0, 8 - before.length - after.length)).fill('0');
  return `${[...before, ...zeros, ...after].slice(0, 4).map((part) => parseInt(part, 16).toString(16)).join(':')}::/64`; // prettier-ignore
}
