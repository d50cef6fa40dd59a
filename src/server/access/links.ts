import { randomBytes } from 'node:crypto';
import { and, desc, eq } from 'drizzle-orm';
import QRCode from 'qrcode';
import { v7 as uuidv7 } from 'uuid';
import type { FreshLink, LinkSummary } from '@/core/project/share-link';
import type { OptionChoice } from '@/core/options/option-set';
import type { LinkRight } from '@/core/rights';
import { db } from '@/db/database';
import { guests, links, projects } from '@/db/schema';
import { authorise, requireUser, type Actor } from './access';
import { tellProject } from '../broadcast';
import { keyedHash } from '../config';
import { knownChoice } from '../review/options';
import { notFound, Problem } from '../problems';

const DAY = 24 * 60 * 60 * 1000;
export const LINK_DAYS = 30;

/**
 * Makes a link; its token is returned this once and stored only as a hash.
 *
 * @param options design options that whoever comes by it cannot switch
 */
export async function createLink(
  actor: Actor,
  projectId: string,
  right: LinkRight,
  label: string,
  origin: string,
  options: OptionChoice = {},
): Promise<FreshLink> {
  requireUser(actor);
  await authorise(actor, projectId, 'link.manage');
  const token = randomBytes(18).toString('base64url');
  const id = uuidv7();
  await db()
    .insert(links)
    .values({
      id,
      projectId,
      right,
      label,
      options: await knownChoice(actor, projectId, options),
      tokenHash: keyedHash('link', token),
      createdBy: actor.id,
      expiresAt: new Date(Date.now() + LINK_DAYS * DAY),
    });
  const url = `${origin}/l/${token}`;
  return {
    id,
    url,
    qr: await QRCode.toString(url, { type: 'svg', margin: 1, color: { dark: '#26231F', light: '#FCFAF5' } }),
  };
}

export async function listLinks(actor: Actor, projectId: string): Promise<LinkSummary[]> {
  await authorise(actor, projectId, 'link.manage');
  const rows = await db().select().from(links).where(eq(links.projectId, projectId)).orderBy(desc(links.createdAt));
  return rows.map((row) => ({
    id: row.id,
    label: row.label,
    options: row.options,
    right: row.right,
    createdAt: row.createdAt.toISOString(),
    expiresAt: row.expiresAt.toISOString(),
    state: row.revokedAt ? 'revoked' : row.expiresAt < new Date() ? 'expired' : 'open',
  }));
}

export async function revokeLink(actor: Actor, projectId: string, linkId: string): Promise<void> {
  await authorise(actor, projectId, 'link.manage');
  await changeLink(projectId, linkId, { revokedAt: new Date() });
  await tellProject(projectId, 'access-changed');
}

/** Gives a link another thirty days from today. A revoked link stays revoked. */
export async function extendLink(actor: Actor, projectId: string, linkId: string): Promise<void> {
  await authorise(actor, projectId, 'link.manage');
  await changeLink(projectId, linkId, { expiresAt: new Date(Date.now() + LINK_DAYS * DAY) });
}

async function changeLink(projectId: string, linkId: string, set: Partial<typeof links.$inferInsert>): Promise<void> {
  const changed = await db()
    .update(links)
    .set(set)
    .where(and(eq(links.id, linkId), eq(links.projectId, projectId)))
    .returning({ id: links.id });
  if (changed.length === 0) throw notFound('The link');
}

/** What the door shows before anybody has entered: only the project's name. */
export async function openLink(token: string) {
  const [row] = await db()
    .select({ link: links, project: projects })
    .from(links)
    .innerJoin(projects, eq(projects.id, links.projectId))
    .where(eq(links.tokenHash, keyedHash('link', token)));
  if (!row)
    throw new Problem(404, 'This link is not known. Check that the whole address was copied, or ask for a new one.');
  if (row.link.revokedAt) throw new Problem(410, 'This link was withdrawn by the architect. Ask for a new one.');
  if (row.link.expiresAt < new Date())
    throw new Problem(410, 'This link has expired. The architect can extend it; then the same address works again.');
  return row;
}

/** Lets a guest in by link. Returns the secret for the guest's cookie. */
export async function enterByLink(token: string, name: string) {
  const { link } = await openLink(token);
  return { projectId: link.projectId, ...(await createGuest({ projectId: link.projectId, linkId: link.id, name })) };
}

export async function createGuest(guest: { projectId: string; linkId?: string; meetingId?: string; name: string }) {
  const secret = randomBytes(24).toString('base64url');
  const id = uuidv7();
  await db()
    .insert(guests)
    .values({
      id,
      projectId: guest.projectId,
      linkId: guest.linkId,
      meetingId: guest.meetingId,
      name: guest.name,
      secretHash: keyedHash('guest', secret),
    });
  return { guestId: id, secret };
}
