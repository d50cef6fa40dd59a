import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from '@playwright/test';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boxAbout, NO_CUTS, planeAt, type Cuts } from '@/core/cut/cuts';
import { ALL_ELEMENTS, setOf, withoutElements, type Where } from '@/core/elements/element-set';
import type { Vec3 } from '@/core/math/mat4';
import type { StageModelSource } from '@/core/project/models';
import type { CameraPose } from '@/core/view/camera';
import { INITIAL_VIEW, type ViewChange } from '@/core/view/view-state';
import { SHOW_ALL } from '@/core/view/visibility';
import { IfcBuilder } from '@/demo/ifc/ifc-builder';
import { token } from '@/core/step/step-writer';
import { palette } from '@/demo/library/palette';
import { openStagePage, publishFor } from '../../tests/support/published-source';
import { launchChromium, serveStage, type StageServer } from '../../tests/support/stage-server';
import '../../tests/support/stage-page-types';

/** The stage in a real browser, on published files of bodies whose places are known. */

const VIEW = { width: 320, height: 240 };
const CATEGORIES = {
  left: ['IFCWALL', 'SOLIDWALL'],
  right: ['IFCCOLUMN', 'COLUMN'],
  behind: ['IFCBEAM', 'BEAM'],
  ground: ['IFCSLAB', 'FLOOR'],
  tower: ['IFCPLATE', 'CURTAIN_PANEL'],
} as const;
type Body = keyof typeof CATEGORIES;

/** Corner and size of every body, metres. */
const BODIES: Record<Body, [Vec3, Vec3]> = {
  left: [[0, 0, 0], [1, 1, 1]], // prettier-ignore
  right: [[3, 0, 0], [1, 1, 1]], // prettier-ignore
  behind: [[3, 4, 0], [3, 1, 2]], // prettier-ignore
  ground: [[-20, -20, -0.2], [40, 40, 0.2]], // prettier-ignore
  // Its shadow goes a metre east and 1.24 m north for 1.7 m of its height: over the ground, from far outside the picture.
  tower: [[-112, -138, 0], [4, 4, 260]], // prettier-ignore
};

let folder: string;
let server: StageServer;
let browser: Browser;
let page: Page;
let near: StageModelSource;
let far: StageModelSource;

async function publish(name: string, bodies: Partial<typeof BODIES>): Promise<StageModelSource> {
  const ifc = new IfcBuilder({
    model: name,
    projectName: name,
    author: 'Test',
    organisation: 'Yurta',
    time: '2026-01-01T00:00:00',
  });
  const paint = palette(ifc);
  const storey = ifc.storey('s', 'Ground floor', 0);
  for (const [body, [at, size]] of Object.entries(bodies) as [Body, [Vec3, Vec3]][]) {
    const [entity, predefined] = CATEGORIES[body];
    const bodiesOf = [ifc.box(paint.concrete, [0, 0, 0], size)];
    ifc.product(entity, body, { name: body, at, bodies: bodiesOf, in: storey, extra: [token(predefined)] });
  }
  const path = join(folder, `${name}.ifc`);
  await writeFile(path, ifc.finish(`${name}.ifc`));
  return (await publishFor(folder, path, name)).source;
}

async function openPage(source: StageModelSource, prepare?: (page: Page) => Promise<unknown>): Promise<Page> {
  const opened = await openStagePage(browser, server.origin, VIEW, 'openStage', prepare);
  await opened.evaluate((one) => window.openStage([one]), source);
  return opened;
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yurta-stage-'));
  near = await publish('near', BODIES);
  far = await publish('far', { left: BODIES.left, tower: [[4000, 3000, 0], [4, 4, 20]] }); // prettier-ignore
  server = await serveStage(join(import.meta.dirname, '../../tests/support/stage-page.ts'), folder);
  browser = await launchChromium();
  page = await openPage(near);
});
afterAll(async () => {
  await browser?.close();
  server?.close();
  await rm(folder, { recursive: true, force: true });
});

