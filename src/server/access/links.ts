import { randomBytes } from 'node:crypto';
import { and, asc, desc, eq, gt, isNotNull, isNull, lt, lte, sql } from 'drizzle-orm';
import QRCode from 'qrcode';
import { v7 as uuidv7 } from 'uuid';
import type { LinkDraft } from '@/core/forms/link-schema';
import type { FreshLink, LinkSummary } from '@/core/project/share-link';
import { may, type LinkRight } from '@/core/rights';
import { db } from '@/db/database';
import { guests, linkOpenings, links, members, projects, user, viewpoints } from '@/db/schema';
import { authorise, requireUser, type Actor } from './access';
import { tellProject } from '../broadcast';
import { config, keyedHash } from '../config';
import { sendMail } from '../mail/mail';
import { knownChoice } from '../review/options';
import { viewpointPicture } from '../review/viewpoints';
import { notFound, Problem } from '../problems';
import { hashPassphrase, isPassphrase } from './passphrase';

const DAY = 24 * 60 * 60 * 1000;
export const LINK_DAYS = 30;
/** A link that ends within so many days is told of. */
const WARNED_DAYS = 3;
/** Openings that are listed of each link. */
const OPENINGS = 20;

const MAY: Record<LinkRight, string> = {
  look: 'look at it',
  comment: 'look at it and comment',
  edit: 'look at it, comment and arrange viewpoints',
};

/**
 * Makes a link; its token is returned this once and stored only as a hash. Where an address is given, it is sent there with a
 * picture, what it allows and until when.
 *
 * @throws Problem 409 if it cannot be sent; nothing is made then
 */
export async function createLink(
  actor: Actor,
  projectId: string,
  origin: string,
  draft: Pick<LinkDraft, 'right' | 'label'> & Partial<LinkDraft>,
): Promise<FreshLink> {
  requireUser(actor);
  await authorise(actor, projectId, 'link.manage');
  const { right, label, options = {}, passphrase = '', viewpointId = null, days = LINK_DAYS, sendTo = '' } = draft;
  if (viewpointId) await checkShared(projectId, viewpointId);
  const token = randomBytes(18).toString('base64url');
  const id = uuidv7();
  const url = `${origin}/l/${token}`;
  const expiresAt = new Date(Date.now() + days * DAY);
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
      expiresAt,
      passphraseHash: passphrase ? await hashPassphrase(passphrase) : null,
      viewpointId,
      sentTo: sendTo || null,
    });
  if (sendTo) {
    try {
      await invite(actor, projectId, { url, right, viewpointId, expiresAt, sendTo, hasPassphrase: passphrase !== '' });
    } catch (error) {
      await db().delete(links).where(eq(links.id, id));
      process.stderr.write(`invitation: ${error instanceof Error ? error.message : String(error)}\n`);
      throw new Problem(409, 'The invitation could not be sent: the mail server did not take it. No link was made.');
    }
  }
  return {
    id,
    url,
    sentTo: sendTo || null,
    qr: await QRCode.toString(url, { type: 'svg', margin: 1, color: { dark: '#26231F', light: '#FCFAF5' } }),
  };
}

/** Takes away a link that was made for a mail which did not go out. */
export async function dropLink(id: string): Promise<void> {
  await db().delete(links).where(eq(links.id, id));
}

/** Whether an account may let others into a project by links. */
export async function mayManageLinks(userId: string, projectId: string): Promise<boolean> {
  const [row] = await db()
    .select({ role: members.role })
    .from(members)
    .where(and(eq(members.projectId, projectId), eq(members.userId, userId)));
  return row !== undefined && may(row.role, 'link.manage');
}

/**
 * A link for one person who is asked to do something and has no account; named after their address, with the right to
 * comment. Whoever calls has made sure that `createdBy` may manage links.
 *
 * @param query what it opens with, such as `comment=ID`
 */
export async function linkForAddress(
  projectId: string,
  createdBy: string,
  email: string,
  query: string,
): Promise<{ id: string; url: string }> {
  const token = randomBytes(18).toString('base64url');
  const id = uuidv7();
  await db()
    .insert(links)
    .values({
      id,
      projectId,
      right: 'comment',
      label: email,
      tokenHash: keyedHash('link', token),
      createdBy,
      expiresAt: new Date(Date.now() + LINK_DAYS * DAY),
      sentTo: email,
    });
  return { id, url: `${config().publicUrl}/l/${token}?${query}` };
}

interface Invitation {
  url: string;
  right: LinkRight;
  viewpointId: string | null;
  expiresAt: Date;
  sendTo: string;
  hasPassphrase: boolean;
}

