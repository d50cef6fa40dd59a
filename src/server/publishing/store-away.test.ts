import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, rename, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { closeConnection } from '@/db/database';
import { useOwnDatabase } from '@/db/test-database';
import { structureIfc } from '@/demo/library/structure';
import { POST as publishRoute } from '@/app/api/projects/[id]/publications/route';
import { createProject, stageModels } from '../projects/projects';
import { startWorker } from './publish-worker';
import { requestPublication, retryPublication } from './publishing';
import { queue } from './queue';
import { storagePath } from '../storage/local-folder';
import { revisionKey, sourceKey } from '../storage/storage';
import { workFolder } from '../storage/work-folder';
import { testAccount, type TestPerson } from '../test-people';
import { uploadFolder } from './uploads';
import { settled } from '../test-settled';

// A disk that is pulled out is played by files where its folders were: whatever is asked of them fails.

/** Seconds; a store that is away is tried several times. */
const PATIENCE = 30;
let lead: TestPerson;
let project: string;
let stopLooking: () => void;
let data: string;

beforeAll(async () => {
  await useOwnDatabase('store_away');
  data = await mkdtemp(join(tmpdir(), 'store-away-'));
  process.env.YURTA_DATA = data;
  lead = await testAccount('Keeper');
  project = await createProject(lead.actor, 'Unplugged', '');
  stopLooking = await startWorker();
});
afterAll(async () => {
  stopLooking();
  await (await queue()).stop({ graceful: false });
  await closeConnection();
  await rm(data, { recursive: true });
});

async function unplug(folder: string): Promise<() => Promise<void>> {
  const [at, aside] = [join(data, folder), join(data, `${folder}-unplugged`)];
  await mkdir(at, { recursive: true });
  await rename(at, aside);
  await writeFile(at, '');
  return async () => {
    await rm(at);
    await rename(aside, at);
  };
}

async function file(): Promise<{ path: string; fileName: string; modelName: string; note: string }> {
  const path = join(data, 'frame.ifc');
  await writeFile(path, structureIfc());
  return { path, fileName: 'frame.ifc', modelName: 'Frame', note: '' };
}

it('fails a job whose disk is away, says so, keeps the file, and goes on when the disk is back', async () => {
  const plug = await unplug('work');
  const id = await requestPublication(lead.actor, { projectId: project, ...(await file()) });
  const failed = await settled(id, PATIENCE);
  expect(failed.state).toBe('failed');
  expect(failed.error).toMatch(/^The server’s disk for models cannot be reached just now\..*The file is kept/);
  await plug();
  expect(existsSync(storagePath(sourceKey(id)))).toBe(true);
  await retryPublication(lead.actor, id);
  expect((await settled(id, PATIENCE)).state).toBe('published');
  expect(existsSync(workFolder())).toBe(true);
});

it('takes no file while the store is away, and what was published is there when it is back', async () => {
  const [before] = await stageModels(lead.actor, project);
  const plug = await unplug('storage');
  const upload = 'abcdef0123456789';
  await mkdir(uploadFolder(), { recursive: true });
  await writeFile(join(uploadFolder(), upload), 'model');
  const record = { size: 5, metadata: { owner: lead.actor.id, filename: 'late.ifc' } };
  await writeFile(join(uploadFolder(), `${upload}.json`), JSON.stringify(record));
  const request = () =>
    publishRoute(
      new Request('http://localhost/api', {
        method: 'POST',
        headers: { cookie: lead.cookie },
        body: JSON.stringify({ uploadId: upload, note: '', intent: 'publish' }),
      }),
      { params: Promise.resolve({ id: project }) },
    );
  const answer = await request();
  expect(answer.status).toBe(503);
  expect(((await answer.json()) as { title: string }).title).toContain('What was published is not lost');
  expect(await stageModels(lead.actor, project), 'no revision without its file').toEqual([before]);
  await plug();
  expect(existsSync(join(storagePath(revisionKey(before!.baseUrl.split('/')[2]!)), 'tileset.json'))).toBe(true);
  expect((await request()).status, 'the upload is still there').toBe(200);
});