const category: Record<Body, string> = {
  left: 'Wall',
  right: 'Column',
  behind: 'Beam',
  ground: 'Slab',
  tower: 'Plate',
};
const these = (...bodies: Body[]): Where[] => bodies.map((body) => [{ is: 'category', value: category[body] }]);
const only = (...bodies: Body[]): ViewChange => ({ visibility: { ...SHOW_ALL, shown: setOf(these(...bodies)) } });

/** From the south, level. */
const FRONT: CameraPose = { position: [2, -7, 0.6], target: [2, 0, 0.6], fov: 50 };

/** Four numbers a pixel, line by line. */
interface Pixels {
  width: number;
  height: number;
  data: Buffer;
}

async function look(change: ViewChange, camera = FRONT, on = page): Promise<Pixels> {
  const { camera: _, ...initial } = INITIAL_VIEW;
  await on.evaluate(
    ([view, pose]) => {
      window.stage.show(view);
      window.stage.rig.jumpTo(pose);
    },
    [{ ...initial, ...change }, camera] as const,
  );
  const { data, ...size } = await on.evaluate(() => window.pixels());
  return { ...size, data: Buffer.from(data, 'base64') };
}

/** The part of the picture in which a body stands, with a margin for its lines. */
async function frameOf(body: Body, margin: number, on = page) {
  const [at, size] = BODIES[body];
  const corners = Array.from({ length: 8 }, (_, i) => at.map((value, axis) => value + (((i >> axis) & 1) === 1 ? size[axis]! : 0)) as Vec3); // prettier-ignore
  const points = await on.evaluate((all) => all.map((corner) => window.stage.project(corner)!), corners);
  const xs = points.map(({ x }) => x);
  const ys = points.map(({ y }) => y);
  return {
    left: Math.min(...xs) - margin,
    right: Math.max(...xs) + margin,
    top: Math.min(...ys) - margin,
    bottom: Math.max(...ys) + margin,
  };
}

const COLOUR_STEP = 6;
const isOther = (a: Pixels, b: Pixels, pixel: number) =>
  [0, 1, 2].some((part) => Math.abs(a.data[pixel * 4 + part]! - b.data[pixel * 4 + part]!) > COLOUR_STEP);

/** How many pixels differ within a part of the picture, and how many outside of it. */
function differences(a: Pixels, b: Pixels, part: Awaited<ReturnType<typeof frameOf>>) {
  let inside = 0;
  let outside = 0;
  for (let pixel = 0; pixel < a.width * a.height; pixel++) {
    if (!isOther(a, b, pixel)) continue;
    const [x, y] = [pixel % a.width, Math.floor(pixel / a.width)];
    if (x >= part.left && x <= part.right && y >= part.top && y <= part.bottom) inside++;
    else outside++;
  }
  return { inside, outside };
}

/** Mean colour in the middle of a body. */
async function colourOf(pixels: Pixels, body: Body): Promise<[number, number, number]> {
  const { left, right, top, bottom } = await frameOf(body, 0);
  const sum: [number, number, number] = [0, 0, 0];
  let count = 0;
  for (let y = Math.round(top + (bottom - top) * 0.4); y < top + (bottom - top) * 0.8; y++)
    for (let x = Math.round(left + (right - left) * 0.3); x < left + (right - left) * 0.6; x++, count++)
      for (let part = 0; part < 3; part++) sum[part]! += pixels.data[(y * pixels.width + x) * 4 + part]!;
  return sum.map((value) => value / count) as [number, number, number];
}

async function blueness(pixels: Pixels, body: Body): Promise<number> {
  const [red, , blue] = await colourOf(pixels, body);
  return blue - red;
}

const THREE = only('left', 'right', 'behind');
const at = async (body: Body) => {
  const { left, right, top, bottom } = await frameOf(body, 0);
  return [left + (right - left) * 0.45, top + (bottom - top) * 0.6] as const;
};
const pickAt = async (body: Body, on = page) =>
  on.evaluate(([x, y]) => window.stage.pick(x, y)?.name ?? null, await at(body));

