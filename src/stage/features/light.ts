import {
  AmbientLight,
  BasicShadowMap,
  Color,
  HemisphereLight,
  PCFShadowMap,
  Vector3,
  type OrthographicCamera,
  type Scene,
  type WebGLRenderer,
} from 'three';
import { SunLight } from 'three/addons/lights/SunLight.js';
import { boxCentre, boxDiagonal, isEmptyBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import type { Light as LightPart } from '@/core/view/light';
import type { CameraRig } from '../camera/camera-rig';
import type { CoordinateFrame } from '../coordinate-frame';
import type { Feature } from './feature';
import { SunShadow, type Ball } from './sun-shadow';

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
/** Pixels of each half of the shadows' picture along each side. */
const MAP = 3072;
const MAP_IN_SOFTWARE = 2048;
/** Metres about somebody who stands or flies in the model within which shadows are sharp. */
const SHARP_RADIUS = 16;
/** Shadows are drawn anew when less than this is left of them before the eye, metres. */
const LEAST_DEPTH = 8;
/** From outside they are sharp within so many times the distance of what is looked at, and have to be as far as that. */
const RADIUS_SHARE = 1.35;
const DEPTH_SHARE = 1.15;
/** What has become larger than needed by more than this is drawn anew, sharper. */
const LOOSE = 1.6;

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

/** Light of sky and ground, and one sun whose shadows are sharp about the eye and reach over everything. */
export class Light implements Feature {
  private readonly sunLight = new SunLight(WARM, SUN);
  private readonly shadow: SunShadow;
  private readonly sky = new HemisphereLight('#fffaf0', '#cdbd9f', SKY);
  private readonly ambient = new AmbientLight('#ffffff', AMBIENT);
  private areShadowsStale = false;
  private isReady = false;
  /** Holds all that is lit. */
  private everything: Ball | null = null;
  private fitted: Ball | null = null;
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
    const size = inSoftware ? MAP_IN_SOFTWARE : Math.min(MAP, renderer.capabilities.maxTextureSize / 2);
    this.sunLight.shadow = this.shadow = new SunShadow(size);
    this.shadow.intensity = 0; // until there is something that casts one
    this.sunLight.castShadow = true;
    scene.add(this.sky, this.ambient, this.sunLight);
  }

  /** Sees all that may cast a shadow into what one looks at. */
  get shadowCamera(): OrthographicCamera {
    return this.shadow.wideCamera;
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
    this.sunLight.position.copy(this.towards);
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
    this.everything = { centre, radius: Math.max(boxDiagonal(box) / 2, 1) };
    this.fitted = null;
    this.invalidate();
  }

  /** Sharp shadows count as far as they are right from where the camera is. To be called with every frame. */
  lookFrom(rig: Pick<CameraRig, 'camera' | 'fov' | 'aspect'>): number {
    return this.shadow.lookFrom(rig.camera.position, corners(rig));
  }

  /**
   * Fits shadows to what a camera looks at: about the eye of somebody in the model, who turns, or about what one turns about
   * outside. Returns whether they were not so already.
   */
  fit(
    rig: Pick<CameraRig, 'camera' | 'distance' | 'fov' | 'aspect' | 'isParallel' | 'target'>,
    isInside: boolean,
  ): boolean {
    const { everything, fitted } = this;
    if (!everything) return false;
    const radius = isInside ? SHARP_RADIUS : rig.distance * RADIUS_SHARE;
    if (radius >= everything.radius) {
      if (fitted === everything) return false;
      this.place([everything]);
      return true;
    }
    const centre = isInside ? rig.camera.position : rig.target;
    const isSharp = fitted !== null && fitted !== everything && fitted.radius <= radius * LOOSE;
    // Without perspective one looks from anywhere: there is no depth at which the one could end and the other begin.
    const isFar = rig.isParallel
      ? !!fitted && fitted.centre.distanceTo(centre) <= fitted.radius - rig.distance / 2
      : this.lookFrom(rig) >= (isInside ? LEAST_DEPTH : rig.distance * DEPTH_SHARE);
    if (isSharp && isFar) return false;
    const sharp = { centre: centre.clone(), radius };
    this.place(rig.isParallel ? [sharp] : [sharp, everything]);
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
    this.sunLight.dispose();
    this.scene.remove(this.sunLight, this.sky, this.ambient);
  }

  private applyShadow(): void {
    const strength = this.sun ? SUN_SHADOW : EVEN_SHADOW;
    this.shadow.intensity = this.isReady && this.part.shadows ? strength : 0;
  }

  private place(balls: Ball[]): void {
    this.fitted = balls[0]!;
    this.shadow.fit(balls, this.towards, this.everything!);
    this.invalidate();
  }
}

/** Vectors from the eye to the corners of the picture, at a depth of one metre. */
function corners({ camera, fov, aspect }: Pick<CameraRig, 'camera' | 'fov' | 'aspect'>): Vector3[] {
  const high = Math.tan((fov * Math.PI) / 360);
  return [-1, 1].flatMap((x) =>
    [-1, 1].map((y) => new Vector3(x * high * aspect, y * high, -1).applyQuaternion(camera.quaternion)),
  );
}
