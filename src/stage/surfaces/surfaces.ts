import type { Box3 as ThreeBox3, Ray } from 'three';
import { Matrix4, Sphere, Vector3 } from 'three';
import type { ElementRef } from '@/core/elements/element-ref';
import type { Vec3 } from '@/core/math/mat4';
import type { CoordinateFrame } from '../coordinate-frame';
import type { StageModel } from '../model/stage-model';
import type { Triangles } from '../workers/distance-task';
import type { WorkerPool } from '../workers/worker-pool';
import { footOnSegment, type SurfaceMesh } from './surface-mesh';

/** An answer, and whether it is only preliminary: from what is on the screen, until the finest surfaces are there. */
export interface Answer<T> {
  value: T;
  about: boolean;
}

/** What a ray goes through. */
export interface WhatIsHit {
  /** See-through surfaces let it through. */
  throughGlass?: boolean;
  /** This element does. */
  except?: ElementRef | null;
}

export interface SurfaceHit {
  element: ElementRef;
  row: number;
  /** Project coordinates, metres. */
  point: Vec3;
  /** Unit normal towards whoever asks; null from the screen's coarser surfaces. */
  normal: Vec3 | null;
  /** Number of the triangle within its tile; null from the screen's. */
  triangle: number | null;
  /** Metres along the ray. */
  distance: number;
}

export interface NearPoint {
  element: ElementRef;
  point: Vec3;
  distance: number;
}

/** What a moved body meets first. */
export interface CastHit extends NearPoint {
  /** Metres that it can go until it touches. */
  travel: number;
}

/** A body that touches something is this near to it, metres. */
const TOUCH = 1e-4;
const MOST_STEPS = 200;

/**
 * Answers questions about the real geometry at full detail, whatever the camera sees. What is hidden or faded is not there.
 * All points are in project coordinates, metres.
 */
export class Surfaces {
  constructor(
    private readonly models: () => readonly StageModel[],
    private readonly frame: CoordinateFrame,
    private readonly pool: WorkerPool,
  ) {}

  /** The nearest hit by what is there now: exact where the finest surfaces up to it are loaded, else about. */
  hit(ray: Ray): Answer<SurfaceHit | null> {
    let best: SurfaceHit | null = null;
    let about = false;
    for (const model of this.models()) {
      const exact = this.hitReady(model, ray, best);
      if (exact !== undefined) {
        best = exact;
        continue;
      }
      about = true;
      const seen = model.raycast(ray);
      if (seen && (!best || seen.distance < best.distance))
        best = {
          element: model.refOf(seen.row),
          row: seen.row,
          point: seen.point,
          normal: null,
          triangle: null,
          distance: seen.distance,
        };
    }
    return { value: best, about };
  }

  /** The nearest hit at full detail: tiles along the ray are loaded until one of them has it. */
  async exactHit(ray: Ray, what: WhatIsHit = {}): Promise<SurfaceHit | null> {
    let best: SurfaceHit | null = null;
    for (const model of this.models()) {
      const { local, entry, touches } = lineThrough(ray, model);
      const along = await model.finest.within(touches);
      along.sort((a, b) => entry(a.box) - entry(b.box));
      for (const tile of along) {
        if (best && entry(tile.box) > best.distance) break;
        best = nearer(best, this.hitOn(await model.finest.fetch(tile, 1), model, local, ray, what));
      }
    }
    return best;
  }

  /** The nearer of a hit and that on a model's finest tiles; undefined where one is missing that may have it. */
  private hitReady(model: StageModel, ray: Ray, before: SurfaceHit | null): SurfaceHit | null | undefined {
    // Of what stands beside its place only the screen knows where that is.
    if (model.isSpread) return undefined;
    const { local, entry, touches } = lineThrough(ray, model);
    const along = model.finest.listed(touches);
    if (!along) return undefined;
    const near = along.map((tile) => ({ tile, at: entry(tile.box) })).sort((a, b) => a.at - b.at);
    let best = before;
    for (const { tile, at } of near) {
      if (best && at > best.distance) break;
      const mesh = model.finest.there(tile);
      if (!mesh) return undefined;
      best = nearer(best, this.hitOn(mesh, model, local, ray));
    }
    return best;
  }

