import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { db } from '@/db/database';
import { models, revisions } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import type { Actor } from '../access/access';
import { addMember, createProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { testAccount, testGuest } from '../test-people';
import { listComments } from './comments';
import { changeNote, deleteNote, listNotes, notePicture, shareNote, takeNote } from './notes';

let ines: Actor;
let mikko: Actor;
let sunniva: Actor;
let project: string;
let modelId: string;
beforeAll(async () => {
  await useOwnDatabase('notes');
  [ines, mikko, sunniva] = [(await testAccount('Ines')).actor, (await testAccount('Mikko')).actor, (await testAccount('Sunniva')).actor]; // prettier-ignore
  project = await createProject(ines, 'Town library', '');
  for (const { id } of [mikko, sunniva]) await addMember(project, id, 'designer');
  modelId = uuidv7();
  await db()
    .insert(models)
    .values({ id: modelId, projectId: project, name: 'Architecture', discipline: 'Architecture' });
  await publish(1);
});
afterAll(async () => void (await (await queue()).stop({ graceful: false })));

const publish = (number: number) =>
  db().insert(revisions).values({ id: uuidv7(), projectId: project, modelId, number, state: 'published', fileName: 'a.ifc', fileBytes: 1, authorId: ines.id, publishedAt: new Date() }); // prettier-ignore
const texts = async (actor: Actor) => (await listNotes(actor, project)).map(({ text }) => text);

describe('a note', () => {
  it('is seen by its owner alone, then by whom it is passed to, then by nobody else again', async () => {
    const id = await takeNote(ines, project, { text: 'Ask Herta', view: INITIAL_VIEW, picture: Buffer.from([0xff]) });
    expect([await texts(ines), await texts(mikko)]).toEqual([['Ask Herta'], []]);
    await expect(notePicture(mikko, project, id)).rejects.toMatchObject({ status: 404 });
    await changeNote(ines, project, id, { passedTo: [mikko.id] });
    expect([await texts(mikko), await texts(sunniva)]).toEqual([['Ask Herta'], []]);
    expect(await notePicture(mikko, project, id)).toEqual(Buffer.from([0xff]));
    // Whom it was passed to reads it; it stays its owner's.
    const acts = [
      () => changeNote(mikko, project, id, { text: 'Mine' }),
      () => deleteNote(mikko, project, id),
      () => shareNote(mikko, project, id),
    ];
    for (const act of acts) await expect(act()).rejects.toMatchObject({ status: 404 });
    await changeNote(ines, project, id, { passedTo: [] });
    expect(await texts(mikko)).toEqual([]);
    await deleteNote(ines, project, id);
    expect(await texts(ines)).toEqual([]);
  });

  it('is taken along to the next revision', async () => {
    const anchor = { element: { model: modelId, guid: 'g' }, point: [1, 2, 3] as [number, number, number] };
    const id = await takeNote(ines, project, { text: 'Column', anchor });
    const note = async () => (await listNotes(ines, project)).find((one) => one.id === id)!;
    expect(await note()).toMatchObject({ revision: 'Architecture P01', isOlder: false });
    await publish(2);
    expect(await note()).toMatchObject({ revision: 'Architecture P01', isOlder: true });
    await changeNote(ines, project, id, { takenAlong: true });
    expect(await note()).toMatchObject({ revision: 'Architecture P02', isOlder: false });
  });

  it('becomes one comment, with its place, however often it is shared', async () => {
    const id = await takeNote(ines, project, { text: 'For all', view: INITIAL_VIEW, elementName: 'Door' });
    const made = await Promise.all([shareNote(ines, project, id), shareNote(ines, project, id)]);
    expect(new Set(made).size).toBe(1);
    expect((await listComments(mikko, project)).filter(({ text }) => text === 'For all')).toMatchObject([{ elementName: 'Door', number: 1 }]); // prettier-ignore
  });

  it('is not for guests, nor passed to strangers, nor made twice by a repeated request', async () => {
    const guest = (await testGuest(ines, project, 'comment', 'Bo')).actor;
    await expect(takeNote(guest, project, { text: 'x' })).rejects.toMatchObject({ status: 403 });
    const stranger = (await testAccount('Stranger')).actor;
    const id = await takeNote(ines, project, { text: 'Once' }, 'key');
    expect(await takeNote(ines, project, { text: 'Once' }, 'key')).toBe(id);
    await expect(changeNote(ines, project, id, { passedTo: [stranger.id] })).rejects.toMatchObject({ status: 400 });
    const program = { ...ines, token: 'read' } as Actor;
    await expect(takeNote(program, project, { text: 'x' })).rejects.toMatchObject({ status: 403 });
  });
});
