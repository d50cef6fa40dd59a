import { and, eq } from 'drizzle-orm';
import type { OptionChoice } from '@/core/options/option-set';
import { may, roleOfLink, tokenMay, type Action, type LinkRight, type Role, type TokenRight } from '@/core/rights';
import { db } from '@/db/database';
import { accessTokens, guests, links, meetings, members, user } from '@/db/schema';
import { auth } from './auth';
import { keyedHash } from '../config';
import { forbidden, notFound, Problem, signedOut } from '../problems';

/** Who is asking. */
export type Actor =
  | {
      kind: 'user';
      id: string;
      name: string;
      email: string;
      /** For a program with an access token of this account: what the token allows. */
      token?: TokenRight;
    }
  | {
      kind: 'guest';
      id: string;
      name: string;
      projectId: string;
      right: LinkRight;
      meetingId: string | null;
      options: OptionChoice;
    };

export const GUEST_COOKIE = 'yurta_guest';

/**
 * The account or guest behind a request's access token or cookies; null for a stranger. A token goes before cookies, an
 * account before a guest.
 */
export async function actorOf(headers: Headers): Promise<Actor | null> {
  const bearer = /^Bearer (\S+)$/i.exec(headers.get('authorization') ?? '')?.[1];
  if (bearer) return actorByToken(bearer);
  const session = await auth().api.getSession({ headers });
  if (session) return { kind: 'user', id: session.user.id, name: session.user.name, email: session.user.email };
  const secret = guestSecret(headers);
  return secret ? guestBySecret(secret) : null;
}

/** The secret of the guest whose cookie a browser sends; null without one. */
export function guestSecret(headers: Headers): string | null {
  const part = (headers.get('cookie') ?? '').split(/;\s*/).find((one) => one.startsWith(`${GUEST_COOKIE}=`));
  return part?.slice(GUEST_COOKIE.length + 1) || null;
}

export async function requireActor(headers: Headers): Promise<Actor> {
  const actor = await actorOf(headers);
  if (!actor) throw signedOut();
  return actor;
}

async function actorByToken(token: string): Promise<Actor | null> {
  const [row] = await db()
    .select({ token: accessTokens, owner: user })
    .from(accessTokens)
    .innerJoin(user, eq(user.id, accessTokens.userId))
    .where(eq(accessTokens.tokenHash, keyedHash('token', token)));
  if (!row || row.token.revokedAt || row.token.expiresAt < new Date()) return null;
  await db().update(accessTokens).set({ usedAt: new Date() }).where(eq(accessTokens.id, row.token.id));
  const { id, name, email } = row.owner;
  return { kind: 'user', id, name, email, token: row.token.right };
}

async function guestBySecret(secret: string): Promise<Actor | null> {
  const [row] = await db()
    .select({ guest: guests, link: links, meeting: meetings })
    .from(guests)
    .leftJoin(links, eq(links.id, guests.linkId))
    .leftJoin(meetings, eq(meetings.id, guests.meetingId))
    .where(eq(guests.secretHash, keyedHash('guest', secret)));
  if (!row) return null;
  const { guest, link, meeting } = row;
  // A guest lives as long as what let them in: the link until it expires or is revoked, the code until the meeting ends.
  if (link && (link.revokedAt || link.expiresAt < new Date())) return null;
  if (!link && (!meeting || meeting.endedAt)) return null;
  return {
    kind: 'guest',
    id: guest.id,
    name: guest.name,
    projectId: guest.projectId,
    right: link?.right ?? meeting!.right,
    meetingId: guest.meetingId,
    options: link?.options ?? {},
  };
}

/** The actor's role in a project, or null if it has none. */
async function roleIn(actor: Actor, projectId: string): Promise<Role | null> {
  if (actor.kind === 'guest') return actor.projectId === projectId ? roleOfLink(actor.right) : null;
  const [row] = await db()
    .select({ role: members.role })
    .from(members)
    .where(and(eq(members.projectId, projectId), eq(members.userId, actor.id)));
  return row?.role ?? null;
}

/** Whether the actor has any role in a project. */
export async function mayEnter(actor: Actor, projectId: string): Promise<boolean> {
  return (await roleIn(actor, projectId)) !== null;
}

/**
 * The one gate: every service calls it before it reads or writes.
 *
 * @returns the actor's role
 * @throws Problem 404 where the actor may not even know the project, 403 where the role does not allow the action
 */
export async function authorise(actor: Actor, projectId: string, action: Action): Promise<Role> {
  if (!/^[0-9a-f-]{36}$/.test(projectId)) throw notFound('The project');
  const role = await roleIn(actor, projectId);
  if (!role) throw notFound('The project');
  if (!may(role, action)) throw forbidden();
  if (actor.kind === 'user' && actor.token && !tokenMay(actor.token, action))
    throw new Problem(
      403,
      'This access token does not allow that. Nothing was changed. Make one with the right for it.',
    );
  return role;
}

export function requireUser(actor: Actor): asserts actor is Extract<Actor, { kind: 'user' }> {
  if (actor.kind !== 'user') throw new Problem(403, 'This needs an account. Guests can look, measure and comment.');
}

/** For what only the person may do, not a program with their token. */
export function requirePerson(actor: Actor): asserts actor is Extract<Actor, { kind: 'user' }> {
  requireUser(actor);
  if (actor.token) throw new Problem(403, 'This cannot be done with an access token. Sign in in a browser.');
}