  /** Loads what is needed to answer about a region at full detail. @param radius metres about the centre */
  async load(centre: Vec3, radius: number): Promise<void> {
    await Promise.all(this.models().map((model) => this.meshesNear(model, centre, radius)));
  }

  /** The nearest surface within a distance. */
  async nearestPoint(point: Vec3, within: number): Promise<NearPoint | null> {
    await this.load(point, within);
    return this.nearestLoaded(point, within);
  }

  /** The same of what is loaded already, at once. */
  nearestLoaded(point: Vec3, within: number): NearPoint | null {
    let best: NearPoint | null = null;
    for (const model of this.models()) {
      const local = this.toModel(model, point);
      const { meshes } = model.finest.ready((box) => box.distanceToPoint(local) <= within);
      for (const mesh of meshes) {
        const near = mesh.nearestPoint(local, best ? best.distance : within, (row) => model.isSolid(row));
        if (near)
          best = {
            element: model.refOf(near.row),
            point: this.toProject(model, near.point),
            distance: near.distance,
          };
      }
    }
    return best;
  }

  /**
   * The shortest distance between two elements.
   *
   * @returns null where one of them is not there or has no surface
   */
  async distance(
    a: ElementRef,
    b: ElementRef,
    signal?: AbortSignal,
  ): Promise<{ from: Vec3; to: Vec3; distance: number } | null> {
    const [one, other] = await Promise.all([a, b].map((ref) => this.trianglesFor(ref)));
    if (!one || !other) return null;
    const found = await this.pool.run('element-distance', { a: one, b: other }, { signal, priority: 1 });
    const toProject = (point: Vec3) => this.frame.toProject(new Vector3(...point));
    return found && { from: toProject(found.from), to: toProject(found.to), distance: found.distance };
  }

  /**
   * How far a ball can be moved until it touches something. The surfaces about its way have to be loaded.
   *
   * @param direction unit vector
   */
  sphereCast(from: Vec3, direction: Vec3, radius: number, length: number): CastHit | null {
    return this.capsuleCast(from, from, direction, radius, length);
  }

  /** The same of a capsule about the line between two points, such as a standing person. */
  capsuleCast(a: Vec3, b: Vec3, direction: Vec3, radius: number, length: number): CastHit | null {
    let travel = 0;
    for (let step = 0; step < MOST_STEPS && travel <= length; step++) {
      const moved = (point: Vec3) => point.map((value, axis) => value + direction[axis]! * travel) as Vec3;
      const near = this.nearestToSegment(moved(a), moved(b), radius + (length - travel) + TOUCH);
      if (!near) return null;
      const free = near.distance - radius;
      if (free <= TOUCH) return { ...near, travel };
      // Nothing is nearer than this, so that much of the way is free.
      travel += free;
    }
    return null;
  }

  private nearestToSegment(a: Vec3, b: Vec3, within: number): NearPoint | null {
    let best: NearPoint | null = null;
    for (const model of this.models()) {
      const [from, to] = [this.toModel(model, a), this.toModel(model, b)];
      const reach = new Sphere(from.clone().lerp(to, 0.5), from.distanceTo(to) / 2 + within);
      const { meshes } = model.finest.ready((box) => reach.intersectsBox(box));
      for (const mesh of meshes) {
        const near = mesh.nearestToSegment(from, to, best ? best.distance : within, (row) => model.isSolid(row));
        if (near && (!best || near.distance < best.distance))
          best = {
            element: model.refOf(near.row),
            point: this.toProject(model, near.point),
            distance: footOnSegment(near.point, from, to).distanceTo(near.point),
          };
      }
    }
    return best;
  }

  /** The triangles of an element in stage coordinates; null where it is not there. */
  async trianglesFor(ref: ElementRef): Promise<Triangles | null> {
    const model = this.modelOf(ref);
    const row = model?.rowOf.get(ref.guid);
    return model && row !== undefined ? this.trianglesOf(model, row) : null;
  }

  /** How many triangles an element has; null until its finest surfaces are there. */
  countReady(model: StageModel, row: number): number | null {
    const { meshes, isWhole } = this.readyOf(model, row);
    return isWhole ? meshes.reduce((sum, mesh) => sum + mesh.countOf(row), 0) : null;
  }

