import { mkdtemp, readdir, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeConnection, db } from '@/db/database';
import { revisions, user } from '@/db/schema';
import { structureIfc } from '@/demo/library/structure';
import type { Actor } from './access';
import { Problem } from './problems';
import { createProject, newestRevisions, readProject } from './projects';
import { findRevision, queue, readFacts, requestPublication, retryPublication, startWorker } from './publishing';
import { revisionKey, sourceKey, storagePath } from './storage';
import { finishedUpload } from './uploads';

const OWNER = 'publisher';
const actor: Actor = { kind: 'user', id: OWNER, name: OWNER, email: 'publisher@example.test' };
let folder: string;
let project: string;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'publishing-'));
  await db().insert(user).values({ id: OWNER, name: OWNER, email: actor.email });
  project = await createProject(actor, 'Queue', '');
  await startWorker();
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
  await closeConnection();
});

async function file(name: string, content: string): Promise<{ path: string; fileName: string }> {
  const path = join(folder, name);
  await writeFile(path, content);
  return { path, fileName: name };
}

async function settled(id: string) {
  for (let i = 0; i < 200; i++) {
    const [row] = await db().select().from(revisions).where(eq(revisions.id, id));
    if (row!.state === 'published' || row!.state === 'failed') return row!;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error('the job did not end');
}

describe('publishing through the real queue and a process of its own', () => {
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
    expect((await newestRevisions(actor, project)).map((model) => [model.name, model.code, model.revisionId])).toEqual([
      ['Frame', 'P02', second.id],
    ]);

    expect(await readFile(storagePath(sourceKey(first.id)), 'utf8')).toBe(structureIfc());
    expect((await readdir(storagePath(revisionKey(first.id)))).sort()).toEqual([
      'elements.json',
      'elements.json.br',
      'preview.png',
      'report.json',
      'tiles',
      'tileset.json',
      'tileset.json.br',
    ]);
    const index = JSON.parse(await readFile(join(storagePath(revisionKey(first.id)), 'elements.json'), 'utf8')) as {
      name: string[];
    };
    const facts = await readFacts(actor, first.id, index.name.indexOf('Tie rod'));
    expect(facts.Pset_MemberCommon).toEqual({ Reference: 'S355', LoadBearing: true, FireRating: 'R 60' });
    expect(await readFacts(actor, first.id, 999_999)).toEqual({});
    await expect(readFacts({ ...actor, id: 'stranger' } as Actor, first.id, 0)).rejects.toBeInstanceOf(Problem);
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
    expect(() => storagePath('../secret')).toThrow(RangeError);
  });
});