describe('the picture', () => {
  it('changes where an element is hidden, and nowhere else', async () => {
    const all = await look(only('left', 'right'));
    const without = await look(only('left'));
    const { inside, outside } = differences(all, without, await frameOf('right', 3));
    expect(inside).toBeGreaterThan(400);
    expect(outside).toBe(0);
    const again = await look(only('left', 'right'));
    expect(differences(all, again, await frameOf('right', 3))).toEqual({ inside: 0, outside: 0 });
  });

  it('shows what is selected in indigo, and nothing else', async () => {
    const before = await look(THREE);
    const after = await look({ ...THREE, selection: these('left') });
    const { inside, outside } = differences(before, after, await frameOf('left', 3));
    expect(inside).toBeGreaterThan(400);
    expect(outside).toBe(0);
    expect(await blueness(after, 'left')).toBeGreaterThan((await blueness(before, 'left')) + 30);
  });

  it('draws lines as wide as they weigh, and in the same places', async () => {
    const inked = (ink: number) => look({ ...only('left'), style: { ...INITIAL_VIEW.style, look: 'ink', ink } });
    const none = await inked(0);
    const usual = await inked(1);
    const heavy = await inked(2.5);
    const part = await frameOf('left', 3);
    const drawn = [usual, heavy].map((pixels) => differences(none, pixels, part));
    expect(drawn.map(({ outside }) => outside)).toEqual([0, 0]);
    expect(drawn[0]!.inside).toBeGreaterThan(100);
    expect(drawn[1]!.inside / drawn[0]!.inside).toBeGreaterThan(1.8);
    expect(drawn[1]!.inside / drawn[0]!.inside).toBeLessThan(3.2);
  });

  it('shows through what is faded, the more the clearer it is', async () => {
    const faded = (clear: number) => look({ ...only('left', 'right'), fades: [{ of: setOf(these('right')), clear }] });
    const solid = await colourOf(await look(only('left', 'right')), 'right');
    const half = await colourOf(await faded(0.5), 'right');
    const clear = await colourOf(await faded(0.9), 'right');
    const gone = await colourOf(await look(only('left')), 'right');
    const away = (a: number[], b: number[]) => Math.hypot(...a.map((value, i) => value - b[i]!));
    expect(away(half, solid)).toBeGreaterThan(3);
    expect(away(half, gone)).toBeGreaterThan(3);
    expect(away(clear, gone)).toBeLessThan(away(half, gone));
  });

  it('of what is faded leaves everything else as it was', async () => {
    const before = await look(only('left', 'right'));
    const after = await look({ ...only('left', 'right'), fades: [{ of: setOf(these('right')), clear: 0.7 }] });
    expect(differences(before, after, await frameOf('right', 3)).outside).toBe(0);
    const selected = await look({
      ...only('left', 'right'),
      fades: [{ of: setOf(these('right')), clear: 0.7 }],
      selection: these('right'),
    });
    // What is selected shows, however clear.
    expect(await blueness(selected, 'right')).toBeGreaterThan((await blueness(after, 'right')) + 15);
  });

  it('has the shadow of a tower that stands far outside of it', async () => {
    const shot: CameraPose = { position: [0, -12, 9], target: [0, 0, 0], fov: 50 };
    const whole = { left: 0, right: VIEW.width, top: 0, bottom: VIEW.height };
    const with_ = await look(only('ground', 'tower'), shot);
    const without = await look(only('ground'), shot);
    expect(differences(with_, without, whole).inside).toBeGreaterThan(300);
  });

  it('lets no sun into a closed room where the roof meets the walls', async () => {
    const room = await publish('room', {
      left: [[-4.3, -3.3, 0], [0.3, 6.6, 3]], // prettier-ignore
      right: [[4, -3.3, 0], [0.3, 6.6, 3]], // prettier-ignore
      behind: [[-4, 3, 0], [8, 0.3, 3]], // prettier-ignore
      ground: [[-100, -100, -0.2], [200, 200, 0.2]], // prettier-ignore
      tower: [[-4.3, -3.3, 3], [8.6, 6.6, 0.3]], // prettier-ignore
    });
    const inside = await openPage(room);
    // Towards the wall to the north, which would have the sun of the south-west; far things are looked at, so that shadows are coarse.
    const shot: CameraPose = { position: [0, 0, 2.4], target: [0, 40, 2.4], fov: 50 };
    const { data, width } = await look(only('left', 'right', 'behind', 'ground', 'tower'), shot, inside);
    const brightness = async (z: number) => {
      const { x, y } = await inside.evaluate((at) => window.stage.project(at)!, [0.3, 3, z] as Vec3);
      return data[(Math.round(y) * width + Math.round(x)) * 4]!;
    };
    const middle = await brightness(2);
    for (const z of [2.97, 2.95, 2.9]) expect(Math.abs((await brightness(z)) - middle)).toBeLessThan(3);
    await inside.close();
  });

  it('moves what is spread, and tells by a line where it belongs', async () => {
    const spread = { by: 'outward', amount: 0.5, from: these('left') } as const;
    const before = await look(only('left', 'right'));
    const after = await look({ ...only('left', 'right'), spread });
    expect(differences(before, after, await frameOf('right', 3)).outside).toBeGreaterThan(100);
    // The right one stands 3 m from the left one's middle, and half of that farther now.
    const moved = await page.evaluate((wheres) => window.stage.boxOf(wheres), these('right'));
    moved.forEach((value, i) => expect(value).toBeCloseTo([4.5, 0, 0, 5.5, 1, 1][i]!, 2));
    const seen = await page.evaluate(() => {
      const { x, y } = window.stage.project([5, 0, 0.5])!;
      return window.stage.pick(x, y);
    });
    expect(seen?.name).toBe('right');
    expect(seen?.point[0]).toBeCloseTo(3.5, 2); // where it belongs
  });
});

