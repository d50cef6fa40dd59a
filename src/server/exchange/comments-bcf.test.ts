import { mkdtemp, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { v7 as uuidv7 } from 'uuid';
import { encodeColumn } from '@/core/elements/element-index';
import { ALL_ELEMENTS } from '@/core/elements/element-set';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { closeConnection, db } from '@/db/database';
import { models, revisions } from '@/db/schema';
import { createProject } from '../projects/projects';
import { testAccount, testGuest } from '../test-people';
import { say } from '../review/comments';
import { revisionKey, storage } from '../storage/storage';
import { commentsBcf } from './comments-bcf';

let lead: Awaited<ReturnType<typeof testAccount>>['actor'];
beforeAll(async () => {
  lead = (await testAccount('Lead')).actor;
});
afterAll(() => closeConnection());

it('comments go into one file, all or those that are wanted, with their pictures; not for guests and strangers', async () => {
  const project = await createProject(lead, 'Exchange', '');
  const view = { ...INITIAL_VIEW, camera: { position: [0, 0, 1], target: [0, 1, 1], fov: 50 } } as typeof INITIAL_VIEW;
  const picture = Buffer.from([0xff, 0xd8, 7]);
  const one = await say(lead, project, { text: 'One', view, picture });
  const two = await say(lead, project, { text: 'Two' });
  await say(lead, project, { text: 'Answer', replyTo: one });
  const all = unzipSync(await commentsBcf(lead, project, null));
  expect(Object.keys(all).filter((name) => name.endsWith('markup.bcf'))).toHaveLength(2);
  expect([...all[`${one}/snapshot.jpg`]!]).toEqual([...picture]);
  expect(strFromU8(all[`${one}/markup.bcf`]!)).toContain('Answer');
  const some = unzipSync(await commentsBcf(lead, project, [two, 'no such']));
  expect(Object.keys(some).filter((name) => name.endsWith('markup.bcf'))).toEqual([`${two}/markup.bcf`]);
  const guest = (await testGuest(lead, project, 'comment', 'Bo')).actor;
  const stranger = (await testAccount('Stranger')).actor;
  await expect(commentsBcf(guest, project, null)).rejects.toMatchObject({ status: 403 });
  await expect(commentsBcf(stranger, project, null)).rejects.toMatchObject({ status: 404 });
});

it('names in the file the elements that the rules of a view mean in the newest revision', async () => {
  const project = await createProject(lead, 'Rules', '');
  const [modelId, contentId] = [uuidv7(), uuidv7()];
  await db().insert(models).values({ id: modelId, projectId: project, name: 'House', discipline: 'architecture' });
  const [older, newest] = [new Date('2026-01-01'), new Date('2026-02-01')];
  for (const [number, createdAt, content] of [[1, older, uuidv7()], [2, newest, contentId]] as const) // prettier-ignore
    await db().insert(revisions).values({ id: uuidv7(), projectId: project, modelId, number, state: 'published', contentId: content, authorId: lead.id, fileName: 'a.ifc', fileBytes: 1, createdAt, publishedAt: createdAt, note: '' }); // prettier-ignore
  const folder = await mkdtemp(join(tmpdir(), 'named-'));
  await writeFile(
    join(folder, 'elements.json'),
    JSON.stringify({
      count: 3,
      guid: ['0Duct00000000000000001', '0Wall00000000000000001', '0Wall00000000000000002'],
      category: encodeColumn(['Duct', 'Wall', 'Wall']),
    }),
  );
  await (await storage()).takeFolder(folder, revisionKey(contentId));
  const ducts = [{ is: 'category' as const, value: 'Duct' }];
  const view = {
    ...INITIAL_VIEW,
    visibility: { shown: [...ALL_ELEMENTS, { except: ducts }], hiddenModels: [] },
    colouring: [{ of: [{ also: ducts }], colour: '#b5483a' }],
  };
  const said = await say(lead, project, { text: 'Without ducts', view });
  const file = unzipSync(await commentsBcf(lead, project, null));
  const seen = strFromU8(file[`${said}/viewpoint.bcfv`]!);
  expect(seen).toMatch(/<Visibility DefaultVisibility="true">\s*<Exceptions>\s*<Component IfcGuid="0Duct00000000000000001"\/>\s*<\/Exceptions>/); // prettier-ignore
  expect(seen).toMatch(/<Color Color="B5483A">\s*<Components>\s*<Component IfcGuid="0Duct00000000000000001"\/>/);
  expect(JSON.parse(strFromU8(file[`${said}/yurta.json`]!))).toMatchObject({ view: { visibility: view.visibility } });
});
