import { NO_CUTS, planeAt, type Cuts } from '@/core/cut/cuts';
import type { Vec3 } from '@/core/math/mat4';
import type { StageModelSource } from '@/core/project/models';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { Stage } from '@/stage/stage';
import { fetchSurfaces } from '@/stage/workers/surfaces-task';
import { cutElement } from '@/core/section/section';

/** What runs in the browser: planes through a model, and the same by testing every triangle. */

export interface CutFigures {
  /** Milliseconds of the exact section in a worker, plane by plane, the tiles being there. */
  section: number[];
  /** The same by testing every triangle of every element, on the page. */
  everyTriangle: number[];
  /** The longest time for which the page did nothing else, plane by plane, from the plane until its section shows. */
  blocked: number[];
  /** Milliseconds a frame while a plane is dragged, and with nothing cut: wall time until it is drawn. */
  dragged: number[];
  uncut: number[];
}

declare global {
  interface Window {
    cutStage(source: StageModelSource, planes: { at: Vec3; normal: Vec3 }[]): Promise<CutFigures>;
  }
}

const FRAMES = 16;
const nextFrame = () => new Promise((done) => requestAnimationFrame(done));
const pause = (milliseconds: number) => new Promise((done) => setTimeout(done, milliseconds));

window.cutStage = async (source, planes) => {
  let loading = true;
  const stage = new Stage(document.getElementById('stage')!, { onLoading: (now) => (loading = now) });
  await stage.setModels([source]);
  stage.showWhole();
  for (let calm = 0; calm < 60; calm = loading ? 0 : calm + 1) await nextFrame();
  const cutBy = (id: string, at: Vec3, normal: Vec3): Cuts => ({ ...NO_CUTS, planes: [planeAt(id, at, normal)] });
  const shown = async () => {
    while (!stage.sections.isExact) await pause(5);
    await nextFrame();
  };
  const figures: CutFigures = { section: [], everyTriangle: [], blocked: [], dragged: [], uncut: [] };

  // Every tile is read once before anything is measured.
  for (const [i, { at, normal }] of planes.entries()) {
    stage.show({ cuts: cutBy(`first ${i}`, at, normal) });
    await shown();
  }

  const run = stage['pool'].run.bind(stage['pool']);
  for (const [i, { at, normal }] of planes.entries()) {
    stage.show({ cuts: NO_CUTS });
    await pause(50);
    let longest = 0;
    let isDone = false;
    let last = performance.now();
    const channel = new MessageChannel();
    channel.port1.onmessage = () => {
      const now = performance.now();
      longest = Math.max(longest, now - last);
      last = now;
      if (!isDone) channel.port2.postMessage(null);
    };
    channel.port2.postMessage(null);
    stage['pool'].run = async (...input) => {
      const start = performance.now();
      const output = await run(...input);
      if (input[0] === 'cut-tiles') figures.section.push(performance.now() - start);
      return output;
    };
    stage.show({ cuts: cutBy(`plane ${i}`, at, normal) });
    await shown();
    isDone = true;
    stage['pool'].run = run;
    figures.blocked.push(longest);
  }

  const [model] = stage.loadedModels;
  const tiles = (await model!.finest.within(() => true)).map(({ url }) => url);
  const surfaces = await Promise.all(tiles.map(fetchSurfaces));
  const meshes = surfaces.flatMap(({ positions, indices, elements }) => {
    const ofElement = new Map<number, number[]>();
    for (const vertex of indices) {
      const corners = ofElement.get(elements[vertex]!) ?? [];
      ofElement.set(elements[vertex]!, corners);
      corners.push(positions[vertex * 3]!, positions[vertex * 3 + 1]!, positions[vertex * 3 + 2]!);
    }
    return [...ofElement.values()].map((corners) => ({
      positions: Float64Array.from(corners),
      indices: Uint32Array.from({ length: corners.length / 3 }, (_, i) => i),
    }));
  });
  for (const { at, normal } of planes) {
    const { offset } = planeAt('reference', at, normal);
    const own = { normal, offset: offset - normal.reduce((sum, one, k) => sum + one * source.offset[k]!, 0) };
    const start = performance.now();
    for (const mesh of meshes) cutElement([mesh], own);
    figures.everyTriangle.push(performance.now() - start);
  }

  const gl = stage['renderer'].getContext();
  const frame = async (cuts: Cuts) => {
    const start = performance.now();
    stage.show({ cuts });
    stage['draw']();
    // The frame is over when its pixels can be read.
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
    const taken = performance.now() - start;
    await nextFrame();
    return taken;
  };
  const [{ at, normal }] = planes as [{ at: Vec3; normal: Vec3 }];
  for (let i = 0; i < FRAMES; i++) {
    figures.uncut.push(await frame(NO_CUTS));
    await nextFrame();
  }
  for (let i = 0; i < FRAMES; i++) {
    const moved = at.map((value, k) => value + normal[k]! * 0.05 * i) as Vec3;
    figures.dragged.push(await frame({ ...INITIAL_VIEW.cuts, ...cutBy('dragged', moved, normal) }));
    await nextFrame();
  }
  stage.dispose();
  return figures;
};