describe('a cut', () => {
  const level = (z: number) => planeAt('a', [2, 0, z], [0, 0, 1]);
  const east = { ...planeAt('a', [2, 0, 0], [1, 0, 0]), isFramed: false };
  const cut = (part: Partial<Cuts>): ViewChange => ({ cuts: { ...NO_CUTS, ...part } });
  const ABOVE: CameraPose = { position: [2, -4, 5], target: [2, 0.5, 0], fov: 50 };
  const sections = () =>
    page.evaluate(async () => {
      for (let i = 0; i < 200 && !window.stage.sections.isExact; i++) await new Promise((done) => setTimeout(done, 25));
      return window.stage.sections.exact.flatMap(({ model, face, cuts }) =>
        cuts.map(({ row, area, isClosed }) => ({ key: face.key, name: model.index.name[row]!, area, isClosed })),
      );
    });

  it('takes away what lies before it, and nothing behind it', async () => {
    const whole = await look(only('left', 'right'));
    const after = await look({ ...only('left', 'right'), ...cut({ planes: [east] }) });
    const { inside, outside } = differences(whole, after, await frameOf('right', 3));
    expect(inside).toBeGreaterThan(400);
    // A column of pixels at most, in which a face that is seen edge on shows its back.
    expect(outside).toBeLessThan(40);
    expect([await pickAt('right'), await pickAt('left')]).toEqual([null, 'left']);
    const off = await look({
      ...only('left', 'right'),
      ...cut({ planes: [{ ...east, isOn: false }] }),
    });
    expect(differences(whole, off, await frameOf('right', 3))).toEqual({ inside: 0, outside: 0 });
  });

  it('leaves whole what is to stay whole', async () => {
    await look({ ...THREE, ...cut({ planes: [east], whole: setOf(these('right')) }) });
    expect(await pickAt('right')).toBe('right');
  });

  it('fills its section exactly, element by element, and a slice on both sides', async () => {
    await look({ ...THREE, ...cut({ planes: [{ ...level(0.5), thickness: 0.25, isFramed: false }] }) }, ABOVE);
    const found = (await sections()).sort((a, b) => (a.key + a.name < b.key + b.name ? -1 : 1));
    expect(found.map(({ key, name, isClosed }) => [key, name, isClosed])).toEqual([
      ['a back', 'behind', true],
      ['a back', 'left', true],
      ['a back', 'right', true],
      ['a', 'behind', true],
      ['a', 'left', true],
      ['a', 'right', true],
    ]);
    // Through published tiles, whose places are rounded to less than a millimetre.
    found.forEach(({ area }, i) => expect(area).toBeCloseTo([3, 1, 1][i % 3]!, 2));
  });

  it('shows its section as paper and ink in the face of the cut', async () => {
    const view = { ...only('left'), ...cut({ planes: [{ ...level(0.6), isFramed: false }] }) };
    await look(view, ABOVE);
    await sections();
    const pixels = await look(view, ABOVE);
    const middle = await page.evaluate(() => window.stage.project([0.5, 0.5, 0.6])!);
    const colour = [0, 0, 0];
    for (let y = -4; y <= 4; y++)
      for (let x = -4; x <= 4; x++) {
        const at = (Math.round(middle.y + y) * pixels.width + Math.round(middle.x + x)) * 4;
        for (let part = 0; part < 3; part++) colour[part]! += pixels.data[at + part]! / 81;
      }
    // Concrete is paper with a little ink; the inside of what is merely open is brown.
    expect(Math.min(...colour)).toBeGreaterThan(170);
    expect(Math.max(...colour) - Math.min(...colour)).toBeLessThan(14);
  });

  it('is exact also where the camera sees nothing of it', async () => {
    const away: CameraPose = { position: [0, 0, 900], target: [0, 0, 1000], fov: 50 };
    await look({ ...only('left'), ...cut({ planes: [level(0.7)] }) }, away);
    const [found] = await sections();
    expect(found!.area).toBeCloseTo(1, 2);
  });

  it('to a box leaves what lies within', async () => {
    const box = boxAbout([0, 0, 0, 1, 1, 1], 0.2);
    await look({ ...THREE, ...cut({ box }) });
    expect([await pickAt('left'), await pickAt('right')]).toEqual(['left', null]);
    await look({ ...THREE, ...cut({ box: { ...box, middle: [3.5, 0.5, 0.5] } }) });
    expect([await pickAt('left'), await pickAt('right')]).toEqual([null, 'right']);
  });
});

