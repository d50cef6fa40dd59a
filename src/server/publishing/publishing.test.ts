import { ALL_ELEMENTS, withoutElements } from '@/core/elements/element-set';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, readdir, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { PlacementChoice } from '@/core/placement/placement';
import { closeConnection, db } from '@/db/database';
import { models, revisions, user } from '@/db/schema';
import { structureIfc } from '@/demo/library/structure';
import type { Actor } from '../access/access';
import { LIVE_CHANNEL, type LiveNotice } from '../broadcast';
import { placeModel } from '../projects/placing';
import { Problem } from '../problems';
import { createProject, stageModels, readProject } from '../projects/projects';
import { enqueue, queue } from './queue';
import { startWorker } from './publish-worker';
import {
  discardRevision,
  findRevision,
  publishPart,
  requestPublication,
  retryPublication,
  decideRevision,
  stopPublication,
} from './publishing';
import { newestSource } from '../projects/take-along';
import { lookAgain, repeatRevision } from './revision-history';
import { listFacts, listFactValues, readFacts } from '../projects/facts';
import { removeLeftovers } from '../storage/leftovers';
import { storagePath } from '../storage/local-folder';
import { revisionKey, sourceKey } from '../storage/storage';
import { removeAbandonedWork, workFolder } from '../storage/work-folder';
import { finishedUpload } from './uploads';
import { settled } from '../test-settled';

const OWNER = 'publisher';
const actor: Actor = { kind: 'user', id: OWNER, name: OWNER, email: 'publisher@example.test' };
let folder: string;
let project: string;
let stopLooking: () => void;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'publishing-'));
  await db().insert(user).values({ id: OWNER, name: OWNER, email: actor.email });
  project = await createProject(actor, 'Queue', '');
  stopLooking = await startWorker();
});
afterAll(async () => {
  stopLooking();
  await (await queue()).stop({ graceful: false });
  await closeConnection();
});

async function removeModel(id: string): Promise<void> {
  await db().delete(models).where(eq(models.id, id));
}

async function file(name: string, content: string): Promise<{ path: string; fileName: string }> {
  const path = join(folder, name);
  await writeFile(path, content);
  return { path, fileName: name };
}

/** All elements but those of some categories. */
const without = (categories: string[]) =>
  withoutElements(
    ALL_ELEMENTS,
    categories.map((value) => [{ is: 'category', value }]),
  );

