import { Problem } from '../problems';

/** What the system says of a disk that is gone, read-only or broken. */
const AWAY = new Set(['EACCES', 'EPERM', 'EROFS', 'EIO', 'ENOTDIR', 'ESTALE', 'ENOTCONN', 'ENXIO', 'EHOSTDOWN']);
const FULL = new Set(['ENOSPC', 'EDQUOT']);
/** What a bucket says that takes no more: S3 has no error of its own for it, and every maker another. */
const BUCKET_FULL = /quota|storagefull|insufficient/i;

/** What a user is told of an error of the store that holds source files and revisions; null for any other error. */
export function storeTrouble(error: unknown): Problem | null {
  if (typeof error !== 'object' || error === null) return null;
  const { code, name } = error as { code?: string; name?: string };
  // Every error of a bucket has this, also where the bucket was not reached.
  if ('$metadata' in error && name !== 'NoSuchKey')
    return BUCKET_FULL.test(name ?? '')
      ? new Problem(
          507,
          'There is no room left in the server’s bucket. Ask the administrator to make room, then try again.',
        )
      : new Problem(
          503,
          'The server’s bucket for models cannot be reached just now. What was published is not lost; ask the administrator, then try again.',
        );
  if (code && FULL.has(code))
    return new Problem(
      507,
      'There is no room left on the server’s disk. Ask the administrator to make room, then try again.',
    );
  if (code && AWAY.has(code))
    return new Problem(
      503,
      'The server’s disk for models cannot be reached just now. What was published is not lost; ask the administrator, then try again.',
    );
  return null;
}
