import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PublishReport } from '@/core/project/publish-report';
import { closeConnection, db } from '@/db/database';
import { elementProperties, models, revisions } from '@/db/schema';
import { listJobs } from './jobs';
import { createProject, listProjects, readProject, readRevision, stageModels } from '../projects/projects';
import { readFacts } from '../projects/facts';
import { findByContent } from './publishing';
import { repeatRevision, restoreRevision, withdrawRevision } from './revision-history';
import { testAccount, testGuest, type TestPerson } from '../test-people';

let lead: TestPerson;
let guest: TestPerson;
let project: string;
let model: string;
const ids: string[] = [];

const REPORT = {
  source: { format: 'IFC', schema: 'IFC4' },
  frame: { from: 'file' },
  counts: { elements: 12, triangles: 340 },
  weight: { tilesBrotli: 1000, indexBrotli: 24, pictures: 300 },
  withheld: { elements: 0, newCategories: [] },
  mended: [{ kind: 'duplicate', count: 2 }],
  cameras: [{ name: 'Door' }],
  surfaces: [{ elements: 3 }, { elements: 0 }, { elements: 0 }],
  findings: [
    { kind: 'duplicate', count: 2, elements: ['a', 'b'], detail: '' },
    { kind: 'coincident', count: 3, elements: ['c', 'd', 'e'], detail: '' },
    { kind: 'no-name', count: 1, elements: ['f'], detail: '' },
  ],
  unread: [{ reason: 'one' }, { reason: 'two' }],
  forecast: {
    firstLook: 300,
    devices: [
      { device: 'phone', fits: false },
      { device: 'laptop', fits: true },
    ],
  },
  offset: [1, 2, 3],
  extent: [0, 0, 0, 10, 20, 5],
} as unknown as PublishReport;

beforeAll(async () => {
  lead = await testAccount('Historian');
  project = await createProject(lead.actor, 'History', '');
  guest = await testGuest(lead.actor, project, 'look', 'Bo');
  model = uuidv7();
  await db().insert(models).values({ id: model, projectId: project, name: 'House', discipline: 'Architecture' });
  for (let number = 1; number <= 3; number++) {
    const id = uuidv7();
    ids.push(id);
    await db()
      .insert(revisions)
      .values({
        id,
        projectId: project,
        modelId: model,
        number,
        state: 'published',
        note: `note ${number}`,
        fileName: 'house.ifc',
        fileBytes: 1,
        authorId: lead.actor.id,
        contentId: uuidv7(),
        attempts: 1,
        publishedAt: new Date(2026, 0, number),
        report: REPORT,
      });
    await db()
      .insert(elementProperties)
      .values({ revisionId: id, element: 0, guid: 'wall', sets: { Of: { number } } });
  }
});
afterAll(() => closeConnection());

const onStage = async (actor = guest.actor) =>
  (await stageModels(actor, project)).map(({ code, newerCode }) => [code, newerCode]);
const codes = async (actor = guest.actor) =>
  (await readProject(actor, project)).models[0]!.revisions.map(({ code }) => code);

describe('a list of revisions', () => {
  it('carries of each report only what a list shows', async () => {
    const [newest] = (await readProject(lead.actor, project)).models[0]!.revisions;
    expect(newest!.digest).toEqual({
      format: 'IFC',
      schema: 'IFC4',
      elements: 12,
      triangles: 340,
      sent: 1324,
      firstLook: 300,
      heavyOn: ['phone'],
      unread: 2,
      withheld: { elements: 0, newCategories: [] },
      mended: [{ kind: 'duplicate', count: 2 }],
      noticed: [{ kind: 'coincident', count: 3 }],
      cameras: 1,
      surfaces: { applied: 1, idle: 2 },
      scaleGuessed: false,
    });
    expect(newest).not.toHaveProperty('report');
    expect((await readRevision(lead.actor, newest!.id)).report).toEqual(REPORT);
  });
});

describe('the history of a model', () => {
  it('opens any revision in the place of the newest, for whom may publish', async () => {
    const [shown] = await stageModels(lead.actor, project, [ids[0]!]);
    expect(shown).toMatchObject({ code: 'P01', newerCode: 'P03', offset: [1, 2, 3], extent: [0, 0, 0, 10, 20, 5] });
    await expect(stageModels(guest.actor, project, [ids[0]!])).rejects.toMatchObject({ status: 403 });
  });

  it('hides a withdrawn revision from guests and shows the one before it, until it stands again', async () => {
    await withdrawRevision(lead.actor, ids[2]!);
    expect(await onStage()).toEqual([['P02', null]]);
    expect(await codes()).toEqual(['P02', 'P01']);
    expect(await codes(lead.actor)).toEqual(['P03', 'P02', 'P01']);
    await expect(readFacts(guest.actor, ids[2]!, 0)).rejects.toMatchObject({ status: 403 });
    expect(await readFacts(lead.actor, ids[2]!, 0)).toEqual({ Of: { number: 3 } });
    expect((await listProjects(lead.actor))[0]).toMatchObject({ newest: new Date(2026, 0, 2).toISOString() });
    await expect(withdrawRevision(guest.actor, ids[1]!)).rejects.toMatchObject({ status: 403 });
    await restoreRevision(lead.actor, ids[2]!);
    expect(await onStage()).toEqual([['P03', null]]);
  });

  it('makes an older one the newest again under a new number, with its files and facts', async () => {
    const id = await repeatRevision(lead.actor, ids[0]!);
    expect(await onStage()).toEqual([['P04', null]]);
    const again = await readRevision(lead.actor, id);
    const old = await readRevision(lead.actor, ids[0]!);
    expect(again).toMatchObject({ code: 'P04', note: 'P01 again: note 1', files: old.files });
    expect(await readFacts(guest.actor, id, 0)).toEqual({ Of: { number: 1 } });
    // The files stay open to guests as long as one of the two stands.
    await withdrawRevision(lead.actor, ids[0]!);
    expect((await findByContent(old.files!.split('/')[2]!)).id).toBe(id);
    // Nobody had work with it.
    expect((await listJobs(lead.actor, 'all')).jobs.map(({ code }) => code)).not.toContain('P04');
  });

  it('numbers on without a gap when several are made the newest at once', async () => {
    await Promise.all(ids.map((id) => repeatRevision(lead.actor, id)));
    expect((await codes(lead.actor)).sort().slice(-3)).toEqual(['P05', 'P06', 'P07']);
  });
});
