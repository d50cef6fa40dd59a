import { monitorEventLoopDelay } from 'node:perf_hooks';
import { setTimeout } from 'node:timers/promises';
import sharp from 'sharp';
import type { Vec3 } from '../src/core/math/mat4';
import { readModel } from '../src/formats/read-model';
import { placeGeometry } from '../src/publish/geometry/element-geometry';
import { plainSurfaces } from '../src/publish/pictures/pictures';
import { renderPreview } from '../src/publish/preview/preview';
import type { MinutesContent, Said } from '../src/server/minutes/minutes-content';
import { writeBeside } from '../src/server/minutes/minutes-workshop';
import { writeMinutes } from '../src/server/minutes/write-minutes';
import { INITIAL_VIEW } from '../src/core/view/view-state';
import { withInputs } from './inputs';
import { round, summarise, tell } from './measure';

const COMMENTS = 200;

/**
 * Writing minutes of two hundred comments with pictures of the library, beside making those pictures smaller alone; and for how
 * long at a stretch the process that asks for them answers nobody, when a thread writes them and when it does so itself.
 */
await withInputs('minutes', async (forEachInput, runs) =>
  forEachInput(async ({ path, name }) => {
    const model = await readModel(path, name);
    const { pieces } = placeGeometry(model);
    const surfaces = plainSurfaces(model.materials);
    const pictures: Buffer[] = [];
    for (let i = 0; i < 8; i++) {
      const turn = (i * Math.PI) / 4;
      const eye: Vec3 = [24 + 40 * Math.cos(turn), 16 + 40 * Math.sin(turn), 14];
      const png = await renderPreview(pieces, surfaces, { eye, target: [24, 16, 2], fov: 50 }, 800, 500);
      pictures.push(await sharp(png).jpeg({ quality: 85 }).toBuffer());
    }
    const content = minutesOf(pictures);
    const [milliseconds, reference]: [number[], number[]] = [[], []];
    const [pauses, ownPauses]: [number[], number[]] = [[], []];
    let bytes = 0;
    for (let run = 0; run < runs; run++) {
      const start = performance.now();
      pauses.push(await longestPause(async () => (bytes = (await writeBeside(() => Promise.resolve(content), 'http://localhost/')).length))); // prettier-ignore
      milliseconds.push(performance.now() - start);
      ownPauses.push(await longestPause(() => writeMinutes(content, (seq) => `http://localhost/${seq}`)));
      const alone = performance.now();
      for (const { comment } of content.said)
        await sharp(comment.picture!).resize({ width: 570 }).jpeg({ quality: 80 }).toBuffer();
      reference.push(performance.now() - alone);
    }
    const middle = (all: number[]) => {
      const { median, least, most } = summarise(all);
      return { median: round(median, 0), least: round(least, 0), most: round(most, 0) };
    };
    tell('minutes', name, { comments: COMMENTS, milliseconds: middle(milliseconds), picturesAloneMilliseconds: middle(reference), pauseMilliseconds: middle(pauses), pauseWithoutThreadMilliseconds: middle(ownPauses), megabytes: round(bytes / 1e6, 2), runs }); // prettier-ignore
  }),
);

/** The longest time for which nothing else had its turn, in milliseconds. */
async function longestPause(work: () => Promise<unknown>): Promise<number> {
  const delay = monitorEventLoopDelay({ resolution: 1 });
  delay.enable();
  await work();
  await setTimeout(10); // the last one is noticed afterwards
  delay.disable();
  return delay.max / 1e6;
}

function minutesOf(pictures: readonly Buffer[]): MinutesContent {
  const at = new Date('2026-11-26T14:00:00Z');
  const said = Array.from({ length: COMMENTS }, (_, i): Said => {
    const comment = {
      number: i + 1,
      authorName: 'Herta Lindqvist',
      guest: true,
      kind: i % 5 === 0 ? 'action' : 'remark',
      status: 'open',
      priority: 'normal',
      assigneeName: 'Mikko Karras',
      dueOn: '2026-12-24',
      elementName: 'Window 12',
      createdAt: at,
      view: INITIAL_VIEW,
      picture: pictures[i % pictures.length],
    } as unknown as Said['comment'];
    const text = `From here the hall looks closed, number ${i + 1}. Can this bay be glass as well? שלום 👍 مرحبا`;
    return { comment, text, answers: [], pictures: [], files: [], confirmedBy: [], moment: i + 1 };
  });
  return {
    meeting: { title: 'Design review', startedAt: at, endedAt: at } as MinutesContent['meeting'],
    project: { name: 'Town library', place: 'Lindenau' } as MinutesContent['project'],
    foreword: '',
    present: [],
    shown: [],
    said,
    revisions: [{ model: 'Architecture', code: 'P03', note: 'Glass bay', approval: null }],
    snapshots: [],
  };
}
