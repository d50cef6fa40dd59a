import { mkdtemp, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PublishReport } from '@/core/project/publish-report';
import { closeConnection, db } from '@/db/database';
import { models, notices, revisions, user } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import { structureIfc } from '@/demo/library/structure';
import { startMailServer } from '@/stand-ins/mail-server';
import type { Actor } from '../access/access';
import { listJobs } from './jobs';
import { listNotices, mailNotice, markSeen, notify } from '../mail/notices';
import { listOutbox } from '../mail/outbox';
import { addMember, createProject } from '../projects/projects';
import { startWorker } from './publish-worker';
import { requestPublication, stopPublication } from './publishing';
import { queue } from './queue';
import { timesLeft } from './time-left';

let folder: string;
let mail: Awaited<ReturnType<typeof startMailServer>>;
let ines: Actor;
let mikko: Actor;
let stranger: Actor;
let project: string;
let model: string;

async function account(name: string): Promise<Actor> {
  const id = name.toLowerCase();
  const email = `${id}@example.test`;
  await db().insert(user).values({ id, name, email });
  return { kind: 'user', id, name, email };
}

/** A revision as it stands in the table, without a file. */
async function standing(values: Partial<typeof revisions.$inferInsert>): Promise<string> {
  const id = uuidv7();
  await db()
    .insert(revisions)
    .values({
      id,
      projectId: project,
      modelId: model,
      state: 'queued',
      fileName: 'house.ifc',
      fileBytes: 10e6,
      authorId: ines.id,
      attempts: 1,
      ...values,
    });
  return id;
}

beforeAll(async () => {
  await useOwnDatabase('jobs');
  folder = await mkdtemp(join(tmpdir(), 'jobs-'));
  mail = await startMailServer(join(folder, 'outbox'), 0);
  process.env.YURTA_SMTP_URL = `smtp://127.0.0.1:${mail.port}`;
  process.env.YURTA_OUTBOX = join(folder, 'outbox');
  process.env.YURTA_MAIL_AFTER_SECONDS = '1';
  ines = await account('Ines');
  mikko = await account('Mikko');
  stranger = await account('Someone');
  project = await createProject(ines, 'Annexe', '');
  await addMember(project, mikko.id, 'designer');
  model = uuidv7();
  await db().insert(models).values({ id: model, projectId: project, name: 'House', discipline: 'Architecture' });
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
  await mail.close();
  await closeConnection();
});

describe('the estimate of the time left', () => {
  it('goes by past jobs with such files on the same machine', async () => {
    const at = (seconds: number) => new Date(Date.now() + seconds * 1000);
    const past = (worker: string, tiling: number) =>
      standing({
        state: 'published',
        worker,
        startedAt: at(-100),
        endedAt: at(-100 + 20 + tiling),
        report: { time: { reading: 10_000, tiling: tiling * 1000 } } as unknown as PublishReport,
      });
    // Here 10 s of reading, 20 s of tiling and 10 s beside; on the other machine tiling takes ten times as long.
    const written = [await past('here#1', 20), await past('there#1', 200)];
    const running = await standing({
      state: 'running',
      worker: 'here#2',
      phase: 'tiling',
      startedAt: at(-10),
      phaseAt: at(0),
    });
    const waiting = await standing({ queuedAt: at(1) });
    const last = await standing({ queuedAt: at(2), fileBytes: 20e6 });
    const other = await standing({ queuedAt: at(3), fileName: 'bust.stl' });
    const left = await timesLeft();
    expect(left.get(running)).toBeGreaterThanOrEqual(29);
    expect(left.get(running)).toBeLessThanOrEqual(30);
    expect(left.get(waiting)).toBe(left.get(running));
    // Before it is also the waiting one: the middle of what both machines took.
    expect(left.get(last)! - left.get(waiting)!).toBeCloseTo(10 + 110 + 10, 0);
    expect(left.get(other)! - left.get(last)!).toBeCloseTo(2 * 130, 0);
    // Nothing was ever published that ends in .stl: what is behind it is unknown.
    const behind = await standing({ queuedAt: at(4) });
    expect((await timesLeft()).has(behind)).toBe(false);
    for (const id of [...written, running, waiting, last, other, behind])
      await db().delete(revisions).where(eq(revisions.id, id));
  });
});

