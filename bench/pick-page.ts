import { DoubleSide, Mesh, MeshBasicMaterial, Raycaster, type Object3D } from 'three';
import { SNAP_KINDS } from '@/core/snap/choose-snap';
import type { StageModelSource } from '@/core/project/models';
import { Stage } from '@/stage/stage';

/** What runs in the browser: places pointed at all over the picture, and the same rays by three.js alone. */

export interface PickFigures {
  /** Milliseconds that it takes to say what is meant by pointing at a place. */
  snap: number[];
  /** Milliseconds of three.js's own raycast against the finest surfaces, for the same rays. */
  raycast: number[];
  /** Places of which something was met. */
  met: number;
}

declare global {
  interface Window {
    pickStage(source: StageModelSource, places: [number, number][]): Promise<PickFigures>;
  }
}

const nextFrame = () => new Promise((done) => requestAnimationFrame(done));

window.pickStage = async (source, places) => {
  let loading = true;
  const stage = new Stage(document.getElementById('stage')!, { onLoading: (now) => (loading = now) });
  await stage.setModels([source]);
  stage.showWhole();
  for (let calm = 0; calm < 60; calm = loading ? 0 : calm + 1) await nextFrame();
  const [model] = stage.loadedModels;
  const meshes = await model!.finest.load(
    () => true,
    () => 0,
  );
  const figures: PickFigures = { snap: [], raycast: [], met: 0 };
  const { left, top, width, height } = stage.bounds;
  const kinds = new Set(SNAP_KINDS);
  const material = new MeshBasicMaterial({ side: DoubleSide });
  const plain: Object3D[] = meshes.map(({ geometry }) => {
    const mesh = new Mesh(geometry, material);
    mesh.matrixAutoUpdate = false;
    mesh.matrixWorld.copy(model!.group.matrixWorld);
    return mesh;
  });
  for (const { geometry } of meshes) geometry.computeBoundingSphere();
  const caster = new Raycaster();
  let last = null;
  for (const [x, y] of places) {
    const [px, py] = [left + x * width, top + y * height];
    const start = performance.now();
    last = stage.placeAt(px, py, kinds, 10, last?.point ?? null);
    // Where nothing is met there is nothing to be found out.
    if (!last) continue;
    figures.snap.push(performance.now() - start);
    figures.met++;
    caster.ray.copy(stage.rig.ray(px, py));
    const then = performance.now();
    caster.intersectObjects(plain, false);
    figures.raycast.push(performance.now() - then);
  }
  stage.dispose();
  return figures;
};
