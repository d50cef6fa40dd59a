import { and, desc, eq, inArray, sql } from 'drizzle-orm';
import sharp from 'sharp';
import { v7 as uuidv7 } from 'uuid';
import { snapshotFileName, type SnapshotCard } from '@/core/project/snapshot';
import { db } from '@/db/database';
import { projects, snapshots } from '@/db/schema';
import { authorise, requirePerson, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { sendMail } from '../mail/mail';
import { notFound, Problem } from '../problems';
import { checkGuestRoom } from './guest-room';

const MOST_PIXELS = 120_000_000;
/** Bytes of pictures that mail servers take. */
const MOST_MAILED = 20 * 1024 * 1024;

/** The pictures of a project, the newest first. */
export async function listSnapshots(actor: Actor, projectId: string): Promise<SnapshotCard[]> {
  await authorise(actor, projectId, 'project.read');
  const rows = await db()
    .select({
      id: snapshots.id,
      name: snapshots.name,
      group: snapshots.group,
      width: snapshots.width,
      height: snapshots.height,
      bytes: sql<number>`octet_length(${snapshots.picture})`, // the bytes stay where they are
      author: snapshots.authorName,
      at: snapshots.createdAt,
    })
    .from(snapshots)
    .where(eq(snapshots.projectId, projectId))
    .orderBy(desc(snapshots.createdAt));
  return rows.map(({ at, ...row }) => ({ ...row, at: at.toISOString() }));
}

/**
 * Keeps a picture. It is decoded and written anew, so that what is kept is a whole PNG and nothing but a picture.
 *
 * @throws Problem 400 if it is none
 */
export async function keepSnapshot(
  actor: Actor,
  projectId: string,
  { name, group, picture }: { name: string; group: string; picture: Buffer },
  requestKey: string | null = null,
): Promise<string> {
  await authorise(actor, projectId, 'viewpoint.edit');
  const png = await sharp(picture, { limitInputPixels: MOST_PIXELS, failOn: 'error' })
    .png({ compressionLevel: 6 })
    .toBuffer({ resolveWithObject: true })
    .catch(() => {
      throw new Problem(400, 'The picture cannot be read. Nothing was stored; try again.');
    });
  const { width, height } = png.info;
  const [made] = await db().transaction(async (tx) => {
    await checkGuestRoom(tx, actor, png.data.length);
    return tx
      .insert(snapshots)
      .values({
        id: uuidv7(),
        projectId,
        name,
        group,
        picture: png.data,
        width,
        height,
        authorName: actor.name,
        authorId: actor.id,
        requestKey,
      })
      .onConflictDoNothing({ target: [snapshots.projectId, snapshots.requestKey] })
      .returning({ id: snapshots.id });
  });
  if (made) await tellProject(projectId, 'snapshots-changed');
  return made?.id ?? (await madeBefore(projectId, requestKey!));
}

async function madeBefore(projectId: string, requestKey: string): Promise<string> {
  const [row] = await db()
    .select({ id: snapshots.id })
    .from(snapshots)
    .where(and(eq(snapshots.projectId, projectId), eq(snapshots.requestKey, requestKey)));
  return row!.id;
}

export async function changeSnapshot(
  actor: Actor,
  projectId: string,
  id: string,
  change: { name?: string; group?: string },
): Promise<void> {
  await authorise(actor, projectId, 'viewpoint.edit');
  const changed = await db().update(snapshots).set(change).where(theOne(projectId, id)).returning({ id: snapshots.id });
  if (changed.length === 0) throw notFound('The picture');
  await tellProject(projectId, 'snapshots-changed');
}

export async function deleteSnapshot(actor: Actor, projectId: string, id: string): Promise<void> {
  await authorise(actor, projectId, 'viewpoint.edit');
  const gone = await db().delete(snapshots).where(theOne(projectId, id)).returning({ id: snapshots.id });
  if (gone.length === 0) throw notFound('The picture');
  await tellProject(projectId, 'snapshots-changed');
}

export async function snapshotPicture(actor: Actor, projectId: string, id: string): Promise<Buffer> {
  await authorise(actor, projectId, 'project.read');
  const [row] = await db().select({ picture: snapshots.picture }).from(snapshots).where(theOne(projectId, id));
  if (!row) throw notFound('The picture');
  return row.picture;
}

/**
 * Sends pictures by mail, as files.
 *
 * @throws Problem 409 if the mail server does not take them, 413 if they are too many
 */
export async function mailSnapshots(
  actor: Actor,
  projectId: string,
  { ids, to, text }: { ids: string[]; to: string; text: string },
): Promise<void> {
  requirePerson(actor);
  await authorise(actor, projectId, 'viewpoint.edit');
  const rows = await db()
    .select()
    .from(snapshots)
    .where(and(eq(snapshots.projectId, projectId), inArray(snapshots.id, ids)));
  if (rows.length !== new Set(ids).size) throw notFound('One of the pictures');
  if (rows.reduce((sum, { picture }) => sum + picture.length, 0) > MOST_MAILED)
    throw new Problem(413, 'That is more than mail servers take. Send fewer pictures, or smaller ones.');
  const [project] = await db().select().from(projects).where(eq(projects.id, projectId));
  try {
    await sendMail({
      to,
      subject: `${project!.name}: ${rows.length === 1 ? rows[0]!.name : `${rows.length} pictures`}`,
      text: [text, `Sent by ${actor.name} with Yurta.`].filter(Boolean).join('\n\n'),
      files: rows.map((row) => ({ name: snapshotFileName(row), bytes: row.picture, type: 'image/png' })),
    });
  } catch (error) {
    process.stderr.write(`pictures by mail: ${error instanceof Error ? error.message : String(error)}\n`);
    throw new Problem(409, 'The pictures could not be sent: the mail server did not take them.');
  }
}

function theOne(projectId: string, id: string) {
  return and(eq(snapshots.id, id), eq(snapshots.projectId, projectId));
}
