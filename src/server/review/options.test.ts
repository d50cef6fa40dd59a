import type { OptionMember } from '@/core/options/option-set';
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PublishReport } from '@/core/project/publish-report';
import { closeConnection, db } from '@/db/database';
import { models, revisions } from '@/db/schema';
import { actorOf } from '../access/access';
import { addFileCameras } from './file-cameras';
import { createLink, enterByLink, listLinks } from '../access/links';
import { changeOptionSet, createOptionSet, deleteOptionSet, listOptionSets } from './options';
import { placeModel } from '../projects/placing';
import { createProject, readProject, stageModels } from '../projects/projects';
import { testAccount, type TestPerson } from '../test-people';
import { listViewpoints } from './viewpoints';

const CAMERAS = [
  { name: 'Door', position: [1, 2, 1.6], target: [4, 0, 1.6], fov: 60 },
  { name: 'Stair', position: [0, 0, 1.6], target: [1, 0, 1.6], fov: 50 },
];

let lead: TestPerson;
let project: string;
const model: Record<string, string> = {};

beforeAll(async () => {
  lead = await testAccount('Chooser');
  project = await createProject(lead.actor, 'Options', '');
  const map = { crs: 'EPSG:25833', northings: 5_700_000, orthogonalHeight: 80 };
  for (const [i, [name, georeference]] of Object.entries({
    house: { ...map, eastings: 400_000 },
    annexe: { ...map, eastings: 400_025 },
    chair: null,
  }).entries()) {
    model[name] = uuidv7();
    await db()
      .insert(models)
      .values({
        id: model[name],
        projectId: project,
        name,
        discipline: 'Architecture',
        createdAt: new Date(2026, 0, i + 1),
      });
    await db()
      .insert(revisions)
      .values({
        id: uuidv7(),
        projectId: project,
        modelId: model[name],
        number: 1,
        state: 'published',
        fileName: `${name}.ifc`,
        fileBytes: 1,
        authorId: lead.actor.id,
        contentId: uuidv7(),
        report: {
          offset: [0, 0, 0],
          extent: [0, 0, 0, 1, 1, 1],
          georeference,
          cameras: name === 'house' ? CAMERAS : [],
        } as unknown as PublishReport,
      });
  }
});
afterAll(() => closeConnection());

const whole = (value: string): OptionMember => [{ is: 'model', value }];
const option = (name: string, ...of: string[]) => ({ name, members: of.map((one) => whole(model[one]!)) });

describe('design options', () => {
  it('keep their ids when the set is changed, so that viewpoints and links still mean them', async () => {
    const id = await createOptionSet(lead.actor, project, {
      name: 'Seat',
      options: [option('One', 'chair'), option('None')],
    });
    const [before] = await listOptionSets(lead.actor, project);
    await changeOptionSet(lead.actor, project, id, {
      name: 'Seats',
      options: [option('None'), option('Two', 'chair', 'annexe'), option('One', 'chair')],
    });
    const [after] = await listOptionSets(lead.actor, project);
    expect(after!.name).toBe('Seats');
    const ids = (set: typeof after) => Object.fromEntries(set!.options.map(({ name, id }) => [name, id]));
    expect(ids(after)).toMatchObject(ids(before));
    await deleteOptionSet(lead.actor, project, id);
    expect(await listOptionSets(lead.actor, project)).toEqual([]);
    await expect(deleteOptionSet(lead.actor, project, id)).rejects.toMatchObject({ status: 404 });
  });

  it('refuse models of other projects and two of one name', async () => {
    const strange = { name: 'Far', options: [{ name: 'A', members: [whole(uuidv7())] }, option('B')] };
    await expect(createOptionSet(lead.actor, project, strange)).rejects.toThrow('does not have');
    await expect(
      createOptionSet(lead.actor, project, { name: 'Same', options: [option('A'), option('A')] }),
    ).rejects.toThrow('same name');
  });

  it('are fixed by a link for whoever comes by it', async () => {
    const set = await createOptionSet(lead.actor, project, {
      name: 'Wing',
      options: [option('With', 'annexe'), option('Without')],
    });
    const [made] = await listOptionSets(lead.actor, project);
    const choice = { [set]: made!.options[1]!.id };
    const { url } = await createLink(lead.actor, project, 'http://x', {
      right: 'look',
      label: 'Client',
      options: {
        ...choice,
        [uuidv7()]: uuidv7(),
      },
    });
    const { secret } = await enterByLink(url.split('/l/')[1]!, 'Bo');
    const guest = await actorOf(new Headers({ cookie: `yurta_guest=${secret}` }));
    expect(guest).toMatchObject({ kind: 'guest', options: choice });
    expect((await listLinks(lead.actor, project))[0]!.options).toEqual(choice);
  });
});