async function invite(actor: Actor, projectId: string, link: Invitation): Promise<void> {
  const { url, right, viewpointId, expiresAt, sendTo, hasPassphrase } = link;
  const [project] = await db().select().from(projects).where(eq(projects.id, projectId));
  const picture = viewpointId
    ? await viewpointPicture(actor, projectId, viewpointId).catch(() => null)
    : await firstPicture(projectId);
  await sendMail({
    to: sendTo,
    subject: `${actor.name} invites you to look at ${project!.name}`,
    text: [
      `${actor.name} invites you to look at ${project!.name}. You may ${MAY[right]}; you need nothing but a browser.`,
      url,
      `The link is open until ${expiresAt.toISOString().slice(0, 10)}.${hasPassphrase ? ' At the door you are asked for a passphrase, which you get from the sender.' : ''}`,
    ].join('\n\n'),
    ...(picture && { picture: { bytes: picture, describes: project!.name } }),
  });
}

/** The picture of the first viewpoint that everybody may see. */
async function firstPicture(projectId: string): Promise<Buffer | null> {
  const [row] = await db()
    .select({ picture: viewpoints.picture })
    .from(viewpoints)
    .where(
      and(
        eq(viewpoints.projectId, projectId),
        eq(viewpoints.isShared, true),
        isNull(viewpoints.deletedAt),
        isNotNull(viewpoints.picture),
      ),
    )
    .orderBy(asc(viewpoints.position))
    .limit(1);
  return row?.picture ?? null;
}

/** @throws Problem 404 unless everybody may see the viewpoint */
async function checkShared(projectId: string, viewpointId: string): Promise<void> {
  const [row] = await db()
    .select({ id: viewpoints.id })
    .from(viewpoints)
    .where(
      and(
        eq(viewpoints.id, viewpointId),
        eq(viewpoints.projectId, projectId),
        eq(viewpoints.isShared, true),
        isNull(viewpoints.deletedAt),
      ),
    );
  if (!row) throw notFound('The viewpoint');
}

export async function listLinks(actor: Actor, projectId: string): Promise<LinkSummary[]> {
  await authorise(actor, projectId, 'link.manage');
  const [rows, openings] = await Promise.all([
    db().select().from(links).where(eq(links.projectId, projectId)).orderBy(desc(links.createdAt)),
    lastOpenings(projectId),
  ]);
  const now = Date.now();
  return rows.map((row) => ({
    id: row.id,
    label: row.label,
    options: row.options,
    right: row.right,
    createdAt: row.createdAt.toISOString(),
    expiresAt: row.expiresAt.toISOString(),
    state: row.revokedAt
      ? 'revoked'
      : row.expiresAt.getTime() < now
        ? 'expired'
        : row.expiresAt.getTime() < now + WARNED_DAYS * DAY
          ? 'ends'
          : 'open',
    hasPassphrase: row.passphraseHash !== null,
    viewpointId: row.viewpointId,
    sentTo: row.sentTo,
    openings: openings.get(row.id) ?? [],
  }));
}

/** By link: who came by it last, and when. */
async function lastOpenings(projectId: string): Promise<Map<string, LinkSummary['openings']>> {
  const ranked = db()
    .select({
      linkId: linkOpenings.linkId,
      guestId: linkOpenings.guestId,
      at: linkOpenings.at,
      rank: sql<number>`row_number() over (partition by ${linkOpenings.linkId} order by ${linkOpenings.at} desc)`.as(
        'rank',
      ),
    })
    .from(linkOpenings)
    .innerJoin(links, eq(links.id, linkOpenings.linkId))
    .where(eq(links.projectId, projectId))
    .as('ranked');
  const rows = await db()
    .select({ linkId: ranked.linkId, name: guests.name, at: ranked.at })
    .from(ranked)
    .innerJoin(guests, eq(guests.id, ranked.guestId))
    .where(lte(ranked.rank, OPENINGS))
    .orderBy(desc(ranked.at));
  const byLink = new Map<string, LinkSummary['openings']>();
  for (const { linkId, name, at } of rows)
    byLink.set(linkId, [...(byLink.get(linkId) ?? []), { name, at: at.toISOString() }]);
  return byLink;
}

export async function revokeLink(actor: Actor, projectId: string, linkId: string): Promise<void> {
  await authorise(actor, projectId, 'link.manage');
  await changeLink(projectId, linkId, { revokedAt: new Date() });
  await tellProject(projectId, 'access-changed');
}

