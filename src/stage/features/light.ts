import {
  AmbientLight,
  BasicShadowMap,
  Color,
  DirectionalLight,
  HemisphereLight,
  PCFShadowMap,
  Vector3,
  type OrthographicCamera,
  type Scene,
  type WebGLRenderer,
} from 'three';
import { boxCentre, boxDiagonal, isEmptyBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import type { Light as LightPart } from '@/core/view/light';
import type { CameraRig } from '../camera/camera-rig';
import type { CoordinateFrame } from '../coordinate-frame';
import type { Feature } from './feature';

/** How much of the sun's light a shadow takes: under the even light of a table, and under the sun itself. */
const EVEN_SHADOW = 0.55;
const SUN_SHADOW = 0.86;
/** The sun of a model on a table: from the south-west. */
const EVEN_SUN = new Vector3(-1, -1.24, 1.7).normalize();
const SUN = 2.1;
const SKY = 1.35;
const AMBIENT = 0.35;
const WARM = new Color('#fff1dc');
const LOW = new Color('#ffb36b');
/** Degrees above the horizon over which sunlight grows to its full strength and loses its red. */
const FULL_SUN = 14;
/** Of the light of the sky what is left at night. */
const NIGHT_SKY = 0.22;
const DUSK = 6;
/** Pixels of the shadows' picture along each side. */
const MAP = 4096;
const MAP_IN_SOFTWARE = 2048;
/** The least radius about what is looked at within which shadows fall, metres: from inside a room one sees out of it. */
const LEAST_RADIUS = 42;
/** Radii go in steps, so that shadows do not creep while one moves. */
const RADIUS_STEP = Math.SQRT2;
/** What is looked at may move by this share of the radius before shadows are fitted anew. */
const SLACK = 0.35;

/** Stops by which all is brighter where no sky is seen. */
const INSIDE_STOPS = 0.45;
const ADAPTED = 0.02;
const ADAPTING_SHARE = 0.2;

/** Where the sun stands over the place. */
export interface Sun {
  /** Unit vector towards it, project coordinates. */
  direction: Vec3;
  /** Degrees above the horizon. */
  elevation: number;
}

/** Light of sky and ground, and one sun whose shadows are fitted to what one looks at. */
export class Light implements Feature {
  private readonly sunLight = new DirectionalLight(WARM, SUN);
  private readonly sky = new HemisphereLight('#fffaf0', '#cdbd9f', SKY);
  private readonly ambient = new AmbientLight('#ffffff', AMBIENT);
  private areShadowsStale = false;
  private isReady = false;
  private box: { centre: Vector3; radius: number } | null = null;
  private fitted: { centre: Vector3; radius: number } | null = null;
  private readonly towards = EVEN_SUN.clone();
  private sun: Sun | null = null;
  /** Stops by which the eyes are used to a dark place, and are going to be. */
  private adapted = 0;
  private adaptedGoal = 0;
  private part: LightPart = { at: null, shadows: true, exposure: 0 };

  constructor(
    private readonly scene: Scene,
    private readonly renderer: WebGLRenderer,
    private readonly frameOfReference: CoordinateFrame,
    inSoftware: boolean,
  ) {
    renderer.shadowMap.enabled = true;
    renderer.shadowMap.type = inSoftware ? BasicShadowMap : PCFShadowMap;
    renderer.shadowMap.autoUpdate = false;
    this.sky.position.set(0, 0, 1);
    this.sunLight.castShadow = true;
    const size = inSoftware ? MAP_IN_SOFTWARE : Math.min(MAP, renderer.capabilities.maxTextureSize);
    this.sunLight.shadow.mapSize.set(size, size);
    this.sunLight.shadow.bias = -0.0004; // surfaces carry no normals, so only the depth can be shifted
    this.sunLight.shadow.intensity = 0; // until there is something that casts one
    scene.add(this.sky, this.ambient, this.sunLight, this.sunLight.target);
  }

  /** Sees all that may cast a shadow into what one looks at. */
  get shadowCamera(): OrthographicCamera {
    return this.sunLight.shadow.camera;
  }

  /** @param sun where it stands over the place; null for the even light of a table */
  show(part: LightPart, sun: Sun | null): void {
    const isTurned = sun?.direction.join() !== this.sun?.direction.join();
    this.part = part;
    this.sun = sun;
    const bright = 2 ** (part.exposure + this.adapted);
    const height = sun?.elevation ?? 90;
    const strength = sun ? Math.min(1, Math.max(0, (height + 0.8) / FULL_SUN)) : 1;
    const day = Math.min(1, Math.max(NIGHT_SKY, NIGHT_SKY + (1 - NIGHT_SKY) * ((height + DUSK) / (2 * DUSK))));
    this.sunLight.intensity = SUN * Math.sqrt(strength) * bright;
    this.sunLight.color.copy(LOW).lerp(WARM, sun ? strength : 1);
    this.sky.intensity = SKY * day * bright;
    this.ambient.intensity = AMBIENT * day * bright;
    // The sun below the horizon lights nothing, and casts no shadows from below.
    const { direction } = sun ?? { direction: EVEN_SUN.toArray() };
    this.towards.set(direction[0], direction[1], Math.max(direction[2], 0.01)).normalize();
    if (isTurned) {
      this.fitted = null;
      this.invalidate();
    }
    this.applyShadow();
  }

  /** Gets used to how open the sky is, 0..1. Returns whether it is not yet. */
  adapt(openness: number): boolean {
    this.adaptedGoal = INSIDE_STOPS * (1 - openness);
    return Math.abs(this.adaptedGoal - this.adapted) > ADAPTED;
  }

  /** One frame more of it. Returns whether more are to follow. */
  goOnAdapting(): boolean {
    const gap = this.adaptedGoal - this.adapted;
    if (gap === 0) return false;
    this.adapted = Math.abs(gap) <= ADAPTED ? this.adaptedGoal : this.adapted + gap * ADAPTING_SHARE;
    this.show(this.part, this.sun);
    return this.adapted !== this.adaptedGoal;
  }

  /** Lights what fills a box in project coordinates. */
  reach(box: Box3): void {
    if (isEmptyBox(box)) return;
    const centre = this.frameOfReference.toStage(boxCentre(box));
    this.box = { centre, radius: Math.max(boxDiagonal(box) / 2, 1) };
    this.fitted = null;
    this.invalidate();
  }

  /** Fits shadows to what a camera looks at. Returns whether they were not so already. */
  fit(rig: Pick<CameraRig, 'camera' | 'distance'>): boolean {
    const { box } = this;
    if (!box) return false;
    const wanted = Math.max(LEAST_RADIUS, rig.distance * 1.25);
    const step = Math.ceil(Math.log(wanted) / Math.log(RADIUS_STEP));
    const radius = Math.min(box.radius, RADIUS_STEP ** step);
    const ahead = Math.max(rig.distance, LEAST_RADIUS / 2);
    const centre =
      radius === box.radius
        ? box.centre
        : rig.camera.position.clone().addScaledVector(rig.camera.getWorldDirection(new Vector3()), ahead);
    const { fitted } = this;
    if (fitted && fitted.radius === radius && fitted.centre.distanceTo(centre) <= radius * SLACK) return false;
    this.fitted = { centre: centre.clone(), radius };
    this.place(centre, radius, box);
    this.invalidate();
    return true;
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
    this.isReady = true;
    this.applyShadow();
  }

  dispose(): void {
    this.sunLight.shadow.dispose();
    this.scene.remove(this.sunLight, this.sunLight.target, this.sky, this.ambient);
  }

  private applyShadow(): void {
    const strength = this.sun ? SUN_SHADOW : EVEN_SHADOW;
    this.sunLight.shadow.intensity = this.isReady && this.part.shadows ? strength : 0;
  }

  /** Puts the sun's camera so that its pixels lie where they lay before, wherever it is fitted to: shadows then stand still. */
  private place(centre: Vector3, radius: number, box: { centre: Vector3; radius: number }): void {
    const { camera, mapSize } = this.sunLight.shadow;
    const far = box.radius + box.centre.distanceTo(centre);
    const texel = (2 * radius) / mapSize.x;
    const right = new Vector3(0, 0, 1).cross(this.towards);
    if (right.lengthSq() < 1e-6) right.set(1, 0, 0);
    right.normalize();
    const up = this.towards.clone().cross(right);
    const at = centre.clone();
    for (const axis of [right, up]) {
      const along = at.dot(axis);
      at.addScaledVector(axis, Math.round(along / texel) * texel - along);
    }
    this.sunLight.target.position.copy(at);
    this.sunLight.position.copy(at).addScaledVector(this.towards, far);
    Object.assign(camera, { left: -radius, right: radius, top: radius, bottom: -radius, near: 0.1, far: 2 * far });
    camera.updateProjectionMatrix();
    // The tile loader asks what this camera sees before the first shadow is drawn.
    camera.position.copy(this.sunLight.position);
    camera.up.set(0, 0, 1);
    camera.lookAt(at);
    camera.updateMatrixWorld(true);
    this.sunLight.target.updateMatrixWorld();
    this.sunLight.updateMatrixWorld();
  }
}