describe('picking', () => {
  it('takes what is in front, and goes through what is faded or hidden', async () => {
    await look(THREE);
    expect(await pickAt('right')).toBe('right');
    await look({ ...THREE, fades: [{ of: setOf(these('right')), clear: 0.5 }] });
    expect(await pickAt('right')).toBe('behind');
    await look({ ...THREE, fades: [{ of: withoutElements(ALL_ELEMENTS, these('left')), clear: 0.5 }] });
    expect(await pickAt('right')).toBeNull();
    expect(await pickAt('left')).toBe('left');
  });

  it('works although the background workers break down', async () => {
    const alone = await openPage(near, (one) => one.route('**/page-worker.ts', (route) => route.abort()));
    await look(THREE, FRONT, alone);
    expect(await pickAt('left', alone)).toBe('left');
    await alone.close();
  });
});

it('a model that cannot be had is told of and keeps no other one away', async () => {
  const alone = await openStagePage(browser, server.origin, VIEW, 'openStage');
  const gone = { ...near, modelId: 'gone', revisionId: 'gone', baseUrl: '/gone/' };
  const reason = await alone.evaluate((sources) => window.openStage(sources).then(() => null, String), [gone, near]);
  expect(reason).toContain('could not be loaded (404)');
  const [loaded, isFramed] = await alone.evaluate(() => [
    window.stage.loadedModels.map(({ source }) => source.modelId),
    window.stage.wholePose() !== null,
  ]);
  expect([loaded, isFramed]).toEqual([['near'], true]);
  await alone.close();
});