describe('the place of a model', () => {
  const placed = async (name: string) =>
    (await stageModels(lead.actor, project)).find(({ modelId }) => modelId === model[name])!.placement;

  it('is what its file says, what the map says, or what somebody decided', async () => {
    expect(await placed('annexe')).toEqual({ turn: 0, offset: [0, 0, 0] });
    await placeModel(lead.actor, project, model.annexe!, { by: 'georeference' });
    expect(await placed('annexe')).toEqual({ turn: 0, offset: [25, 0, 0] });
    expect(await placed('house')).toEqual({ turn: 0, offset: [0, 0, 0] });
    await placeModel(lead.actor, project, model.chair!, { by: 'hand', turn: 1, offset: [1, 2, 3] });
    expect(await placed('chair')).toEqual({ turn: 1, offset: [1, 2, 3] });
    const [row] = await db().select().from(models).where(eq(models.id, model.chair!));
    expect(row!.placement).toEqual({ by: 'hand', turn: 1, offset: [1, 2, 3] });
  });

  it('moves the cameras that came with its file, which come into the running order once', async () => {
    const { revisionId } = (await stageModels(lead.actor, project)).find(({ modelId }) => modelId === model.house)!;
    await placeModel(lead.actor, project, model.house!, { by: 'hand', turn: Math.PI / 2, offset: [10, 0, 0] });
    expect(await addFileCameras(lead.actor, revisionId)).toBe(2);
    await expect(addFileCameras(lead.actor, revisionId)).rejects.toThrow('already');
    const cards = await listViewpoints(lead.actor, project);
    expect(cards.map(({ name }) => name)).toEqual(['house: Door', 'house: Stair']);
    // (x, y) turns to (-y, x), then 10 along x.
    expect(cards[0]!.state.camera).toEqual({
      position: [expect.closeTo(8), expect.closeTo(1), 1.6],
      target: [expect.closeTo(10), expect.closeTo(4), 1.6],
      fov: 60,
    });
    await placeModel(lead.actor, project, model.house!, { by: 'file' });
    const annexe = (await stageModels(lead.actor, project)).find(({ modelId }) => modelId === model.annexe)!;
    await expect(addFileCameras(lead.actor, annexe.revisionId)).rejects.toThrow('No cameras');
  });

  it('is told where it is far from all others', async () => {
    const fit = async (name: string) =>
      (await readProject(lead.actor, project)).models.find(({ id }) => id === model[name])!.fit;
    expect(await fit('chair')).toBeNull();
    await placeModel(lead.actor, project, model.chair!, { by: 'hand', turn: 0, offset: [0, 3000, 0] });
    expect(await fit('chair')).toEqual({ kind: 'apart', metres: expect.closeTo(2999, 6) });
    expect(await fit('house')).toBeNull();
    await placeModel(lead.actor, project, model.chair!, { by: 'file' });
  });

  it('cannot be had from the map where the file is not on it', async () => {
    await expect(placeModel(lead.actor, project, model.chair!, { by: 'georeference' })).rejects.toThrow(
      'Place it by hand',
    );
    await expect(placeModel(lead.actor, project, uuidv7(), { by: 'file' })).rejects.toMatchObject({ status: 404 });
  });
});
