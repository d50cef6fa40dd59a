import { Matrix4, Vector3, type OrthographicCamera, type Vector4 } from 'three';
import { SunLightShadow } from 'three/addons/lights/SunLightShadow.js';

/** A ball within which shadows fall, stage coordinates. */
export interface Ball {
  centre: Vector3;
  radius: number;
}

/** Farther before or behind the camera than anything is. */
const ENDLESS = 1e9;
/** Texels by which a surface has to lie behind another one to be in its shadow: surfaces carry no normals to shift them along. Slopes add to it. */
const BIAS_TEXELS = 1;
/** Texels along the border of each half of the picture that stay free, so that soft edges do not read the other half. */
const BORDER = 2;
/** Of the depth in which the sharp shadows count, the last part blends into the others. */
const FADE = 0.15;

/**
 * Shadows of the sun in two balls, a sharp one about what is near and one about everything, each drawn into a half of one picture. The
 * library's own way cuts what the camera sees into slices, so that all shadows are drawn anew with every turn of the head; balls
 * stay where they are until one has gone on for some steps.
 */
export class SunShadow extends SunLightShadow {
  private balls: readonly Ball[] = [];

  /** @param size pixels of each half along each side */
  constructor(size: number) {
    super();
    this.mapSize.set(size, size);
    const inset = BORDER / size;
    for (const half of [0, 1]) this.getViewport(half).set(half + inset, inset, 1 - 2 * inset, 1 - 2 * inset);
  }

  /**
   * @param balls one or two, the sharper one first
   * @param towards the sun, unit vector
   * @param everything holds whatever may cast a shadow
   */
  fit(balls: readonly Ball[], towards: Vector3, everything: Ball): void {
    this.balls = balls;
    const depths = balls.map(({ centre }) => everything.radius + everything.centre.distanceTo(centre));
    // The bias is one number for both, a share of each one's depth: depth is added until it is as many texels of either.
    const bias = BIAS_TEXELS * Math.min(...balls.map(({ radius }, i) => this.texel(radius) / (2 * depths[i]!)));
    this.bias = -bias;
    for (const half of [0, 1]) {
      const ball = balls[half];
      if (ball) this.place(half, ball, towards, (BIAS_TEXELS * this.texel(ball.radius)) / bias / 2);
      else this.empty(half);
    }
  }

  /**
   * Says up to which depth the sharp shadows count, as all that is seen up to there lies in their ball. To be called with every
   * frame. Returns that depth, metres; 0 where the eye is outside.
   *
   * @param corners vectors from the eye to the corners of the picture, at a depth of one metre
   */
  lookFrom(eye: Vector3, corners: readonly Vector3[]): number {
    const [sharp, wide] = this.balls;
    const [first, second] = this.depths;
    if (!sharp || !wide) {
      first!.set(-ENDLESS, ENDLESS, ENDLESS / 2, 0);
      second!.set(ENDLESS, ENDLESS, ENDLESS, 0);
      return ENDLESS;
    }
    const depth = depthWithin(sharp, eye, corners);
    const fade = depth * (1 - FADE);
    if (depth > 0) first!.set(-ENDLESS, depth, fade, 0);
    else first!.set(ENDLESS, ENDLESS, ENDLESS, 0);
    second!.set(depth > 0 ? fade : -ENDLESS, ENDLESS, ENDLESS / 2, 0);
    return depth;
  }

  /** The renderer asks before it draws them: they are where they belong already. */
  override updateMatrices(): void {}

  /** Sees all that may cast a shadow. */
  get wideCamera(): OrthographicCamera {
    return this.getCamera(this.balls.length > 1 ? 1 : 0);
  }

  private texel(radius: number): number {
    return (2 * radius) / (this.mapSize.x - 2 * BORDER);
  }

  /** By half: from and to which depth it counts, and from where it fades. The library's shader reads them. */
  private get depths(): Vector4[] {
    return (this as unknown as { _cascadeData: Vector4[] })._cascadeData;
  }

  /** Puts a camera so that its pixels lie where they lay before, wherever it is fitted to: shadows then stand still. */
  private place(half: number, { centre, radius }: Ball, towards: Vector3, depth: number): void {
    const texel = this.texel(radius);
    const right = new Vector3(0, 0, 1).cross(towards);
    if (right.lengthSq() < 1e-6) right.set(1, 0, 0);
    right.normalize();
    const up = towards.clone().cross(right);
    const at = centre.clone();
    for (const axis of [right, up]) {
      const along = at.dot(axis);
      at.addScaledVector(axis, Math.round(along / texel) * texel - along);
    }
    const camera = this.getCamera(half);
    Object.assign(camera, { left: -radius, right: radius, top: radius, bottom: -radius, near: 0, far: 2 * depth });
    camera.position.copy(at).addScaledVector(towards, depth);
    camera.up.copy(up);
    camera.lookAt(at);
    this.follow(half, camera);
  }

  /** Nothing is drawn into a half that is not needed. */
  private empty(half: number): void {
    const camera = this.getCamera(half);
    Object.assign(camera, { left: -1, right: 1, top: 1, bottom: -1, near: 0, far: 1 });
    camera.position.set(0, 0, -ENDLESS);
    this.follow(half, camera);
  }

  private follow(half: number, camera: OrthographicCamera): void {
    camera.updateProjectionMatrix();
    camera.updateMatrixWorld(true);
    const seen = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
    this.getFrustum(half).setFromProjectionMatrix(seen, camera.coordinateSystem, camera.reversedDepth);
    const { x, y, z, w } = this.getViewport(half);
    const { x: wide, y: high } = this.getFrameExtents();
    const [scaleX, scaleY] = [z / wide / 2, w / high / 2];
    this.getMatrix(half)
      .set(scaleX, 0, 0, scaleX + x / wide, 0, scaleY, 0, scaleY + y / high, 0, 0, 0.5, 0.5, 0, 0, 0, 1)
      .multiply(seen);
  }
}

/** How far one sees within a ball in all directions of a picture: the nearest place at which a corner's ray leaves it. */
function depthWithin({ centre, radius }: Ball, eye: Vector3, corners: readonly Vector3[]): number {
  const away = eye.clone().sub(centre);
  const inside = radius * radius - away.lengthSq();
  if (inside <= 0) return 0;
  return Math.min(
    ...corners.map((corner) => {
      // Of |away + depth * corner| = radius the root ahead.
      const [square, half] = [corner.lengthSq(), away.dot(corner)];
      return (Math.sqrt(half * half + square * inside) - half) / square;
    }),
  );
}
