import fc from 'fast-check';
import { Vector3, type Vector4 } from 'three';
import { describe, expect, it } from 'vitest';
import { SunShadow, type Ball } from './sun-shadow';

const CORNERS = [-1, 1].flatMap((x) => [-1, 1].map((y) => new Vector3(x * 0.75, 1, y * 0.47)));
const EVERYTHING: Ball = { centre: new Vector3(0, 0, 5), radius: 80 };
const metres = (span: number) => fc.double({ min: -span, max: span, noNaN: true });
const place = (span: number) => fc.tuple(metres(span), metres(span), metres(span)).map((at) => new Vector3(...at));
const suns = fc
  .tuple(metres(1), metres(1), fc.double({ min: 0.05, max: 1, noNaN: true }))
  .map((towards) => new Vector3(...towards).normalize());

/** Where in the picture of shadows a place is looked up: across, up and depth, each 0..1. */
const lookUp = (shadow: SunShadow, half: number, at: Vector3) => at.clone().applyMatrix4(shadow.getMatrix(half));

describe('SunShadow', () => {
  it('looks every place of a ball up in the half that is its own, and none behind or before its depth', () => {
    fc.assert(
      fc.property(suns, place(40), place(1), (towards, centre, within) => {
        const shadow = new SunShadow(2048);
        const sharp = { centre, radius: 16 };
        shadow.fit([sharp, EVERYTHING], towards, EVERYTHING);
        const inBall = (ball: Ball) =>
          ball.centre.clone().addScaledVector(within.clone().clampLength(0, 1), ball.radius * 0.99);
        const near = lookUp(shadow, 0, inBall(sharp));
        const far = lookUp(shadow, 1, inBall(EVERYTHING));
        expect(near.x).toBeGreaterThan(0);
        expect(near.x).toBeLessThan(0.5);
        expect(far.x).toBeGreaterThan(0.5);
        expect(far.x).toBeLessThan(1);
        for (const { y, z } of [near, far])
          for (const value of [y, z]) {
            expect(value).toBeGreaterThan(0);
            expect(value).toBeLessThan(1);
          }
      }),
    );
  });

  it('lets what may cast a shadow into the sharp ball be seen by its camera, however far it stands', () => {
    fc.assert(
      fc.property(suns, place(30), fc.double({ min: 0, max: 1, noNaN: true }), (towards, centre, share) => {
        const shadow = new SunShadow(2048);
        shadow.fit([{ centre, radius: 16 }, EVERYTHING], towards, EVERYTHING);
        // Towards the sun until the ball of everything ends.
        const away = centre.clone().sub(EVERYTHING.centre);
        const half = away.dot(towards);
        const end = Math.sqrt(half * half + EVERYTHING.radius ** 2 - away.lengthSq()) - half;
        expect(lookUp(shadow, 0, centre.clone().addScaledVector(towards, end * share)).z).toBeGreaterThanOrEqual(0);
      }),
    );
  });

  it('puts a surface into shadow by as many texels in either half', () => {
    const shadow = new SunShadow(2048);
    shadow.fit([{ centre: new Vector3(3, 4, 1), radius: 16 }, EVERYTHING], new Vector3(0, 0, 1), EVERYTHING);
    const texels = [0, 1].map((half) => {
      const camera = shadow.getCamera(half);
      return (shadow.bias * (camera.far - camera.near)) / ((camera.right - camera.left) / 2044);
    });
    expect(texels[0]).toBeCloseTo(texels[1]!, 9);
  });

  it('counts the sharp shadows only as deep as everything seen lies in their ball', () => {
    fc.assert(
      fc.property(place(20), place(20), fc.double({ min: 0, max: 1, noNaN: true }), (centre, eye, share) => {
        const shadow = new SunShadow(2048);
        const sharp = { centre, radius: 16 };
        shadow.fit([sharp, EVERYTHING], new Vector3(0, 0.6, 0.8), EVERYTHING);
        const depth = shadow.lookFrom(eye, CORNERS);
        expect(depth > 0).toBe(eye.distanceTo(centre) < 16);
        for (const corner of CORNERS) {
          const seen = eye.clone().addScaledVector(corner, depth * share);
          if (depth > 0) expect(seen.distanceTo(centre)).toBeLessThanOrEqual(16 + 1e-6);
        }
        const [near, far] = (shadow as unknown as { _cascadeData: Vector4[] })._cascadeData;
        // Nothing lies between the two.
        if (depth > 0) expect(far!.x).toBeLessThanOrEqual(near!.y);
        else expect(far!.x).toBeLessThan(0);
      }),
    );
  });

  it('stands still while it is fitted anew by whole texels', () => {
    const towards = new Vector3(0.3, -0.5, 0.8).normalize();
    const at = (x: number) => {
      const shadow = new SunShadow(1024);
      shadow.fit([{ centre: new Vector3(x, 2, 1), radius: 16 }, EVERYTHING], towards, EVERYTHING);
      const { x: u, y: v } = lookUp(shadow, 0, new Vector3(1, 1, 1));
      return [u * 2048, v * 1024];
    };
    const [before, after] = [at(0), at(2.7)];
    for (const axis of [0, 1]) {
      const shift = after[axis]! - before[axis]!;
      expect(shift).toBeCloseTo(Math.round(shift), 4);
    }
    expect(after[0]).not.toBeCloseTo(before[0]!, 1);
  });
});