/** Gives a link another thirty days from today. A revoked link stays revoked. */
export async function extendLink(actor: Actor, projectId: string, linkId: string): Promise<void> {
  await authorise(actor, projectId, 'link.manage');
  await changeLink(projectId, linkId, { expiresAt: new Date(Date.now() + LINK_DAYS * DAY), warnedAt: null });
}

async function changeLink(projectId: string, linkId: string, set: Partial<typeof links.$inferInsert>): Promise<void> {
  const changed = await db()
    .update(links)
    .set(set)
    .where(and(eq(links.id, linkId), eq(links.projectId, projectId)))
    .returning({ id: links.id });
  if (changed.length === 0) throw notFound('The link');
}

/**
 * Tells the makers of links that end within three days, each once; where the mail does not go out, the next time again.
 *
 * @returns how many were told
 */
export async function warnOfEndingLinks(): Promise<number> {
  if (!config().smtpUrl) return 0;
  const now = new Date();
  const ending = await db()
    .update(links)
    .set({ warnedAt: now })
    .where(
      and(
        isNull(links.warnedAt),
        isNull(links.revokedAt),
        gt(links.expiresAt, now),
        lt(links.expiresAt, new Date(now.getTime() + WARNED_DAYS * DAY)),
      ),
    )
    .returning();
  let told = 0;
  for (const link of ending) {
    const [row] = await db()
      .select({ email: user.email, person: user.name, project: projects.name })
      .from(user)
      .innerJoin(projects, eq(projects.id, link.projectId))
      .where(eq(user.id, link.createdBy));
    try {
      await sendMail({
        to: row!.email,
        subject: `${row!.project}: the link for ${link.label} ends on ${link.expiresAt.toISOString().slice(0, 10)}`,
        text: [
          `Hello ${row!.person},`,
          `The link for ${link.label} ends on ${link.expiresAt.toISOString().slice(0, 10)}. One press gives it thirty more days:`,
          `${config().publicUrl}/projects/${link.projectId}/prepare#links`,
        ].join('\n\n'),
      });
      told++;
    } catch (error) {
      await db().update(links).set({ warnedAt: null }).where(eq(links.id, link.id));
      process.stderr.write(`link warning: ${error instanceof Error ? error.message : String(error)}\n`);
    }
  }
  return told;
}

/** What the door shows before anybody has entered: only the project's name, and whether words are asked for. */
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

interface Entered {
  projectId: string;
  viewpointId: string | null;
  guestId: string;
  /** For the guest's cookie. */
  secret: string;
}

/**
 * Lets a guest in by link. Somebody who was here by the same link in this browser is the same guest, whatever name they give now.
 *
 * @param before secret of the cookie that the browser has, if any
 * @throws Problem 403 if the passphrase is not the one
 */
export async function enterByLink(
  token: string,
  name: string,
  passphrase = '',
  before: string | null = null,
  email: string | null = null,
): Promise<Entered> {
  const { link } = await openLink(token);
  if (link.passphraseHash && !(await isPassphrase(passphrase, link.passphraseHash)))
    throw new Problem(403, 'That is not the passphrase of this link. Ask whoever sent it.');
  const known = before ? await guestOfLink(before, link.id) : null;
  if (known && (known.name !== name || email))
    await db()
      .update(guests)
      .set({ name, ...(email && { email }) })
      .where(eq(guests.id, known.id));
  const { guestId, secret } = known
    ? { guestId: known.id, secret: before! }
    : await createGuest({ projectId: link.projectId, linkId: link.id, name, email });
  await noteOpening(link.id, guestId);
  return { projectId: link.projectId, viewpointId: link.viewpointId, guestId, secret };
}

/** The guest whom a browser's cookie names, if they came by this link before. */
export async function guestOfLink(secret: string, linkId: string) {
  const [row] = await db()
    .select()
    .from(guests)
    .where(and(eq(guests.secretHash, keyedHash('guest', secret)), eq(guests.linkId, linkId)));
  return row ?? null;
}

/** The link that a guest came by; null of everybody else. */
export async function guestLink(actor: Actor): Promise<string | null> {
  if (actor.kind !== 'guest') return null;
  const [row] = await db().select({ linkId: guests.linkId }).from(guests).where(eq(guests.id, actor.id));
  return row?.linkId ?? null;
}

/** Remembers that a guest came by a link. */
export async function noteOpening(linkId: string, guestId: string): Promise<void> {
  await db().insert(linkOpenings).values({ id: uuidv7(), linkId, guestId });
}

export async function createGuest(guest: {
  projectId: string;
  linkId?: string;
  meetingId?: string;
  name: string;
  email: string | null;
}) {
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
      email: guest.email,
      secretHash: keyedHash('guest', secret),
    });
  return { guestId: id, secret };
}
