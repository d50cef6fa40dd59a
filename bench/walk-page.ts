import { Ray, Vector3 } from 'three';
import { boxCentre } from '@/core/math/box3';
import type { StageModelSource } from '@/core/project/models';
import { BODIES } from '@/core/walk/body';
import { walk, type Walker } from '@/core/walk/walk';
import { Stage } from '@/stage/stage';
import { Ground } from '@/stage/walking/ground';

/** What runs in the browser: somebody walks to and fro on a storey, turning where something stands in the way. */

export interface WalkFigures {
  /** Milliseconds of script a step. */
  step: number[];
  /** Milliseconds of a single ray down to the floor by the same surfaces, once a step. */
  ray: number[];
  metres: number;
}

declare global {
  interface Window {
    walkStage(source: StageModelSource): Promise<WalkFigures>;
  }
}

const STEPS = 1500;
const SECONDS = 1 / 60;
const PACE = 1.4;
const nextFrame = () => new Promise((done) => requestAnimationFrame(done));

window.walkStage = async (source) => {
  let loading = true;
  const stage = new Stage(document.getElementById('stage')!, { onLoading: (now) => (loading = now) });
  await stage.setModels([source]);
  stage.showWhole();
  for (let calm = 0; calm < 60; calm = loading ? 0 : calm + 1) await nextFrame();
  for (const model of stage.loadedModels)
    await model.finest.load(
      () => true,
      () => 0,
    );
  const ground = new Ground(() => stage.loadedModels, stage.frame, stage.surfaces);
  const [x, y] = boxCentre(stage.extent);
  const floors = stage.loadedModels[0]!.index.storeys.map(({ elevation }) => elevation);
  const floor = floors[Math.floor(floors.length / 2)] ?? 0;
  let walker: Walker | null = null;
  // Somewhere near the middle of a storey in the middle somebody can stand.
  for (let ring = 0; ring < 40 && !walker; ring++) {
    const turn = ring * 2.4;
    const pose = await stage.walking.poseAt([x + Math.cos(turn) * ring * 0.5, y + Math.sin(turn) * ring * 0.5, floor]);
    if (pose) walker = { feet: [pose.position[0], pose.position[1], pose.position[2] - BODIES.adult.eye], fall: 0 };
  }
  if (!walker) throw new Error('Nobody can stand in the middle of this model.');
  const figures: WalkFigures = { step: [], ray: [], metres: 0 };
  let bearing = 0.3;
  const down = new Vector3(0, 0, -1);
  for (let step = 0; step < STEPS; step++) {
    const way = [Math.cos(bearing) * PACE * SECONDS, Math.sin(bearing) * PACE * SECONDS] as const;
    const start = performance.now();
    const next = walk(walker, way, SECONDS, BODIES.adult, ground);
    figures.step.push(performance.now() - start);
    const gone = Math.hypot(next.feet[0] - walker.feet[0], next.feet[1] - walker.feet[1]);
    figures.metres += gone;
    if (gone < PACE * SECONDS * 0.5) bearing += 0.7;
    walker = next;
    const ray = new Ray(stage.frame.toStage([walker.feet[0], walker.feet[1], walker.feet[2] + 0.3]), down);
    const then = performance.now();
    stage.surfaces.hit(ray);
    figures.ray.push(performance.now() - then);
  }
  stage.dispose();
  return figures;
};
