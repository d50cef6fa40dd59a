import {
  AmbientLight,
  BasicShadowMap,
  DirectionalLight,
  HemisphereLight,
  PCFShadowMap,
  type OrthographicCamera,
  type Scene,
  type WebGLRenderer,
} from 'three';
import { boxCentre, boxDiagonal, isEmptyBox, type Box3 } from '@/core/math/box3';
import type { CoordinateFrame } from '../coordinate-frame';
import type { Feature } from './feature';

/** How much of the sun's light a shadow takes. */
const SHADOW = 0.55;

/** Soft light of sky and ground, and a warm sun from the south-west whose shadows lie over all models. */
export class Light implements Feature {
  private readonly sun = new DirectionalLight('#fff1dc', 2.1);
  private areShadowsStale = false;

  constructor(
    private readonly scene: Scene,
    private readonly renderer: WebGLRenderer,
    private readonly frameOfReference: CoordinateFrame,
    inSoftware: boolean,
  ) {
    renderer.shadowMap.enabled = true;
    renderer.shadowMap.type = inSoftware ? BasicShadowMap : PCFShadowMap;
    renderer.shadowMap.autoUpdate = false;
    const sky = new HemisphereLight('#fffaf0', '#cdbd9f', 1.35);
    sky.position.set(0, 0, 1);
    this.sun.castShadow = true;
    this.sun.shadow.mapSize.set(2048, 2048);
    this.sun.shadow.bias = -0.0004; // surfaces carry no normals, so only the depth can be shifted
    this.sun.shadow.intensity = 0; // until there is something that casts one
    scene.add(sky, new AmbientLight('#ffffff', 0.35), this.sun, this.sun.target);
  }

  /** Sees all that may cast a shadow. */
  get shadowCamera(): OrthographicCamera {
    return this.sun.shadow.camera;
  }

  /** Lights what fills a box in project coordinates. */
  reach(box: Box3): void {
    if (isEmptyBox(box)) return;
    const centre = this.frameOfReference.toStage(boxCentre(box));
    const radius = Math.max(boxDiagonal(box) / 2, 1);
    const { position, target, shadow } = this.sun;
    target.position.copy(centre);
    position.set(centre.x - radius, centre.y - 1.24 * radius, centre.z + 1.7 * radius);
    const { camera } = shadow;
    Object.assign(camera, { left: -radius, right: radius, top: radius, bottom: -radius, near: 0.1, far: radius * 5 });
    camera.updateProjectionMatrix();
    // The tile loader asks what this camera sees before the first shadow is drawn.
    camera.position.copy(position);
    camera.lookAt(target.position);
    camera.updateMatrixWorld(true);
    target.updateMatrixWorld();
    this.sun.updateMatrixWorld();
    this.invalidate();
  }

  /** Something that casts shadows stands elsewhere, or shows otherwise. */
  invalidate(): void {
    this.areShadowsStale = true;
  }

  /** Draws the shadows anew with the next picture: once all surfaces are there, because they cost as much as it. */
  castShadows(): void {
    if (!this.areShadowsStale) return;
    this.areShadowsStale = false;
    this.renderer.shadowMap.needsUpdate = true;
    this.sun.shadow.intensity = SHADOW;
  }

  dispose(): void {
    this.sun.shadow.dispose();
    this.scene.remove(this.sun, this.sun.target);
  }
}
