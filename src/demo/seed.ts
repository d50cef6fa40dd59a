import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { db } from '@/db/database';
import { models, projects, revisions } from '@/db/schema';
import type { Where } from '@/core/elements/element-set';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { readModel } from '@/formats/read-model';
import { placeGeometry, type Piece } from '@/publish/geometry/element-geometry';
import { plainSurfaces, type Surface } from '@/publish/pictures/pictures';
import { renderPreview } from '@/publish/preview/preview';
import type { Actor } from '@/server/access/access';
import { createAccount, findAccount } from '@/server/access/accounts';
import { config } from '@/server/config';
import { addMember, createProject } from '@/server/projects/projects';
import { createOptionSet } from '@/server/review/options';
import { requestPublication, decideRevision } from '@/server/publishing/publishing';
import { connectTracker } from '@/server/exchange/tracker';
import { saveViewpoint } from '@/server/review/viewpoints';
import type { FindingKind } from '@/core/examination/finding';
import { architectureIfc } from './library/architecture';
import { vaultedRoofIfc } from './library/hall-roof-vaulted';
import { FOLDED_ROOF } from './library/plan';
import { servicesIfc } from './library/services';
import { structureIfc } from './library/structure';
import { clippedPieces } from './clip-pieces';
import { holdPastMeeting, type PicturedView } from './past-meeting';
import { DEMO_VIEWS } from './views';

export const DEMO_PASSWORD = 'felt-and-ink';
export const DEMO_ACCOUNTS = [
  { name: 'Ines Okafor', email: 'ines@okafor-brandt.example', role: 'lead' },
  { name: 'Mikko Karras', email: 'mikko@karras.example', role: 'designer' },
  { name: 'Sunniva Berg', email: 'sunniva@berg.example', role: 'designer' },
] as const;

const PROJECT = { name: 'Town library', place: 'Lindenau' };

/**
 * Fills an empty installation with the demo project through the real services: accounts, three discipline models, a second revision of the architecture, the running order, a meeting in its past. Does nothing where the project exists.
 */
export async function seedDemo(
  onStep: (text: string) => void,
  tracker: { url: string; token: string } | null = null,
): Promise<void> {
  const actors = await seedAccounts();
  const [existing] = await db().select().from(projects).where(eq(projects.name, PROJECT.name));
  if (existing) return;
  const [ines, mikko, sunniva] = actors as [Actor, Actor, Actor];
  const projectId = await createProject(ines, PROJECT.name, PROJECT.place);
  await addMember(projectId, mikko.id, 'designer');
  await addMember(projectId, sunniva.id, 'designer');

  const folder = join(config().dataFolder, 'demo');
  await mkdir(folder, { recursive: true });
  const architecture = await publish(
    ines,
    projectId,
    folder,
    {
      modelName: 'Architecture',
      discipline: 'Architecture',
      note: 'First complete design',
      fileName: 'library-architecture-P01.ifc',
      text: architectureIfc(1),
    },
    onStep,
  );
  const structure = await publish(
    mikko,
    projectId,
    folder,
    {
      modelName: 'Structure',
      discipline: 'Structure',
      note: 'Frame and roof',
      fileName: 'library-structure-P01.ifc',
      text: structureIfc(),
    },
    onStep,
  );
  await publish(
    sunniva,
    projectId,
    folder,
    {
      modelName: 'Building services',
      discipline: 'Building services',
      note: 'Air, heating, water, light',
      fileName: 'library-services-P01.ifc',
      keep: 'services.ifc',
      text: servicesIfc(),
      // Looked at first: the export has flaws, and what can be mended is.
      mend: ['far-away', 'duplicate', 'inside-out'],
    },
    onStep,
  );
  await publish(
    ines,
    projectId,
    folder,
    {
      modelId: architecture.modelId,
      note: 'Trolley way, WC rail, lower café counter',
      fileName: 'library-architecture-P02.ifc',
      text: architectureIfc(2),
    },
    onStep,
  );
  await publish(
    ines,
    projectId,
    folder,
    {
      modelId: architecture.modelId,
      note: 'Bench across the path, last bay glazed',
      fileName: 'library-architecture-P03.ifc',
      text: architectureIfc(3),
      keep: 'library.ifc',
    },
    onStep,
  );
  const vaulted = await publish(
    ines,
    projectId,
    folder,
    {
      modelName: 'Hall roof, vaulted',
      discipline: 'Architecture',
      note: 'The other roof',
      fileName: 'library-hall-roof-vaulted-P01.ifc',
      text: vaultedRoofIfc(),
    },
    onStep,
  );
  const all = (model: string): Where => [{ is: 'model', value: model }];
  const folded = (model: string): Where => [...all(model), { is: 'system', value: FOLDED_ROOF }];
  await createOptionSet(ines, projectId, {
    name: 'Hall roof',
    options: [
      {
        name: 'Folded',
        members: [folded(architecture.modelId), folded(structure.modelId)],
      },
      { name: 'Vaulted', members: [all(vaulted.modelId)] },
    ],
  });

  onStep('picturing the running order');
  const scenes = {
    architecture: await loadScene(join(folder, 'library.ifc')),
    services: await loadScene(join(folder, 'services.ifc')),
  };
  const views = new Map<string, PicturedView>();
  for (const { name, view, of, ...details } of DEMO_VIEWS) {
    const { position, target, fov } = view.camera;
    const scene = joinedScene(of.map((model) => scenes[model]));
    const pieces = clippedPieces(scene.pieces, view.cuts ?? INITIAL_VIEW.cuts);
    const picture = await renderPreview(pieces, scene.surfaces, { eye: position, target, fov }, 480, 300);
    const whole = { ...INITIAL_VIEW, ...view };
    const id = await saveViewpoint(ines, projectId, name, whole, picture, null, details);
    views.set(name, { id, view: whole, picture });
  }
  onStep('holding the meeting of last week');
  await holdPastMeeting(projectId, { ines, mikko, sunniva }, views);
  if (tracker) {
    onStep('connecting the sample tracker');
    await connectTracker(ines, projectId, tracker.url, tracker.token);
  }
}

