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
const MAP_IN_SOFTWARE = 1536;
/** Metres before the eye in which shadows are sharp, at least. */
const LEAST_DEPTH = 8;
/** What is looked at lies within the sharp shadows, and as much of its surroundings. */
const DEPTH_SHARE = 1.4;
/** The ball of the sharp shadows is so much larger than it has to be: one may go on for a while before they are drawn anew. */
const ROOM = 1.45;
/** Balls that have become larger than needed by more than this are drawn anew, sharper. */
const LOOSE = 2;
/** Without perspective shadows fall within so many times the distance of what is looked at. */
const PARALLEL_SHARE = 1.25;

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

  /** Shadows count as far as they are right from where the camera is. To be called with every frame. */
  lookFrom(rig: Pick<CameraRig, 'camera' | 'fov' | 'aspect'>): void {
    this.shadow.lookFrom(rig.camera.position, width(rig));
  }

  /** Fits shadows to what a camera looks at. Returns whether they were not so already. */
  fit(rig: Pick<CameraRig, 'camera' | 'distance' | 'fov' | 'aspect' | 'isParallel' | 'target'>): boolean {
    const { everything, fitted } = this;
    if (!everything) return false;
    const depth = Math.max(LEAST_DEPTH, rig.distance * DEPTH_SHARE);
    const wanted = rig.isParallel ? rig.distance * PARALLEL_SHARE * ROOM : depth * width(rig) * ROOM;
    const centre = rig.isParallel ? rig.target : rig.camera.position;
    if (wanted >= everything.radius) {
      if (fitted === everything) return false;
      this.place([everything]);
      return true;
    }
    const isFine = fitted && fitted !== everything && fitted.radius <= wanted * LOOSE;
    const isReached = isFine && fitted.centre.distanceTo(centre) <= fitted.radius - wanted / ROOM;
    if (isReached) return false;
    const sharp = { centre: centre.clone(), radius: wanted };
    // Without perspective one looks from anywhere: there is no depth at which the one could end and the other begin.
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

/** How far the corners of a picture are from the eye, as a multiple of their depth. */
function width({ fov, aspect }: Pick<CameraRig, 'fov' | 'aspect'>): number {
  const half = Math.tan((fov * Math.PI) / 360);
  return Math.sqrt(1 + half * half * (1 + aspect * aspect));
}
