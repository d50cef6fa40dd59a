import { randomUUID } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { closeConnection, connection, db } from '@/db/database';
import { comments, meetings, viewpoints } from '@/db/schema';
import { commentView, listComments, say } from './comments';
import { meetingState, settle } from './meeting-log';
import { startMeeting } from './meetings';
import { createProject } from '../projects/projects';
import { testAccount, type TestPerson } from '../test-people';
import { listViewpoints, saveViewpoint } from './viewpoints';

let lead: TestPerson;
beforeAll(async () => {
  lead = await testAccount('Lead');
});
afterAll(() => closeConnection());

const view = { ...INITIAL_VIEW, camera: { position: [0, 0, 1], target: [0, 1, 1], fov: 50 } } as typeof INITIAL_VIEW;

describe('what is said', () => {
  it('while the meeting ends stands all the same, in the meeting or by itself', async () => {
    const project = await createProject(lead.actor, 'Ending', '');
    for (let round = 0; round < 8; round++) {
      const meeting = await startMeeting(lead.actor, project, `Round ${round}`);
      const [id] = await Promise.all([
        say(lead.actor, project, { text: `Said in round ${round}` }),
        settle(meeting.id, null, { type: 'ended' }),
      ]);
      const [row] = await db().select().from(comments).where(eq(comments.id, id));
      const state = await meetingState(meeting.id);
      // Both agree on whether it belongs to the meeting.
      expect(state.comments).toEqual(row!.meetingId === meeting.id ? [id] : []);
    }
    expect(await listComments(lead.actor, project)).toHaveLength(8);
  });

  it('after the meeting was ended behind its back belongs to none', async () => {
    const project = await createProject(lead.actor, 'Ended', '');
    const meeting = await startMeeting(lead.actor, project, 'Over');
    await db().update(meetings).set({ endedAt: new Date() }).where(eq(meetings.id, meeting.id));
    const id = await say(lead.actor, project, { text: 'Too late' });
    expect((await listComments(lead.actor, project)).find((one) => one.id === id)!.meetingId).toBeNull();
  });

  it('is said once, however often the request comes', async () => {
    const project = await createProject(lead.actor, 'Twice', '');
    const key = randomUUID();
    const ids = await Promise.all(Array.from({ length: 5 }, () => say(lead.actor, project, { text: 'Once' }, key)));
    ids.push(await say(lead.actor, project, { text: 'Once' }, key));
    expect(new Set(ids).size).toBe(1);
    await say(lead.actor, project, { text: 'Once' }, randomUUID());
    expect((await listComments(lead.actor, project)).map(({ number }) => number)).toEqual([1, 2]);
    const cards = await Promise.all(
      Array.from({ length: 3 }, () => saveViewpoint(lead.actor, project, 'Desk', view, null, key)),
    );
    expect(new Set(cards).size).toBe(1);
    expect(await listViewpoints(lead.actor, project)).toHaveLength(1);
  });
});

describe('lists', () => {
  it('tell that there is a picture without reading it', async () => {
    const project = await createProject(lead.actor, 'Pictures', '');
    const picture = Buffer.alloc(100_000, 7);
    await say(lead.actor, project, { text: 'With', picture });
    await say(lead.actor, project, { text: 'Without' });
    await saveViewpoint(lead.actor, project, 'Desk', view, picture);
    const query = vi.spyOn(connection().pool, 'query');
    const said = await listComments(lead.actor, project);
    const cards = await listViewpoints(lead.actor, project);
    const answers = await Promise.all(query.mock.results.map(({ value }) => value as unknown));
    query.mockRestore();
    expect(said.map(({ hasPicture }) => hasPicture)).toEqual([true, false]);
    expect(cards.map(({ hasPicture }) => hasPicture)).toEqual([true]);
    expect(answers.length).toBeGreaterThan(1);
    expect(JSON.stringify(answers).length).toBeLessThan(20_000);
  });

  it('read what was stored when a view was lists of elements', async () => {
    const project = await createProject(lead.actor, 'Older', '');
    const model = uuidv7();
    const camera = { position: [1, 2, 3], target: [4, 5, 6], fov: 40 };
    const old = {
      camera,
      visibility: { hiddenModels: [], hidden: [{ model, guid: 'a' }], only: null, options: { x: 'y' } },
      selection: [{ model, guid: 'b' }],
    };
    const common = { id: uuidv7(), projectId: project, authorName: 'Lead' };
    await db()
      .insert(viewpoints)
      .values({ ...common, name: 'Desk', position: 1, state: old });
    await db()
      .insert(comments)
      .values({
        ...common,
        guid: common.id,
        text: 'Here',
        number: 1,
        authorId: lead.actor.id,
        guest: false,
        view: old,
      });
    const named = (guid: string) => [
      { is: 'model', value: model },
      { is: 'element', guids: [guid] },
    ];
    const now = {
      ...INITIAL_VIEW,
      camera,
      visibility: { hiddenModels: [], shown: [{ also: [] }, { except: named('a') }] },
      options: { x: 'y' },
      selection: [named('b')],
    };
    expect((await listViewpoints(lead.actor, project))[0]!.state).toEqual(now);
    expect(await commentView(lead.actor, project, common.id)).toEqual(now);
  });
});
