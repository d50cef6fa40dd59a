/** A refusal that a user can understand; becomes an RFC 9457 problem document at the edge. */
export class Problem extends Error {
  override readonly name = 'Problem';

  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

export const notFound = (what: string) =>
  new Problem(404, `${what} was not found. It may have been removed, or the address is wrong.`);
export const forbidden = () =>
  new Problem(403, 'Your access does not allow this. Nothing was changed. Ask the architect who invited you.');
export const signedOut = () =>
  new Problem(401, 'You are not signed in, or your invitation has ended. Sign in, or open your link again.');

export function problemBody(problem: Problem) {
  return { type: 'about:blank', status: problem.status, title: problem.message };
}