async function seedAccounts(): Promise<Actor[]> {
  const actors: Actor[] = [];
  for (const { name, email } of DEMO_ACCOUNTS)
    actors.push((await findAccount(email)) ?? (await createAccount(name, email, DEMO_PASSWORD)));
  return actors;
}

interface DemoFile {
  modelId?: string;
  modelName?: string;
  discipline?: string;
  note: string;
  fileName: string;
  text: string;
  keep?: string;
  /** What of the findings is mended; without it, the file is published as it is. */
  mend?: FindingKind[];
}

async function publish(
  actor: Actor,
  projectId: string,
  folder: string,
  file: DemoFile,
  onStep: (text: string) => void,
) {
  onStep(`publishing ${file.fileName}`);
  const path = join(folder, file.fileName);
  await writeFile(path, file.text);
  if (file.keep) await writeFile(join(folder, file.keep), file.text);
  const { text: _, keep: __, mend, ...request } = file;
  const id = await requestPublication(actor, { ...request, projectId, path, intent: mend ? 'look' : 'publish' });
  let looked = false;
  const TRIES = 600;
  for (let i = 0; i < TRIES; i++) {
    const [row] = await db()
      .select()
      .from(revisions)
      .innerJoin(models, eq(models.id, revisions.modelId))
      .where(eq(revisions.id, id));
    if (row?.revisions.state === 'published') return { modelId: row.models.id };
    if (row?.revisions.state === 'ready' && mend && !looked) {
      looked = true;
      await decideRevision(actor, id, { mend, publish: true });
    }
    if (row?.revisions.state === 'failed')
      throw new Error(`the demo model ${file.fileName} was not published: ${row.revisions.error}`);
    await new Promise((done) => setTimeout(done, 200));
  }
  throw new Error(`the demo model ${file.fileName} was not published in time; is a worker running?`);
}

interface Scene {
  pieces: Piece[];
  surfaces: Surface[];
}

async function loadScene(path: string): Promise<Scene> {
  const model = await readModel(path, 'library.ifc');
  return { pieces: placeGeometry(model).pieces, surfaces: plainSurfaces(model.materials) };
}

function joinedScene(scenes: readonly Scene[]): Scene {
  return scenes.reduce((all, { pieces, surfaces }) => ({
    pieces: [...all.pieces, ...pieces.map((piece) => ({ ...piece, material: piece.material + all.surfaces.length }))],
    surfaces: [...all.surfaces, ...surfaces],
  }));
}
