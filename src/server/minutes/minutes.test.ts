import sharp from 'sharp';
import { sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { db } from '@/db/database';
import { models, revisions } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import type { Actor } from '../access/access';
import { handOverMinutes } from '../mail/minutes';
import { addMember, createProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { attach } from '../review/attachments';
import { say } from '../review/comments';
import { confirmDecision } from '../review/decisions';
import { settle } from '../review/meeting-log';
import { participantFor, startMeeting } from '../review/meetings';
import { modelsThen, readRecording } from '../review/replay';
import { saveViewpoint } from '../review/viewpoints';
import { askForApproval } from '../review/approvals';
import { testAccount, testGuest } from '../test-people';
import { correctMinutes, holdMinutes, makeMinutes, readMinutesDraft, releaseMinutes } from './minutes';
import { minutesContent } from './minutes-content';

let lead: Actor;
let guest: Actor;
let project: string;
let meeting: string;

beforeAll(async () => {
  await useOwnDatabase('minutes_made');
  process.env.YURTA_SMTP_URL = 'smtp://127.0.0.1:1';
  lead = (await testAccount('Ines')).actor;
});
afterAll(async () => {
  delete process.env.YURTA_SMTP_URL;
  await (await queue()).stop({ graceful: false });
});
beforeEach(async () => {
  project = await createProject(lead, 'Town library', 'Lindenau');
  guest = (await testGuest(lead, project, 'comment', 'Bo')).actor;
});

async function meet(): Promise<void> {
  meeting = (await startMeeting(lead, project, 'Evening')).id;
  for (const actor of [lead, guest])
    await settle(meeting, null, { type: 'joined', participant: await participantFor(actor, project) });
}
const end = () => settle(meeting, lead.id, { type: 'ended' });

describe('minutes', () => {
  it('hold who was there, what was shown and decided, what was said with answers and files, and the moment of each', async () => {
    await meet();
    const viewpointId = await saveViewpoint(lead, project, 'Hall roof', INITIAL_VIEW, null, null, {
      question: 'Folded?',
    });
    await settle(meeting, lead.id, { type: 'view-changed', change: INITIAL_VIEW, viewpoint: viewpointId });
    const decision = await say(lead, project, { text: 'Folded.', kind: 'decision', viewpointId });
    await confirmDecision(guest, project, decision);
    const remark = await say(guest, project, { text: 'Nice' });
    await say(lead, project, { text: 'Indeed', replyTo: remark });
    await attach(guest, project, remark, { name: 'plan.pdf', content: Buffer.from('%PDF-1.7') });
    await settle(meeting, null, { type: 'left', participant: guest.id });
    await end();
    const content = await minutesContent(meeting);
    expect(content.present.map(({ name, stays }) => [name, stays.length, stays[0]!.to !== null])).toEqual([['Ines', 1, true], ['Bo', 1, true]]); // prettier-ignore
    expect(content.shown).toMatchObject([
      { card: { name: 'Hall roof' }, decisions: [{ text: 'Folded.', confirmedBy: ['Bo'] }] },
    ]);
    expect(content.said).toMatchObject([
      { text: 'Folded.', comment: { number: 1 } },
      { text: 'Nice', comment: { number: 2 }, answers: [{ text: 'Indeed' }], files: ['plan.pdf'] },
    ]);
    // The moment of what was said is the event by which the meeting heard of it.
    const { events } = await readRecording(lead, meeting);
    for (const { comment, moment } of content.said)
      expect(events[moment! - 1]!.event).toEqual({ type: 'commented', comment: comment.id });
    // Seen again by whoever was there, and by no other guest.
    expect((await readRecording(guest, meeting)).events).toEqual(events);
    expect(await modelsThen(guest, meeting, ['01a2289c-aff9-76ee-807f-d5b0b3c5f633'])).toEqual([]);
    const elsewhere = (await testGuest(lead, project, 'comment', 'Cy')).actor;
    await expect(readRecording(elsewhere, meeting)).rejects.toMatchObject({ status: 403 });
    await expect(modelsThen(elsewhere, meeting, [])).rejects.toMatchObject({ status: 403 });
  });

  it('name the revisions that stood then, and where the approval of each stands', async () => {
    const modelId = uuidv7();
    await db().insert(models).values({ id: modelId, projectId: project, name: 'House', discipline: 'architecture' });
    const publish = async (number: number, publishedAt: Date) => {
      const id = uuidv7();
      await db().insert(revisions).values({ id, projectId: project, modelId, number, state: 'published', fileName: 'a.ifc', fileBytes: 1, authorId: lead.id, publishedAt, note: `Note ${number}` }); // prettier-ignore
      return id;
    };
    await publish(1, new Date(Date.now() - 2000));
    const second = await publish(2, new Date(Date.now() - 1000));
    await meet();
    await end();
    await publish(3, new Date(Date.now() + 1000));
    await askForApproval(lead, project, { revisionId: second, suitability: 'S2', question: '', dueOn: null, approvers: [{ id: lead.id }] }); // prettier-ignore
    expect((await minutesContent(meeting)).revisions).toEqual([
      { model: 'House', code: 'P02', note: 'Note 2', approval: 'Up for approval, 0 of 1 answered, S2' },
    ]);
  });

  it('wait to be read where a project wants that, are corrected, and go out once they are let go', async () => {
    await holdMinutes(lead, project, true);
    await meet();
    const one = await say(guest, project, { text: 'I said it badly' });
    const two = await say(guest, project, { text: 'Off the record' });
    await end();
    const sent = async () => (await db().execute(sql`select 1 from pgboss.job where name = 'mail' and data->>'minutes' = ${meeting}`)).rows.length; // prettier-ignore
    await handOverMinutes();
    expect(await sent()).toBe(0);
    expect((await readMinutesDraft(lead, meeting)).meeting.waits).toBe(true);
    await correctMinutes(lead, meeting, { foreword: 'In short', words: { [one]: 'Said well' }, left: [two] });
    const { foreword, said } = await minutesContent(meeting);
    expect([foreword, said.map(({ text }) => text)]).toEqual(['In short', ['Said well']]);
    await releaseMinutes(lead, meeting);
    await expect(releaseMinutes(lead, meeting)).rejects.toMatchObject({ status: 409 });
    await handOverMinutes();
    expect(await sent()).toBe(1);
    const designer = (await testAccount('Mikko')).actor;
    await addMember(project, designer.id, 'designer');
    await expect(correctMinutes(designer, meeting, { foreword: '', words: {}, left: [] })).rejects.toMatchObject({
      status: 403,
    });
  });

  it('of two hundred comments with pictures stay small enough to be mailed', async () => {
    await meet();
    const noise = await sharp({ create: { width: 800, height: 500, channels: 3, background: '#777', noise: { type: 'gaussian', mean: 128, sigma: 30 } } }).jpeg({ quality: 85 }).toBuffer(); // prettier-ignore
    for (let i = 0; i < 200; i++) await say(guest, project, { text: `Word ${i}: שלום 👍 مرحبا`, picture: noise, view: INITIAL_VIEW }); // prettier-ignore
    await end();
    const { pdf } = await makeMinutes(meeting);
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    // Noise is what JPEG packs worst: pictures of models are a third of it.
    expect(pdf.length).toBeLessThan(25e6);
    expect(pdf.length).toBeGreaterThan(1e6);
  });
});
