import ICAL from 'ical.js';
import readXlsxFile from 'read-excel-file/node';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { closeConnection } from '@/db/database';
import type { Actor } from '../access/access';
import { createProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { say } from '../review/comments';
import { testAccount, testGuest } from '../test-people';
import { commentsCsv, commentsIcs, commentsXlsx } from './comment-tables';

let lead: Actor;
let project: string;
beforeAll(async () => {
  lead = (await testAccount('Ines')).actor;
  project = await createProject(lead, 'Town library', '');
  const id = await say(lead, project, { text: 'Lower the sill; "55 cm", שלום 👍\nplease', kind: 'action', dueOn: '2026-12-24', anchor: { element: null, point: [1.23456, -2, 3] } }); // prettier-ignore
  await say(lead, project, { text: '=1+1', replyTo: id });
  await say(lead, project, { text: 'No day' });
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
  await closeConnection();
});

it('a workbook opens in another library, with numbers, times and texts as they are', async () => {
  const [sheet] = await readXlsxFile(await commentsXlsx(lead, project));
  const [head, ...rows] = sheet!.data;
  const column = (name: string) => rows.map((row) => row[head!.indexOf(name)]);
  expect(column('Number')).toEqual([1, null, 2]);
  expect(column('Answers number')).toEqual([null, 1, null]);
  expect(column('Text')).toEqual(['Lower the sill; "55 cm", שלום 👍\nplease', '=1+1', 'No day']);
  expect(column('X')[0]).toBe(1.235);
  expect(column('Time')[0]).toBeInstanceOf(Date);
});

it('a calendar holds what has a day, as a whole day of it', async () => {
  const calendar = new ICAL.Component(ICAL.parse(await commentsIcs(lead, project)) as unknown[]);
  const events = calendar.getAllSubcomponents('vevent').map((event) => new ICAL.Event(event));
  expect(events).toHaveLength(1);
  const [event] = events;
  expect([event!.startDate.toString(), event!.startDate.isDate, event!.summary]).toEqual(['2026-12-24', true, '1: Lower the sill; "55 cm", שלום 👍']); // prettier-ignore
});

it('neither is for guests', async () => {
  const guest = (await testGuest(lead, project, 'comment', 'Bo')).actor;
  for (const take of [commentsCsv, commentsIcs, commentsXlsx])
    await expect(take(guest, project)).rejects.toMatchObject({ status: 403 });
});