describe('the list of jobs', () => {
  it('shows what runs and what is over, page by page, and nothing of projects of others', async () => {
    const made: string[] = [];
    for (let i = 0; i < 53; i++)
      made.push(
        await standing({
          queuedAt: new Date(Date.UTC(2026, 0, 1, 0, i)),
          state: i % 2 === 0 ? 'failed' : 'published',
          error: i % 2 === 0 ? 'It was cut short.' : null,
          startedAt: new Date(Date.UTC(2026, 0, 1, 0, i)),
          endedAt: new Date(Date.UTC(2026, 0, 1, 0, i, 7)),
        }),
      );
    const first = await listJobs(mikko, 'all');
    expect(first.jobs.map(({ id }) => id)).toEqual(made.slice(3).reverse());
    expect(first.jobs[0]).toMatchObject({ modelName: 'House', author: 'Ines', took: 7, state: 'failed', worker: null });
    const second = await listJobs(mikko, 'all', new Date(first.next!));
    expect(second.jobs.map(({ id }) => id)).toEqual(made.slice(0, 3).reverse());
    expect(second.next).toBeNull();
    const failed = await listJobs(ines, 'failed');
    expect(failed.jobs).toHaveLength(27);
    expect(failed.jobs.every(({ error }) => error === 'It was cut short.')).toBe(true);
    expect((await listJobs(ines, 'going-on')).jobs).toEqual([]);
    expect(await listJobs(stranger, 'all')).toEqual({ jobs: [], next: null });
    const guest = {
      kind: 'guest',
      id: 'g',
      name: 'Bo',
      projectId: project,
      right: 'look',
      meetingId: null,
      options: {},
    } as const;
    await expect(listJobs(guest, 'all')).rejects.toThrow('needs an account');
    await db().delete(revisions).where(eq(revisions.projectId, project));
  });
});

describe('a notice', () => {
  it('lies under the bell of whom it is for until it is seen, and is mailed only if it was not', async () => {
    const id = await standing({ state: 'published', number: 4 });
    await notify(ines.id, { id, projectId: project }, 'published');
    const [notice] = await listNotices(ines);
    expect(notice).toMatchObject({ kind: 'published', code: 'P04', modelName: 'House', seen: false });
    expect(await listNotices(mikko)).toEqual([]);
    await markSeen(mikko, project); // somebody else's bell
    await mailNotice(notice!.id);
    await mailNotice(notice!.id); // a repeated job
    const [letter, ...others] = await listOutbox(ines);
    expect(others).toEqual([]);
    expect(letter).toMatchObject({
      to: ines.kind === 'user' && ines.email,
      subject: 'Annexe: House is published as P04.',
    });
    expect(letter!.text).toContain(`/projects/${project}/prepare\n`);
    expect(await listOutbox(mikko)).toEqual([]);

    await notify(ines.id, { id, projectId: project }, 'failed', 'It was cut short.');
    await markSeen(ines, project);
    expect((await listNotices(ines)).map(({ seen }) => seen)).toEqual([true, true]);
    await mailNotice((await listNotices(ines))[0]!.id);
    expect(await listOutbox(ines)).toHaveLength(1);
  });

  it('comes by mail through the queue when a publication ends, well or not', async () => {
    const stop = await startWorker();
    const path = join(folder, 'cut.ifc');
    await writeFile(path, structureIfc().slice(0, 3000));
    const id = await requestPublication(mikko, {
      projectId: project,
      modelId: model,
      note: '',
      fileName: 'cut.ifc',
      path,
    });
    for (let i = 0; i < 200 && (await listOutbox(mikko)).length === 0; i++)
      await new Promise((done) => setTimeout(done, 100));
    stop();
    const [letter] = await listOutbox(mikko);
    expect(letter!.subject).toBe('Annexe: House: “cut.ifc” was not published.');
    expect(letter!.text).toContain('breaks off before its end');
    const [row] = await db().select().from(notices).where(eq(notices.revisionId, id));
    expect(row!.mailedAt).not.toBeNull();
  });

  it('tells the author when somebody else stopped the publication', async () => {
    const id = await standing({ authorId: mikko.id });
    await stopPublication(ines, id);
    const [notice] = await listNotices(mikko);
    expect(notice).toMatchObject({ revisionId: id, kind: 'failed' });
    expect(notice!.reason).toContain('Stopped by Ines');
  });
});