  /**
   * The triangles of an element in its model's own coordinates, null until its finest surfaces are there.
   *
   * @param within only those of which a corner lies in this box
   */
  trianglesReady(model: StageModel, row: number, within?: ThreeBox3): Triangles | null {
    const { meshes, isWhole } = this.readyOf(model, row);
    return isWhole ? joined(meshes.map((mesh) => mesh.trianglesOf(row, undefined, within))) : null;
  }

  private readyOf(model: StageModel, row: number) {
    const box = model.ownBox(row);
    return model.finest.ready((tile) => tile.intersectsBox(box));
  }

  private async trianglesOf(model: StageModel, row: number): Promise<Triangles> {
    const box = model.ownBox(row);
    const meshes = await model.finest.load(
      (tile) => tile.intersectsBox(box),
      () => 0,
    );
    return joined(meshes.map((mesh) => mesh.trianglesOf(row, model.group.matrixWorld)));
  }

  private async meshesNear(model: StageModel, centre: Vec3, radius: number): Promise<SurfaceMesh[]> {
    const local = this.toModel(model, centre);
    return model.finest.load(
      (box) => box.distanceToPoint(local) <= radius,
      (box) => box.distanceToPoint(local),
    );
  }

  private hitOn(
    mesh: SurfaceMesh,
    model: StageModel,
    local: Ray,
    ray: Ray,
    { throughGlass = false, except }: WhatIsHit = {},
  ): SurfaceHit | null {
    const at = new Vector3();
    const passed = except?.model === model.source.modelId ? model.rowOf.get(except.guid) : undefined;
    const isThere = (row: number, point: Vector3) =>
      row !== passed &&
      model.isSolid(row) &&
      !model.isCutAway(row, at.copy(point).applyMatrix4(model.group.matrixWorld));
    const hit = mesh.raycast(local, isThere, throughGlass);
    if (!hit) return null;
    const point = hit.point.applyMatrix4(model.group.matrixWorld);
    return {
      element: model.refOf(hit.row),
      row: hit.row,
      point: this.frame.toProject(point),
      normal: hit.normal.transformDirection(model.group.matrixWorld).toArray(),
      triangle: hit.triangle,
      distance: point.distanceTo(ray.origin),
    };
  }

  /** The model of an element; undefined where it is not on the stage. */
  modelOf(ref: ElementRef): StageModel | undefined {
    return this.models().find(({ source }) => source.modelId === ref.model);
  }

  private toModel(model: StageModel, point: Vec3): Vector3 {
    return this.frame.toStage(point).applyMatrix4(model.group.matrixWorld.clone().invert());
  }

  private toProject(model: StageModel, point: Vector3): Vec3 {
    return this.frame.toProject(point.clone().applyMatrix4(model.group.matrixWorld));
  }
}

/** A ray as a model sees it, which boxes it passes, and how far along it enters one. */
function lineThrough(ray: Ray, model: StageModel) {
  const local = ray.clone().applyMatrix4(new Matrix4().copy(model.group.matrixWorld).invert());
  const at = new Vector3();
  return {
    local,
    touches: (box: ThreeBox3) => local.intersectsBox(box),
    entry: (box: ThreeBox3) =>
      box.containsPoint(local.origin) ? 0 : (local.intersectBox(box, at)?.distanceTo(local.origin) ?? Infinity),
  };
}

function nearer(a: SurfaceHit | null, b: SurfaceHit | null): SurfaceHit | null {
  return a && b ? (a.distance <= b.distance ? a : b) : (a ?? b);
}

/** Parts of an element from several tiles as one. */
function joined(parts: readonly Triangles[]): Triangles {
  if (parts.length === 1) return parts[0]!;
  const positions = new Float32Array(parts.reduce((sum, part) => sum + part.positions.length, 0));
  const indices = new Uint32Array(parts.reduce((sum, part) => sum + part.indices.length, 0));
  let vertex = 0;
  let corner = 0;
  for (const part of parts) {
    positions.set(part.positions, vertex * 3);
    part.indices.forEach((index, i) => (indices[corner + i] = index + vertex));
    vertex += part.positions.length / 3;
    corner += part.indices.length;
  }
  return { positions, indices };
}
