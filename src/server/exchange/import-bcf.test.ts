import sharp from 'sharp';
import { zipSync, strToU8 } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { useOwnDatabase } from '@/db/test-database';
import type { Actor } from '../access/access';
import { addMember, createProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { attach } from '../review/attachments';
import { changeComment, commentHistory } from '../review/comment-changes';
import { commentView, listComments, say } from '../review/comments';
import { testAccount, testGuest } from '../test-people';
import { commentsBcf } from './comments-bcf';
import { importBcf, previewBcf } from './import-bcf';

let lead: Actor;
let designer: Actor;
let from: string;
let to: string;
let topic: string;
beforeAll(async () => {
  await useOwnDatabase('import_bcf');
  lead = (await testAccount('Ines')).actor;
  designer = (await testAccount('Mikko')).actor;
  from = await createProject(lead, 'Town library', '');
  to = await createProject(lead, 'Copy', '');
  for (const project of [from, to]) await addMember(project, designer.id, 'designer');
  const view = { ...INITIAL_VIEW, camera: { position: [0, -9, 2], target: [0, 0, 2], fov: 50 } } as typeof INITIAL_VIEW;
  const picture = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#9C3B2E' } })
    .jpeg()
    .toBuffer();
  topic = await say(lead, from, { text: 'Lower the sill', kind: 'action', assignee: { id: designer.id }, dueOn: '2026-12-24', priority: 'high', view, picture }); // prettier-ignore
  const answer = await say(designer, from, { text: 'To 55 cm', replyTo: topic, view, picture });
  await attach(lead, from, topic, { name: 'sill.pdf', content: Buffer.from('%PDF-1.7 sill') });
  await attach(designer, from, answer, { name: 'sketch.png', content: await sharp(picture).png().toBuffer() });
});
afterAll(async () => void (await (await queue()).stop({ graceful: false })));

const exported = async () => Buffer.from(await commentsBcf(lead, from, null));

describe('a file of another project', () => {
  it('is looked at first, and changes nothing by that', async () => {
    const { version, topics } = await previewBcf(lead, to, await exported());
    expect([version, topics]).toMatchObject([
      '3.0',
      [{ state: 'new', text: 'Lower the sill', newReplies: 1, newFiles: 2 }],
    ]);
    expect(await listComments(lead, to)).toEqual([]);
  });

  it('brings everything along, once', async () => {
    expect(await importBcf(lead, to, await exported(), null)).toEqual({ added: 1, changed: 0 });
    const [mine, yours] = [await listComments(lead, from), await listComments(lead, to)];
    const [there, here] = [mine[0]!, yours.find(({ replyTo }) => !replyTo)!];
    for (const field of [
      'guid',
      'text',
      'kind',
      'status',
      'dueOn',
      'priority',
      'hasView',
      'author',
      'createdAt',
    ] as const)
      expect(here[field], field).toEqual(there[field]);
    expect(await commentView(lead, to, here.id)).toEqual(await commentView(lead, from, there.id));
    expect(here).toMatchObject({ number: 1, assignee: { id: designer.id }, hasPicture: true, files: [{ name: 'sill.pdf', type: 'application/pdf' }] }); // prettier-ignore
    expect(yours.find(({ replyTo }) => replyTo === here.id)).toMatchObject({ text: 'To 55 cm', author: 'Mikko', hasView: true, hasPicture: true, files: [{ width: 40 }] }); // prettier-ignore
    expect(await importBcf(lead, to, await exported(), null)).toEqual({ added: 0, changed: 0 });
    expect((await previewBcf(lead, to, await exported())).topics).toMatchObject([{ state: 'same' }]);
  });

  it('changes what is known by its GUID, with a history, and only what is wanted', async () => {
    await changeComment(designer, from, topic, { status: 'closed' });
    await say(lead, from, { text: 'Another one' });
    const file = await exported();
    expect((await previewBcf(lead, to, file)).topics).toMatchObject([
      { state: 'changed', changes: [{ field: 'Status', from: 'Open', to: 'Closed' }] },
      { state: 'new' },
    ]);
    expect(await importBcf(lead, to, file, [topic])).toEqual({ added: 0, changed: 1 });
    const [here] = await listComments(lead, to);
    expect(here!.status).toBe('closed');
    expect((await commentHistory(lead, to, here!.id)).at(-1)).toMatchObject({
      by: 'Ines',
      changes: [{ field: 'Status' }],
    });
  });

  it('is refused where it is none, or too large when unpacked, and by those who may not', async () => {
    await expect(previewBcf(lead, to, Buffer.from('no zip'))).rejects.toMatchObject({ status: 400 });
    const other = Buffer.from(zipSync({ 'a.txt': strToU8('no BCF') }));
    await expect(previewBcf(lead, to, other)).rejects.toThrow('does not say its version');
    const many = Buffer.from(zipSync(Object.fromEntries(Array.from({ length: 40_001 }, (_, i) => [`${i}`, new Uint8Array(0)])))); // prettier-ignore
    await expect(previewBcf(lead, to, many)).rejects.toThrow('holds too much');
    const guest = (await testGuest(lead, to, 'comment', 'Bo')).actor;
    await expect(importBcf(guest, to, await exported(), null)).rejects.toMatchObject({ status: 403 });
  });
});