describe('publishing through the real queue and a process of its own', () => {
  it('tells how far a job is apart from what is published, so that an open Review does not fetch at every step', async () => {
    const heard: string[] = [];
    const listener = new pg.Client({ connectionString: process.env.DATABASE_URL });
    await listener.connect();
    listener.on('notification', ({ payload }) => {
      const notice = JSON.parse(payload!) as LiveNotice;
      if (notice.kind === 'project' && notice.projectId === project) heard.push(notice.event);
    });
    await listener.query(`listen ${LIVE_CHANNEL}`);
    await settled(
      await requestPublication(actor, {
        projectId: project,
        modelName: 'Told',
        discipline: 'Structure',
        note: '',
        ...(await file('told.ifc', structureIfc())),
      }),
    );
    await expect.poll(() => heard.includes('models-changed')).toBe(true);
    await listener.end();
    expect(heard.filter((event) => event === 'jobs-changed').length).toBeGreaterThan(2);
    expect(heard.filter((event) => event === 'models-changed')).toHaveLength(1);
    const made = (await readProject(actor, project)).models.find(({ name }) => name === 'Told')!;
    await removeModel(made.id);
  });

  it('numbers revisions of a model, keeps the source, answers facts, and newest means newest', async () => {
    const first = await settled(
      await requestPublication(actor, {
        projectId: project,
        modelName: 'Frame',
        discipline: 'Structure',
        note: 'one',
        ...(await file('frame.ifc', structureIfc())),
      }),
    );
    expect([first.state, first.number, first.error]).toEqual(['published', 1, null]);
    const second = await settled(
      await requestPublication(actor, {
        projectId: project,
        modelId: first.modelId,
        note: 'two',
        ...(await file('frame2.ifc', structureIfc())),
      }),
    );
    expect(second.number).toBe(2);
    expect((await stageModels(actor, project)).map((model) => [model.name, model.code, model.revisionId])).toEqual([
      ['Frame', 'P02', second.id],
    ]);

    expect(await readFile(storagePath(sourceKey(first.id)), 'utf8')).toBe(structureIfc());
    expect((await readdir(storagePath(revisionKey(first.contentId!)))).sort()).toEqual([
      'elements.json',
      'elements.json.br',
      'plans.json',
      'plans.json.br',
      'preview.png',
      'report.json',
      'tiles',
      'tileset.json',
      'tileset.json.br',
      'triangles.json',
      'triangles.json.br',
    ]);
    const index = JSON.parse(
      await readFile(join(storagePath(revisionKey(first.contentId!)), 'elements.json'), 'utf8'),
    ) as {
      name: string[];
    };
    const facts = await readFacts(actor, first.id, index.name.indexOf('Tie rod'));
    expect(facts.Pset_MemberCommon).toEqual({ Reference: 'S355', LoadBearing: true, FireRating: 'R 60' });
    expect(await readFacts(actor, first.id, 999_999)).toEqual({});
    await expect(readFacts({ ...actor, id: 'stranger' } as Actor, first.id, 0)).rejects.toBeInstanceOf(Problem);
    const rating = (await listFacts(actor, first.id)).find(
      ({ set, name }) => set === 'Pset_MemberCommon' && name === 'FireRating',
    )!;
    const values = await listFactValues(actor, first.id, rating.set, rating.name);
    expect(values.flatMap(({ elements }) => elements)).toHaveLength(rating.elements);
    expect(values.find(({ value }) => value === 'R 60')!.elements).toContain(index.name.indexOf('Tie rod'));
    expect(await listFactValues(actor, first.id, rating.set, 'Nothing')).toEqual([]);
    await expect(listFacts({ ...actor, id: 'stranger' } as Actor, first.id)).rejects.toBeInstanceOf(Problem);
  });

  it('reads a published file once more for somebody who decides anew, also that of one made the newest again', async () => {
    const upload = await file('anew.ifc', structureIfc());
    const first = await settled(
      await requestPublication(actor, { projectId: project, modelName: 'Anew', note: 'beams', ...upload }),
    );
    const repeated = await repeatRevision(actor, first.id);
    const newest = await newestSource(actor, project, first.modelId);
    expect([newest.fileName, newest.bytes.toString()]).toEqual(['anew.ifc', structureIfc()]);
    const looked = await settled(await lookAgain(actor, repeated));
    expect(looked).toMatchObject({ state: 'ready', number: null, note: 'P02 decided anew: P01 again: beams' });
    const knownCategories = Object.keys(looked.report!.counts.byCategory);
    const reveal = { of: without(['Beam']), knownCategories };
    await decideRevision(actor, looked.id, { reveal, publish: true });
    const published = await settled(looked.id);
    expect(published).toMatchObject({ state: 'published', number: 3 });
    expect(published.report!.counts.byCategory.Beam).toBeUndefined();
    expect(first.report!.counts.byCategory.Beam).toBeGreaterThan(0);
    // What was published before stays as it was, with its file.
    expect(await readFile(storagePath(sourceKey(first.id)), 'utf8')).toBe(structureIfc());
    await expect(lookAgain({ ...actor, id: 'stranger' } as Actor, first.id)).rejects.toBeInstanceOf(Problem);
  });

  it('publishes a part as a model of its own, in the same place, and leaves the rest to be decided about', async () => {
    const upload = await file('whole.ifc', structureIfc());
    const looked = await settled(
      await requestPublication(actor, { projectId: project, modelName: 'Whole', note: '', intent: 'look', ...upload }),
    );
    const placement: PlacementChoice = { by: 'hand', offset: [5, 0, 0], turn: 0 };
    await placeModel(actor, project, looked.modelId, placement);
    const knownCategories = Object.keys(looked.report!.counts.byCategory);
    const reveal = { of: without(knownCategories.filter((category) => category !== 'Column')), knownCategories };
    const part = await settled(await publishPart(actor, looked.id, { name: 'Columns', reveal }));
    expect(part).toMatchObject({ state: 'published', number: 1, fileName: 'whole.ifc' });
    expect(Object.keys(part.report!.counts.byCategory)).toEqual(['Column']);
    const { models: all } = await readProject(actor, project);
    expect(all.find(({ id }) => id === part.modelId)).toMatchObject({ name: 'Columns', placement });
    await decideRevision(actor, looked.id, { publish: true });
    expect(await settled(looked.id)).toMatchObject({ state: 'published', report: { counts: { elements: 345 } } });
    await expect(publishPart(actor, looked.id, { name: 'Late' })).rejects.toThrow('not waiting to be looked at');
  });

  it('leaves an upload where it is until the database has it', async () => {
    const upload = await file('kept.ifc', structureIfc());
    const request = { projectId: project, modelName: 'Kept', ...upload };
    // No text of PostgreSQL's holds this character, so that the row is refused when the file has been stored.
    await expect(requestPublication(actor, { ...request, note: '\0' })).rejects.toThrow();
    expect(await readFile(upload.path, 'utf8')).toBe(structureIfc());
    const id = await requestPublication(actor, { ...request, note: '' });
    expect(existsSync(upload.path)).toBe(false);
    expect(await settled(id)).toMatchObject({ state: 'published' });
  });

  it('fails a bad file alone, with its reason, keeps it, and can try again', async () => {
    const id = await requestPublication(actor, {
      projectId: project,
      modelName: 'Cut',
      note: '',
      ...(await file('cut.ifc', structureIfc().slice(0, 3000))),
    });
    const failed = await settled(id);
    expect([failed.state, failed.number]).toEqual(['failed', null]);
    expect(failed.error).toContain('“cut.ifc” breaks off before its end');
    expect(failed.error).toContain('nothing that was published before has changed');
    // The user replaces nothing; the kept file is tried again, and now it is whole.
    await writeFile(storagePath(sourceKey(id)), structureIfc());
    await retryPublication(actor, id);
    expect(await settled(id)).toMatchObject({ state: 'published', number: 1 });
    await expect(retryPublication(actor, id)).rejects.toThrow('Only a failed publication');
    const cut = (await readProject(actor, project)).models.find((model) => model.name === 'Cut')!;
    expect(cut.revisions.map((revision) => revision.code)).toEqual(['P01']);
  });

  it('stops when it is told to, in the queue or in the middle, and can be tried again', async () => {
    const id = await requestPublication(actor, {
      projectId: project,
      modelName: 'Stopped',
      note: '',
      ...(await file('stopped.ifc', structureIfc())),
    });
    // Until the conversion has begun; it takes a second at least.
    for (let i = 0; i < 100 && (await findRevision(id)).state === 'queued'; i++)
      await new Promise((done) => setTimeout(done, 20));
    await expect(stopPublication({ ...actor, id: 'stranger' } as Actor, id)).rejects.toBeInstanceOf(Problem);
    await stopPublication(actor, id);
    const stopped = await findRevision(id);
    expect([stopped.state, stopped.number]).toEqual(['failed', null]);
    expect(stopped.error).toBe(
      'Stopped by publisher. The file is kept; nothing that was published before has changed.',
    );
    await expect(stopPublication(actor, id)).rejects.toThrow('over already');
    // Tried again at once, while the stopped conversion may still be on its way: only the new one counts.
    await retryPublication(actor, id);
    const again = await settled(id);
    expect(again).toMatchObject({ state: 'published', number: 1, error: null });
    expect(existsSync(storagePath(revisionKey(again.contentId!)))).toBe(true);
    await expect(stopPublication(actor, id)).rejects.toThrow('over already');
  });

  it('asks about a scale that was only guessed, and remembers the answer for the next revision', async () => {
    const obj = [0, 1, 2, 3].map((i) => `v ${(i & 1) * 1800} ${(i >> 1) * 900} ${i === 3 ? 700 : 0}`).join('\n');
    const stool = async (name: string, more: object) =>
      settled(
        await requestPublication(actor, {
          projectId: project,
          modelName: 'Stool',
          note: '',
          ...(await file(name, `o Stool\n${obj}\nf 1 2 3\nf 2 4 3\n`)),
          ...more,
        }),
      );
    const first = await stool('stool.obj', {});
    expect([first.state, first.number, first.report!.frame.from]).toEqual(['ready', null, 'proposed']);
    expect((await stageModels(actor, project)).map((model) => model.name)).not.toContain('Stool');
    // In truth it was drawn in centimetres: the file is read anew, then published.
    await decideRevision(actor, first.id, { frame: { metresPerUnit: 0.01, up: 'Z' }, publish: true });
    const published = await settled(first.id);
    expect([published.state, published.number]).toEqual(['published', 1]);
    expect(published.report!.extent![3]).toBeCloseTo(18, 3);
    expect(published.contentId).not.toBe(first.contentId);
    const second = await stool('stool-2.obj', { modelId: first.modelId });
    expect([second.state, second.report!.frame]).toMatchObject(['published', { from: 'chosen', metresPerUnit: 0.01 }]);
  });

  it('lets somebody look first, reveals what they choose, keeps to that rule, and points out what is new', async () => {
    const publish = async (text: string, more: object) =>
      settled(
        await requestPublication(actor, {
          projectId: project,
          modelName: 'Part',
          note: '',
          ...(await file(`part-${Math.random()}.ifc`, text)),
          ...more,
        }),
      );
    const looked = await publish(structureIfc(), { intent: 'look' });
    const categories = Object.keys(looked.report!.counts.byCategory);
    expect([looked.state, looked.report!.counts.elements]).toEqual(['ready', 345]);
    const columns = looked.report!.counts.byCategory.Column!;
    expect(columns).toBeGreaterThan(0);
    await decideRevision(actor, looked.id, {
      reveal: { of: without(['Column']), knownCategories: categories },
      publish: true,
    });
    const { report } = await settled(looked.id);
    expect(report!.counts.elements).toBe(345 - columns);
    expect(report!.withheld).toEqual({ elements: columns, newCategories: [] });

    const grown = structureIfc()
      .replace(/IFCSLAB\(/, 'IFCROOF(')
      .replace(/IFCROOF\(([^;]*),\.[A-Z]+\.\);/, 'IFCROOF($1,$);');
    const next = await publish(grown, { modelId: looked.modelId });
    expect(next.report!.withheld.newCategories).toEqual(['Roof']);
    expect(next.report!.counts.byCategory.Roof).toBeUndefined();
  });

  it('puts aside what was only looked at, without a trace', async () => {
    const looked = await settled(
      await requestPublication(actor, {
        projectId: project,
        modelName: 'Never mind',
        note: '',
        intent: 'look',
        ...(await file('aside.ifc', structureIfc())),
      }),
    );
    await discardRevision(actor, looked.id);
    expect((await readProject(actor, project)).models.map((model) => model.name)).not.toContain('Never mind');
    await vi.waitFor(async () => {
      await removeLeftovers(); // as the worker does every few seconds
      expect(existsSync(storagePath(sourceKey(looked.id)))).toBe(false);
      expect(existsSync(storagePath(revisionKey(looked.contentId!)))).toBe(false);
    });
    await expect(discardRevision(actor, looked.id)).rejects.toThrow('was not found');
    const [published] = (await readProject(actor, project)).models[0]!.revisions;
    await expect(discardRevision(actor, published!.id)).rejects.toThrow('Withdraw this revision instead');
  });

  it('goes on with what a worker left in the middle, once only, and gives up after three times', async () => {
    const left = async (name: string, attempts: number) => {
      const id = await requestPublication(actor, {
        projectId: project,
        modelName: name,
        note: '',
        ...(await file(`${name}.ifc`, structureIfc())),
      });
      await settled(id);
      // As it stands in the database when the worker was killed a minute ago.
      await db()
        .update(revisions)
        .set({ state: 'running', number: null, attempts, beatAt: new Date(Date.now() - 60_000) })
        .where(eq(revisions.id, id));
      return id;
    };
    const one = await left('left', 1);
    const three = await left('left-often', 3);
    expect(await settled(one)).toMatchObject({ state: 'published', number: 1, attempts: 2 });
    const failed = await settled(three);
    expect([failed.state, failed.attempts]).toEqual(['failed', 4]);
    expect(failed.error).toContain('ended 3 times in the middle of “left-often.ifc”');
  });

  it('removes what killed conversions left behind, but not what may still be written', async () => {
    const left = join(workFolder(), 'left-behind');
    await mkdir(left, { recursive: true });
    await writeFile(join(left, 'tileset.json'), '{}');
    await removeAbandonedWork();
    expect(existsSync(left)).toBe(true);
    expect(await removeAbandonedWork(Date.now() + 24 * 60 * 60 * 1000)).toBeGreaterThanOrEqual(1);
    expect(existsSync(left)).toBe(false);
  });

  it('leaves alone what another worker is at', async () => {
    const id = await requestPublication(actor, {
      projectId: project,
      modelName: 'Elsewhere',
      note: '',
      ...(await file('elsewhere.ifc', structureIfc())),
    });
    await settled(id);
    await db()
      .update(revisions)
      .set({ state: 'running', number: null, beatAt: new Date() })
      .where(eq(revisions.id, id));
    await enqueue(id);
    await new Promise((done) => setTimeout(done, 2500));
    expect((await findRevision(id)).state).toBe('running');
    await db().update(revisions).set({ state: 'failed' }).where(eq(revisions.id, id));
  });

  it('knows neither foreign models nor foreign uploads', async () => {
    const other = await createProject(actor, 'Other', '');
    const [model] = (await readProject(actor, project)).models;
    await expect(
      requestPublication(actor, {
        projectId: other,
        modelId: model!.id,
        note: '',
        ...(await file('x.ifc', structureIfc())),
      }),
    ).rejects.toThrow('The model was not found');
    await expect(findRevision('../../etc/passwd')).rejects.toThrow('was not found');
    await expect(finishedUpload(actor, '../secret')).rejects.toThrow('was not found');
    await expect(finishedUpload(actor, 'a'.repeat(32))).rejects.toThrow('was not found');
  });
});
