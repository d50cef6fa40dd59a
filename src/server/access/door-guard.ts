import { isIPv4, isIPv6 } from 'node:net';
import { createHash } from 'node:crypto';
import { lt } from 'drizzle-orm';
import pLimit, { type LimitFunction } from 'p-limit';
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

/** What is tried at a door. */
export interface Try<Result> {
  /** Whose password is tried, if one is. */
  account?: string;
  /** A code of a meeting is tried; called when so many wrong ones are that six digits do not suffice any more. */
  onSiege?: () => Promise<void>;
  /** Whether the door stays closed although nothing was thrown. */
  isRefused?: (result: Result) => boolean;
}

/** Who is at a door just now, by address: a few at a time, so that guesses sent all at once are counted as well. */
const queues = new Map<string, LimitFunction>();

/**
 * Lets somebody try at a door.
 *
 * @param from the address that the request comes from
 * @param work tries; throws a Problem of status 401, 403 or 404 where the door stays closed
 * @throws Problem 429 while there are too many tries
 */
export async function atDoor<Result>(
  from: string,
  work: () => Promise<Result>,
  what: Try<Result> = {},
): Promise<Result> {
  const address = networkOf(from);
  const queue = queues.get(address) ?? pLimit(TRIES);
  queues.set(address, queue);
  try {
    if (queue.pendingCount >= ENTRIES) throw tooMany(60_000);
    return await queue(() => tryOnce(address, work, what));
  } finally {
    if (queue.activeCount + queue.pendingCount === 0) queues.delete(address);
  }
}

async function tryOnce<Result>(
  address: string,
  work: () => Promise<Result>,
  { account, onSiege, isRefused }: Try<Result>,
): Promise<Result> {
  const { tries, entries, codes } = limits();
  const tried = await tries.get(address);
  if (tried && tried.consumedPoints >= TRIES) throw tooMany(tried.msBeforeNext);
  const wrong = account === undefined ? null : await tryPassword(account);
  const closed = async () => {
    await tries.penalty(address);
    if (onSiege && (await codes.penalty('all')).consumedPoints === SIEGE) await onSiege();
    await wrong?.();
  };
  let result: Result;
  try {
    result = await work();
  } catch (error) {
    if (error instanceof Problem && [401, 403, 404].includes(error.status)) await closed();
    throw error;
  }
  if (isRefused?.(result)) await closed();
  else {
    if (account !== undefined) await forgetPasswords(account);
    await entries.consume(address).catch(refuse);
  }
  return result;
}

/**
 * Counts a password before it is tried, so that of many that are tried at once no more than the first few are.
 *
 * @returns to be called if it was wrong
 * @throws Problem 429 while the account has to wait
 */
async function tryPassword(account: string): Promise<() => Promise<void>> {
  const { passwords, waits } = limits();
  const name = nameOf(account);
  const wait = await waits.get(name);
  if (wait && wait.msBeforeNext > 0) throw tooMany(wait.msBeforeNext);
  const over = (await passwords.penalty(name)).consumedPoints - FREE_PASSWORDS;
  const seconds = Math.min(2 ** (over + 1), LONGEST_WAIT_SECONDS);
  if (over > 0)
    // One at a time from here on.
    await waits.consume(name, 1, { customDuration: seconds }).catch(async (reason: unknown) => {
      await passwords.reward(name);
      refuse(reason);
    });
  return async () => {
    if (over >= 0) await waits.block(name, seconds);
  };
}

async function forgetPasswords(account: string): Promise<void> {
  const { passwords, waits } = limits();
  const name = nameOf(account);
  await Promise.all([passwords.delete(name), waits.delete(name)]);
}

/** Under what an account is counted: addresses do not stand in the table of tries. */
function nameOf(account: string): string {
  return createHash('sha256').update(account.trim().toLowerCase()).digest('base64url');
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
