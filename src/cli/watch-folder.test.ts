import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { unzipSync } from 'fflate';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { RevisionDetail } from '@/core/project/models';
import { Remote, RemoteError, type Publication } from './remote';
import { FolderWatch } from './watch-folder';

const TO: Publication = { projectId: 'p', note: '', intent: 'publish' };

/** A server that takes everything, or is away as often as it is told to be. */
class Taking extends Remote {
  readonly sent: { name: string; content: Uint8Array }[] = [];
  away = 0;

  constructor() {
    super('http://localhost:1', 'token');
  }

  override async publish(path: string): Promise<string> {
    if (this.away-- > 0) throw new RemoteError('It does not answer.', true);
    this.sent.push({ name: basename(path), content: new Uint8Array(await readFile(path)) });
    return 'revision';
  }

  override async outcome(): Promise<RevisionDetail> {
    return { state: 'ready' } as RevisionDetail;
  }
}

let folder: string;
let remote: Taking;
let watching: FolderWatch;
const said: string[] = [];
const complained: string[] = [];

async function begin(settleMs = 150): Promise<void> {
  watching = new FolderWatch(folder, remote, {
    ...TO,
    settleMs,
    retryMs: 100,
    say: (line) => said.push(line),
    complain: (line) => complained.push(line),
  });
  await watching.start();
}

async function until(true_: () => boolean): Promise<void> {
  for (let i = 0; i < 100 && !true_(); i++) await new Promise((done) => setTimeout(done, 50));
  expect(true_()).toBe(true);
}

const sent = () => remote.sent.map(({ name }) => name).sort();

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'watch-'));
  remote = new Taking();
  said.length = complained.length = 0;
});
afterEach(async () => {
  await watching.stop();
  await rm(folder, { recursive: true });
});

it('sends what lies there and what is saved later, each once, and remembers it over an end', async () => {
  await writeFile(join(folder, 'house.ifc'), 'one');
  await writeFile(join(folder, 'notes.txt'), 'not a model');
  await mkdir(join(folder, 'site'));
  await writeFile(join(folder, 'site', 'terrain.stl'), 'one');
  await begin();
  await until(() => remote.sent.length === 2);
  await writeFile(join(folder, 'house.ifc'), 'two, longer');
  await until(() => remote.sent.length === 3);
  await until(() => said.filter((line) => line.includes('waits to be looked at')).length === 3);
  await watching.stop();

  await writeFile(join(folder, 'shed.glb'), 'made while nobody watched');
  await begin();
  await until(() => remote.sent.length === 4);
  await new Promise((done) => setTimeout(done, 500));
  expect(sent()).toEqual(['house.ifc', 'house.ifc', 'shed.glb', 'terrain.stl']);
});

it('waits until a file is whole', async () => {
  await begin(1000); // far longer than a busy machine pauses between two parts
  const path = join(folder, 'slow.ifc');
  for (let i = 1; i <= 6; i++) {
    await writeFile(path, 'x'.repeat(i * 1000));
    await new Promise((done) => setTimeout(done, 60));
  }
  await until(() => remote.sent.length === 1);
  expect(remote.sent[0]!.content).toHaveLength(6000);
});

it('sends a model with its parts, and again when a part changes', async () => {
  await writeFile(join(folder, 'chair.obj'), 'mtllib chair.mtl');
  await writeFile(join(folder, 'chair.mtl'), 'newmtl oak\nmap_Kd wood/oak.png');
  await writeFile(join(folder, 'other.png'), 'of something else');
  await mkdir(join(folder, 'wood'));
  await writeFile(join(folder, 'wood', 'oak.png'), 'pale');
  await begin();
  await until(() => remote.sent.length === 1);
  expect(Object.keys(unzipSync(remote.sent[0]!.content)).sort()).toEqual(['chair.mtl', 'chair.obj', 'wood/oak.png']);
  await writeFile(join(folder, 'wood', 'oak.png'), 'darker');
  await until(() => remote.sent.length === 2);
  await writeFile(join(folder, 'other.png'), 'of something else, changed');
  await new Promise((done) => setTimeout(done, 500));
  expect(sent()).toEqual(['chair.obj.zip', 'chair.obj.zip']);
});

it('tries again while the server is away, and says so', async () => {
  remote.away = 2;
  await writeFile(join(folder, 'house.ifc'), 'one');
  await begin();
  await until(() => remote.sent.length === 1);
  expect(complained.filter((line) => line.includes('It does not answer'))).toHaveLength(2);
});

it('says what is wrong with the folder', async () => {
  await begin();
  const none = new FolderWatch(join(folder, 'none'), remote, {
    ...TO,
    settleMs: 1,
    retryMs: 1,
    say() {},
    complain() {},
  });
  await expect(none.start()).rejects.toThrow('is no folder');
  await writeFile(join(folder, '.yurta-watch.json'), '{"half');
  const broken = new FolderWatch(folder, remote, { ...TO, settleMs: 1, retryMs: 1, say() {}, complain() {} });
  await expect(broken.start()).rejects.toThrow('Remove it to send all files');
});