describe('standing close to a wall', () => {
  it('on a site of kilometres, the wall is there', async () => {
    const wide = await openPage(far);
    const close: CameraPose = { position: [0.5, -0.3, 0.5], target: [0.5, 0, 0.5], fov: 50 };
    const pixels = await look({}, close, wide);
    const empty = await look({ visibility: { ...SHOW_ALL, hiddenModels: ['far'] } }, close, wide);
    const whole = { left: 0, right: VIEW.width, top: 0, bottom: VIEW.height };
    expect(differences(pixels, empty, whole).inside).toBeGreaterThan(VIEW.width * VIEW.height * 0.9);
    await wide.close();
  });
});

describe('surfaces, asked at full detail whatever the camera sees', () => {
  const AWAY: CameraPose = { position: [0, 0, 900], target: [0, 0, 1000], fov: 50 };
  beforeAll(async () => {
    await look(THREE, AWAY); // nothing is in the picture
  });

  it('are hit where they are, with normal and element', async () => {
    const hit = await page.evaluate(() => {
      const { surfaces, frame } = window.stage;
      const from = frame.toStage([3.25, -5, 0.5]);
      const ray = window.stage.rig.ray(0, 0);
      ray.set(from, new window.Vector3(0, 1, 0));
      return surfaces.exactHit(ray);
    });
    expect(hit!.element.guid).toBeTruthy();
    expect(hit!.normal!.map(Math.round)).toEqual([0, -1, 0]);
    expect(hit!.point.map((value) => Math.round(value * 1000) / 1000)).toEqual([3.25, 0, 0.5]);
    expect(hit!.distance).toBeCloseTo(5, 3);
  });

  it('say what is meant by pointing near a place, which is exact although the camera sees a coarse level', async () => {
    await look(THREE);
    const found = await page.evaluate(async () => {
      const { stage } = window;
      await stage.surfaces.load([2, 0, 0.5], 12);
      const { left, top } = document.querySelector('canvas')!.getBoundingClientRect();
      const kinds = new Set(['corner', 'edge', 'middle', 'square', 'face'] as const);
      const at = (point: [number, number, number], from: [number, number, number] | null = null, aside = 3) => {
        const { x, y } = stage.project(point)!;
        const place = stage.placeAt(x + left + aside, y + top + aside, kinds, 6, from);
        return place && `${place.kind} ${place.point.map((value) => Math.round(value * 1000) / 1000).join()}`;
      };
      return [
        at([3, 0, 1]),
        at([3.5, 0, 1]),
        at([3.25, 0, 1], null, 0),
        at([3.4, 0, 0.6], null, 0),
        at([3.4, 0, 0.6], [3.4, -2, 0.6]), // square to the face
        at([4, 0, 0.4], [0, 0, 0.4]), // square to the edge
        at([4, 4, 0.8], null, 0), // a corner that the right one hides
      ];
    });
    expect(found.slice(0, 4)).toEqual(['corner 3,0,1', 'middle 3.5,0,1', 'edge 3.25,0,1', 'face 3.4,0,0.6']);
    expect(found.slice(4, 6)).toEqual(['square 3.4,0,0.6', 'square 4,0,0.4']);
    expect(found[6]).not.toContain('4,4,');
    await look(THREE, AWAY);
  });

  it('are as far apart as they are', async () => {
    const distance = await page.evaluate(async () => {
      const [model] = window.stage.loadedModels;
      const ref = (name: string) => ({
        model: model!.source.modelId,
        guid: model!.index.guid[model!.index.name.indexOf(name)]!,
      });
      return window.stage.surfaces.distance(ref('left'), ref('right'));
    });
    expect(distance!.distance).toBeCloseTo(2, 3);
    expect([distance!.from[0], distance!.to[0]].map((value) => Math.round(value * 1000) / 1000)).toEqual([1, 3]);
  });

  it('stop a ball and a standing person where they touch', async () => {
    const casts = await page.evaluate(async () => {
      const { surfaces } = window.stage;
      await surfaces.load([2, 0.5, 0.5], 8);
      const east = [1, 0, 0] as [number, number, number];
      return [
        surfaces.sphereCast([1.5, 0.5, 0.5], east, 0.25, 10)?.travel,
        surfaces.sphereCast([1.5, 1.3, 0.5], east, 0.25, 10)?.travel,
        surfaces.capsuleCast([1.5, 0.5, 0.9], [1.5, 0.5, 2.2], east, 0.2, 10)?.travel,
        surfaces.capsuleCast([1.5, 0.5, 1.6], [1.5, 0.5, 2.2], east, 0.2, 10)?.travel,
      ];
    });
    expect(casts[0]).toBeCloseTo(1.25, 3); // to the right one at 3, less the radius
    expect(casts[1]).toBeUndefined(); // past it
    expect(casts[2]).toBeCloseTo(1.3, 3);
    expect(casts[3]).toBeUndefined(); // above it
  });

  it('say how wide it is between them, how high above the floor, how large a face', async () => {
    await look(THREE);
    const found = await page.evaluate(async () => {
      const { measured, loadedModels } = window.stage;
      const [model] = loadedModels;
      const ref = (name: string) => model!.refOf(model!.index.name.indexOf(name));
      const along = ([a, b]: [number[], number[]]) => Math.hypot(...a.map((value, i) => value - b[i]!));
      // From the east face of the left cube to the right one; on the ground between both, the narrowest way.
      const wall = await measured.clearWidth([1, 0.5, 0.5], [1, 0, 0], null);
      const heights = await measured.floorBelow([3.5, 0.5, 1], ref('right'));
      const [left, ground] = [
        await measured.face(ref('left'), [0.4, 0, 0.4]),
        await measured.face(ref('ground'), [9, 9, 0]),
      ];
      return {
        wall: wall && along(wall),
        height: heights && along(heights),
        left: left?.area,
        corners: left?.outline.length,
        ground: ground?.area,
        round: measured.round(ref('left'), [0.4, 0, 0.4]),
      };
    });
    expect(found.wall).toBeCloseTo(2, 3);
    expect(found.height).toBeNull(); // the ground is not shown
    expect(found.left).toBeCloseTo(1, 3);
    expect(found.corners).toBe(4);
    expect(found.ground).toBeCloseTo(1600, 0);
    expect(found.round).toBeNull();
  });

  it('know the floor under a place and the room around it', async () => {
    await look({ visibility: SHOW_ALL });
    const found = await page.evaluate(async () => {
      const { measured, rooms, loadedModels } = window.stage;
      const [model] = loadedModels;
      const floor = await measured.floorBelow([3.5, 0.5, 1], model!.refOf(model!.index.name.indexOf('right')));
      return { floor: floor?.[1], room: await rooms.around([2, 2, -0.7]) };
    });
    expect(found.floor!.map((value) => Math.round(value * 100) / 100 + 0)).toEqual([3.5, 0.5, 0]);
    expect(found.room).toBeNull(); // nothing closes around the place between the three
    await look(THREE, AWAY);
  });

  it('are not there where they are hidden or faded', async () => {
    await look({ ...only('left', 'right'), fades: [{ of: setOf(these('right')), clear: 0.5 }] }, AWAY);
    const nearest = await page.evaluate(() => window.stage.surfaces.nearestPoint([3.5, -1, 0.5], 10));
    expect(nearest!.point[0]).toBeCloseTo(1, 2);
  });
});
