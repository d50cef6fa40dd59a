import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { useOwnDatabase } from '@/db/test-database';
import type { Actor } from '../access/access';
import { addMember, createProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { testAccount, testGuest } from '../test-people';
import { readFeed } from './activities';
import { changeComment } from './comment-changes';
import { listComments, say } from './comments';
import { confirmDecision } from './decisions';
import { settle } from './meeting-log';
import { participantFor, startMeeting } from './meetings';
import { saveViewpoint } from './viewpoints';

let lead: Actor;
let guest: Actor;
let other: Actor;
let looker: Actor;
let project: string;
let meeting: string;
let viewpointId: string;

beforeAll(async () => {
  await useOwnDatabase('decisions');
  lead = (await testAccount('Ines')).actor;
  other = (await testAccount('Mikko')).actor;
});
afterAll(async () => void (await (await queue()).stop({ graceful: false })));
beforeEach(async () => {
  project = await createProject(lead, 'Town library', '');
  await addMember(project, other.id, 'designer');
  guest = (await testGuest(lead, project, 'comment', 'Bo')).actor;
  looker = (await testGuest(lead, project, 'look', 'Lo')).actor;
  meeting = (await startMeeting(lead, project, 'Evening')).id;
  for (const actor of [lead, guest, looker])
    await settle(meeting, null, { type: 'joined', participant: await participantFor(actor, project) });
  viewpointId = await saveViewpoint(lead, project, 'Hall roof', INITIAL_VIEW, null);
});

const decided = async () => (await listComments(lead, project)).find(({ kind }) => kind === 'decision')!;

describe('a decision', () => {
  it('ends a viewpoint, is done, and is confirmed by those who are there, once each', async () => {
    const id = await say(lead, project, {
      text: 'The folded roof.',
      kind: 'decision',
      viewpointId,
      view: INITIAL_VIEW,
    });
    for (const actor of [guest, looker, guest]) await confirmDecision(actor, project, id);
    expect(await decided()).toMatchObject({ viewpointId, status: 'closed', meetingId: meeting });
    expect((await decided()).confirmedBy.map(({ name }) => name)).toEqual(['Bo', 'Lo']);
    expect((await readFeed(lead, { projectId: project })).filter(({ kind }) => kind === 'confirmed')).toHaveLength(2);
    // Other words are another decision.
    await changeComment(lead, project, id, { text: 'The vaulted roof.' });
    expect((await decided()).confirmedBy).toEqual([]);
  });

  it('is taken by whoever leads, also a guest who was passed the lead, and by nobody else who comments', async () => {
    const draft = { text: 'So be it.', kind: 'decision' as const, viewpointId };
    await expect(say(guest, project, draft)).rejects.toMatchObject({ status: 403 });
    await settle(meeting, lead.id, { type: 'lead-passed', to: guest.id });
    await say(guest, project, draft);
    expect(await decided()).toMatchObject({ author: 'Bo', guest: true });
  });

  it('is confirmed only in its meeting, by those who are in it, and only where it is one', async () => {
    const id = await say(lead, project, { text: 'The folded roof.', kind: 'decision', viewpointId });
    const remark = await say(lead, project, { text: 'Nice' });
    await expect(confirmDecision(other, project, id)).rejects.toMatchObject({ status: 403 });
    await expect(confirmDecision(guest, project, remark)).rejects.toMatchObject({ status: 404 });
    await settle(meeting, null, { type: 'left', participant: guest.id });
    await expect(confirmDecision(guest, project, id)).rejects.toMatchObject({ status: 403 });
    await settle(meeting, lead.id, { type: 'ended' });
    await expect(confirmDecision(looker, project, id)).rejects.toMatchObject({ status: 409 });
  });

  it('belongs to a viewpoint of its own project', async () => {
    const elsewhere = await createProject(lead, 'Other', '');
    const foreign = await saveViewpoint(lead, elsewhere, 'Foreign', INITIAL_VIEW, null);
    await expect(say(lead, project, { text: 'X', kind: 'decision', viewpointId: foreign })).rejects.toMatchObject({
      status: 404,
    });
    await expect(say(lead, project, { text: 'X', kind: 'remark', viewpointId })).rejects.toMatchObject({ status: 400 });
  });
});

it('fifty people who write at once are all stored, numbered without a gap, and seen by all', async () => {
  const people = await Promise.all(
    Array.from({ length: 50 }, (_, i) => testGuest(lead, project, 'comment', `Guest ${i}`)),
  );
  await Promise.all(people.map(({ actor }, i) => say(actor, project, { text: `Word ${i}` })));
  const all = await listComments(lead, project);
  expect(all.map(({ number }) => number).sort((a, b) => a! - b!)).toEqual(Array.from({ length: 50 }, (_, i) => i + 1));
  expect(new Set(all.map(({ text }) => text)).size).toBe(50);
});
