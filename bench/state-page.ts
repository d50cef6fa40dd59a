import { BoxGeometry, Color, Mesh, MeshLambertMaterial, Scene } from 'three';
import { ALL_ELEMENTS, setOf, withoutElements, type ElementSet } from '@/core/elements/element-set';
import type { StageModelSource } from '@/core/project/models';
import { SHOW_ALL } from '@/core/view/visibility';
import { Stage } from '@/stage/stage';

/** Milliseconds of script until the next frame can draw the new state. */
export interface StateFigures {
  elements: number;
  hide: number[];
  fade: number[];
  /** One object an element, of which each is switched. */
  reference: number[];
  /** Bytes of the rule as it goes over the line. */
  ruleBytes: number;
}

declare global {
  interface Window {
    changeState(source: StageModelSource, rounds: number): Promise<StateFigures>;
  }
}

window.changeState = async (source, rounds) => {
  const stage = new Stage(document.getElementById('stage')!, {});
  await stage.setModels([source]);
  const { index } = stage.loadedModels[0]!;
  // Every category but one, so that nearly all elements change.
  const [first, ...others] = index.category.values;
  const most = others.map((value) => [{ is: 'category', value }] as const);
  const hidden: ElementSet = withoutElements(ALL_ELEMENTS, most);
  const figures: StateFigures = {
    elements: index.count,
    hide: [],
    fade: [],
    reference: [],
    ruleBytes: JSON.stringify({ type: 'view-changed', change: { visibility: { ...SHOW_ALL, shown: hidden } } }).length,
  };
  if (first === undefined) throw new Error('the model has no categories');
  const timed = (into: number[], work: () => void) => {
    const start = performance.now();
    work();
    into.push(performance.now() - start);
  };
  const scene = new Scene();
  const geometry = new BoxGeometry();
  const material = new MeshLambertMaterial({ color: new Color('#888') });
  const meshes = index.category.codes.map((code) => {
    const mesh = new Mesh(geometry, material);
    mesh.userData.code = code;
    scene.add(mesh);
    return mesh;
  });
  for (let round = 0; round < rounds; round++) {
    timed(figures.hide, () => stage.show({ visibility: { ...SHOW_ALL, shown: hidden } }));
    timed(figures.hide, () => stage.show({ visibility: SHOW_ALL }));
    timed(figures.fade, () => stage.show({ fades: [{ of: setOf(most), clear: 0.5 }] }));
    timed(figures.fade, () => stage.show({ fades: [] }));
    for (const shown of [false, true])
      timed(figures.reference, () => {
        scene.traverse((object) => {
          if (object instanceof Mesh) object.visible = shown || object.userData.code === 0;
        });
        scene.updateMatrixWorld(); // as every renderer does before it draws
      });
    await new Promise((done) => requestAnimationFrame(done));
  }
  if (meshes.length !== index.count) throw new Error('the reference is incomplete');
  stage.dispose();
  return figures;
};
