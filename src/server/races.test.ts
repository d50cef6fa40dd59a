import { mkdir, readdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { and, asc, eq, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { PublishReport } from '@/core/project/publish-report';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { db } from '@/db/database';
import { meetings, models, revisions } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import type { Actor } from './access/access';
import { createProject } from './projects/projects';
import { decideRevision, discardRevision, retryPublication } from './publishing/publishing';
import { queue } from './publishing/queue';
import { uploadFolder, withUpload } from './publishing/uploads';
import { settle } from './review/meeting-log';
import { sayPresent } from './review/meeting-presence';
import { endForgottenMeetings, enterByCode, readMeeting, startMeeting } from './review/meetings';
import { listViewpoints, moveViewpoint, saveViewpoint } from './review/viewpoints';
import { testAccount } from './test-people';

/** What reads, decides and writes is done by several at once; each as often as it takes to meet in the middle. */
const ROUNDS = 20;

let lead: Actor;
let project: string;

beforeAll(async () => {
  await useOwnDatabase('races');
  lead = (await testAccount('Lead')).actor;
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
});
beforeEach(async () => {
  project = await createProject(lead, 'Races', '');
});

const rounds = async (one: (round: number) => Promise<void>) => {
  for (let round = 0; round < ROUNDS; round++) await one(round);
};

/** How many of several things that are done at once were done; the others were refused, for a reason. */
async function doneOf(work: Promise<unknown>[]): Promise<number> {
  const ends = await Promise.allSettled(work);
  for (const end of ends)
    if (end.status === 'rejected') expect([404, 409]).toContain((end.reason as { status?: number }).status);
  return ends.filter(({ status }) => status === 'fulfilled').length;
}

describe('several at once', () => {
  it('begin one meeting, and all are in it', () =>
    rounds(async (round) => {
      const started = await Promise.all(
        Array.from({ length: 12 }, () => startMeeting(lead, project, `Round ${round}`)),
      );
      const running = await db()
        .select({ id: meetings.id })
        .from(meetings)
        .where(and(eq(meetings.projectId, project), isNull(meetings.endedAt)));
      expect(running).toHaveLength(1);
      expect(new Set(started.map(({ id }) => id))).toEqual(new Set([running[0]!.id]));
      await settle(running[0]!.id, null, { type: 'ended' });
    }));

  it('move viewpoints, and every move counts', async () => {
    const [a, b, c, d] = await Promise.all(
      ['a', 'b', 'c', 'd'].map((name) => saveViewpoint(lead, project, name, INITIAL_VIEW, null)),
    );
    await rounds(async () => {
      for (const [index, id] of [a, b, c, d].entries()) await moveViewpoint(lead, project, id!, index);
      // In whatever order they come, the first two end up at the other end.
      await Promise.all([moveViewpoint(lead, project, a!, 3), moveViewpoint(lead, project, b!, 3)]);
      const order = (await listViewpoints(lead, project)).map(({ name }) => name);
      expect(order.slice(0, 2)).toEqual(['c', 'd']);
    });
  });

  it('save viewpoints, and each has its own place', () =>
    rounds(async () => {
      const own = await createProject(lead, 'Places', '');
      await Promise.all(Array.from({ length: 4 }, (_, i) => saveViewpoint(lead, own, String(i), INITIAL_VIEW, null)));
      const places = await db().query.viewpoints.findMany({ where: (one) => eq(one.projectId, own) });
      expect(places.map(({ position }) => position).sort()).toEqual([1, 2, 3, 4]);
    }));

  it('publish an upload, and one has it; where that fails, it can be tried again', async () => {
    await mkdir(uploadFolder(), { recursive: true });
    await rounds(async (round) => {
      const id = (round + 1).toString(16).padStart(32, '0');
      await writeFile(join(uploadFolder(), id), 'felt');
      await writeFile(
        join(uploadFolder(), `${id}.json`),
        JSON.stringify({ size: 4, metadata: { owner: lead.id, filename: 'a.ifc' } }),
      );
      let used = 0;
      await expect(withUpload(lead, id, () => Promise.reject(new Error('no room')))).rejects.toThrow('no room');
      const use = () => withUpload(lead, id, () => Promise.resolve(used++));
      expect(await doneOf([use(), use(), use(), use()])).toBe(1);
      expect(used).toBe(1);
      await rm(join(uploadFolder(), id));
    });
    expect((await readdir(uploadFolder())).filter((name) => name.endsWith('.used'))).toEqual([]);
  });

  it('decide on a revision, and it is published once, with the first number', () =>
    rounds(async () => {
      const id = await revision('ready');
      const publish = () => decideRevision(lead, id, { publish: true });
      expect(await doneOf([publish(), publish(), publish(), publish()])).toBe(1);
      const [after] = await db().select().from(revisions).where(eq(revisions.id, id));
      expect([after!.state, after!.number]).toEqual(['published', 1]);
    }));

  it('publish and put aside the same revision, and one of both is done', () =>
    rounds(async () => {
      const id = await revision('ready');
      expect(await doneOf([decideRevision(lead, id, { publish: true }), discardRevision(lead, id)])).toBe(1);
    }));

  it('try a failed publication again, and it is queued once', () =>
    rounds(async () => {
      const id = await revision('failed');
      expect(await doneOf([retryPublication(lead, id), retryPublication(lead, id), discardRevision(lead, id)])).toBe(1);
    }));

  it('make revisions of a model that are numbered without a gap', () =>
    rounds(async () => {
      const modelId = uuidv7();
      const ids = [];
      for (let i = 0; i < 3; i++) ids.push(await revision('ready', modelId));
      await Promise.all(ids.map((id) => decideRevision(lead, id, { publish: true })));
      const made = await db().select().from(revisions).where(eq(revisions.modelId, modelId)).orderBy(asc(revisions.number)); // prettier-ignore
      expect(made.map(({ number }) => number)).toEqual([1, 2, 3]);
    }));
});

describe('a meeting that everybody has left', () => {
  it('ends after some hours, and its code with it; one in which somebody is does not', async () => {
    const [left, held] = [project, await createProject(lead, 'Held', '')];
    const forgotten = await startMeeting(lead, left, 'Left');
    const going = await startMeeting(lead, held, 'Held');
    const later = Date.now() + 5 * 60 * 60_000;
    await sayPresent(uuidv7(), [{ meetingId: going.id, participant: lead.id }]);
    expect(await endForgottenMeetings()).toBe(0);
    expect(await endForgottenMeetings(later)).toBe(1);
    expect((await readMeeting(forgotten.id)).meeting.endedAt).not.toBeNull();
    expect((await readMeeting(going.id)).meeting.endedAt).toBeNull();
    await expect(enterByCode(forgotten.code!, 'Bo')).rejects.toMatchObject({ status: 404 });
  });
});

async function revision(state: 'ready' | 'failed', modelId = uuidv7()): Promise<string> {
  const id = uuidv7();
  await db()
    .insert(models)
    .values({ id: modelId, projectId: project, name: 'House', discipline: 'Architecture' })
    .onConflictDoNothing();
  const report = {
    frame: { from: 'file', metresPerUnit: 1, up: 'z' },
    findings: [],
  } as unknown as PublishReport;
  await db().insert(revisions).values({ id, projectId: project, modelId, state, fileName: 'a.ifc', fileBytes: 1, authorId: lead.id, contentId: uuidv7(), report }); // prettier-ignore
  return id;
}
