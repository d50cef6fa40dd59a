import {
  AmbientLight,
  BufferAttribute,
  BufferGeometry,
  Color,
  DirectionalLight,
  Mesh,
  MeshLambertMaterial,
  PerspectiveCamera,
  Scene,
  WebGLRenderer,
} from 'three';
import type { StageModelSource } from '@/core/project/models';
import type { CameraPose } from '@/core/view/camera';
import { Stage } from '@/stage/stage';

/** What runs in the browser: the stage and, for comparison, one mesh an element, along the same way of the camera. */

export interface DrawFigures {
  drawCalls: number;
  triangles: number;
  /** Milliseconds of script on the main thread, frame by frame. */
  script: number[];
}

/** Triangles of each element, in the frame of the model, as the plain side draws them. */
export interface PlainElement {
  positions: number[];
  color: [number, number, number];
}

declare global {
  interface Window {
    drawStage(source: StageModelSource, poses: CameraPose[]): Promise<DrawFigures>;
    drawPlain(elements: string, poses: CameraPose[]): Promise<DrawFigures>;
  }
}

/** Calls a frame's work and adds the time that it took. */
function timed(script: number[], work: () => void): void {
  const start = performance.now();
  work();
  script.push(performance.now() - start);
}

const nextFrame = () => new Promise((done) => requestAnimationFrame(done));

window.drawStage = async (source, poses) => {
  const element = document.getElementById('stage')!;
  let loading = true;
  const stage = new Stage(element, { onLoading: (now) => (loading = now) });
  await stage.setModels([source]);
  stage.showWhole();
  // Lines and search trees arrive after the tiles; then all is on the screen.
  for (let calm = 0; calm < 60; calm = loading ? 0 : calm + 1) await nextFrame();
  const figures: DrawFigures = { drawCalls: 0, triangles: 0, script: [] };
  const { render } = stage['renderer'].info;
  const original = window.requestAnimationFrame.bind(window);
  window.requestAnimationFrame = (callback) => original((now) => timed(figures.script, () => callback(now)));
  for (const pose of poses) {
    const before = figures.script.length;
    stage.rig.jumpTo(pose);
    while (figures.script.length === before) await new Promise((done) => setTimeout(done, 1));
    figures.drawCalls = Math.max(figures.drawCalls, render.calls);
    figures.triangles = Math.max(figures.triangles, render.triangles);
  }
  window.requestAnimationFrame = original;
  stage.dispose();
  return figures;
};

window.drawPlain = async (address, poses) => {
  const elements = (await (await fetch(address)).json()) as PlainElement[];
  const canvas = document.getElementById('stage')!;
  const renderer = new WebGLRenderer({ antialias: true });
  renderer.setSize(canvas.clientWidth, canvas.clientHeight);
  canvas.append(renderer.domElement);
  const scene = new Scene();
  scene.add(new AmbientLight('#ffffff', 1), new DirectionalLight('#ffffff', 2));
  const materials = new Map<string, MeshLambertMaterial>();
  for (const { positions, color } of elements) {
    const key = color.join();
    if (!materials.has(key))
      materials.set(key, new MeshLambertMaterial({ color: new Color(...color), flatShading: true }));
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(Float32Array.from(positions), 3));
    geometry.computeVertexNormals();
    scene.add(new Mesh(geometry, materials.get(key)));
  }
  const camera = new PerspectiveCamera(50, canvas.clientWidth / canvas.clientHeight, 0.1, 2000);
  camera.up.set(0, 0, 1);
  const figures: DrawFigures = { drawCalls: 0, triangles: 0, script: [] };
  const draw = ({ position, target, fov }: CameraPose) => {
    camera.fov = fov;
    camera.updateProjectionMatrix();
    camera.position.set(...position);
    camera.lookAt(...target);
    renderer.render(scene, camera);
  };
  draw(poses[0]!);
  await nextFrame();
  for (const pose of poses) {
    timed(figures.script, () => draw(pose));
    figures.drawCalls = Math.max(figures.drawCalls, renderer.info.render.calls);
    figures.triangles = Math.max(figures.triangles, renderer.info.render.triangles);
    await nextFrame();
  }
  renderer.dispose();
  renderer.domElement.remove();
  return figures;
};
