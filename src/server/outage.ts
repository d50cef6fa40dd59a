import { Problem } from './problems';
import { storeTrouble } from './storage/trouble';

/** PostgreSQL's classes and codes for a server that is away, ends or cannot (appendix A of its manual), and those of a connection. */
const DATABASE_AWAY = /^(08...|53[234]..|57P0[1-5]|57014|58...|ECONN(REFUSED|RESET|ABORTED)|EPIPE|ETIMEDOUT)$/;
const DATABASE_FULL = '53100';
/** What the client says itself, without a code. */
const GAVE_UP = /^(Connection terminated|timeout exceeded when trying to connect|Query read timeout|Client was closed)/;

/** What a user is told when store or database cannot be reached or take no more; null for any other error. */
export function outage(error: unknown): Problem | null {
  return storeTrouble(error) ?? databaseTrouble(error);
}

function databaseTrouble(error: unknown): Problem | null {
  if (!(error instanceof Error)) return null;
  const { code } = error as { code?: string };
  if (code === DATABASE_FULL)
    return new Problem(
      507,
      'There is no room left on the disk of the server’s database. Ask the administrator to make room, then try again.',
    );
  if ((code && DATABASE_AWAY.test(code)) || GAVE_UP.test(error.message))
    return new Problem(
      503,
      'The server’s database does not answer just now. What was saved is safe; try again in a moment.',
    );
  // The query that failed is told around what failed in it.
  return databaseTrouble(error.cause);
}
