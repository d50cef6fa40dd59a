import { Box3, Ray, Vector3, type Matrix4 } from 'three';
import type { ElementRef } from '@/core/elements/element-ref';
import type { Vec3 } from '@/core/math/mat4';
import { add, dot, scale } from '@/core/math/vec3';
import { heightOver } from '@/core/section/plane';
import { cutFaceArea, cutFeatures, type CutFaceArea } from '@/core/snap/cut-features';
import { chooseSnap, type Snap, type SnapKind, type SnapSource } from '@/core/snap/choose-snap';
import { elementFeatures, movedFeatures, NO_FEATURES, type ElementFeatures } from '@/core/snap/element-features';
import type { CoordinateFrame } from '../coordinate-frame';
import { CutPlaces } from '../features/cuts/cut-places';
import type { ExactCut } from '../features/cuts/sections';
import type { StageModel } from '../model/stage-model';
import type { RowCut } from '../workers/cut-task';
import type { SurfaceHit, Surfaces } from './surfaces';

/** A place that was pointed at. Project coordinates, metres. */
export interface PlaceAt extends Snap {
  /** What it is on. */
  element: ElementRef | null;
  /** Of the surface there; null where only the screen's coarser surfaces are known. */
  normal: Vec3 | null;
  /** Whether it comes of the screen's coarser surfaces, because the finest are still on their way. */
  about: boolean;
  /** Works out the cut face of an element on which it lies; null elsewhere. */
  cut: (() => CutFaceArea) | null;
}

/** How somebody looks and what may be meant. */
export interface Pointing {
  /** The line of sight, in stage coordinates. */
  ray: Ray;
  /** Metres to a pixel so far along it. */
  metresPerPixel(along: number): number;
  kinds: ReadonlySet<SnapKind>;
  /** Pixels within which something is meant. */
  reach: number;
  /** The place before. */
  from: Vec3 | null;
}

/** A surface, or the filled face of an exact section. */
type Met = SurfaceHit & { section?: { cut: RowCut; exact: ExactCut } };

interface Source extends SnapSource {
  element: ElementRef;
}

/** Elements of more triangles are looked at only around the place that is pointed at. */
const MOST_TRIANGLES = 6000;
/** Metres around that place. */
const NEIGHBOURHOOD = 0.5;
/** Features of so many elements are kept. */
const MOST_KEPT = 2000;
/** Directions in which is looked around the line of sight for what it passes closely. */
const AROUND = 8;
/** A place lies on a surface, which must not cover it: metres, and as a share of the distance. */
const SLACK = 0.004;
const SLACK_SHARE = 0.001;

/** Finds what somebody means who points at a place: corners, edges, centre lines, in full detail, also of exact sections. */
export class Snapping {
  private readonly kept = new Map<StageModel, Map<number, ElementFeatures>>();
  private keptCount = 0;
  private readonly places = new WeakMap<ExactCut, CutPlaces>();
  private readonly keptCuts = new WeakMap<RowCut, ElementFeatures>();

  constructor(
    private readonly surfaces: Surfaces,
    private readonly frame: CoordinateFrame,
    private readonly sections: { readonly exact: readonly ExactCut[] },
  ) {}

  /** What is meant; null where the line of sight meets nothing. */
  at({ ray, metresPerPixel, kinds, reach, from }: Pointing): PlaceAt | null {
    const { value: met, about: isFromScreen } = this.nearest(ray);
    // An element may reach into tiles that are not there yet: then its corners are not known.
    const about = isFromScreen || (met !== null && !this.isKnown(met));
    const sources = new Map<string, Source>();
    this.addSource(sources, met, ray);
    for (const beside of isFromScreen ? [] : raysAround(ray, metresPerPixel(1) * reach))
      this.addSource(sources, this.nearest(beside).value, ray);
    const surface = met?.normal ? { point: met.point, normal: met.normal } : null;
    const snap = chooseSnap(
      {
        origin: this.frame.toProject(ray.origin),
        direction: ray.direction.toArray(),
        metresPerPixel,
        reach,
        kinds,
        from,
        surface,
      },
      [...sources.values()],
    );
    if (snap) {
      const { kind, point, line, source } = snap;
      return {
        kind,
        point,
        line,
        element: source?.element ?? met?.element ?? null,
        normal: met?.normal ?? null,
        about,
        cut: this.cutFace(met),
      };
    }
    return met && !met.normal && kinds.has('face')
      ? { kind: 'face', point: met.point, line: null, element: met.element, normal: null, about, cut: null }
      : null;
  }

  /** The features of an element, in project coordinates, as far as its finest surfaces are there. */
  featuresOf(ref: ElementRef): ElementFeatures {
    const model = this.surfaces.modelOf(ref);
    const row = model?.rowOf.get(ref.guid);
    return model && row !== undefined ? this.features(model, row) : NO_FEATURES;
  }

  /** Models have come, gone, or stand elsewhere. */
  invalidate(): void {
    this.kept.clear();
    this.keptCount = 0;
  }

  private nearest(ray: Ray): { value: Met | null; about: boolean } {
    const { value, about } = this.surfaces.hit(ray);
    let best: Met | null = value;
    const origin = this.frame.toProject(ray.origin);
    const direction: Vec3 = ray.direction.toArray();
    for (const exact of this.sections.exact) {
      const { normal, offset } = exact.face.plane;
      const slope = dot(normal, direction);
      const distance = -heightOver({ normal, offset }, origin) / slope;
      if (!(distance > 0) || !Number.isFinite(distance) || (best && distance > best.distance + 1e-6)) continue;
      const point = add(origin, scale(direction, distance));
      const cut = this.placesOf(exact).cutAt(point);
      // Another cut may have taken this part of the face away.
      const inside = this.frame.toStage(add(point, scale(normal, -SLACK / 4)));
      if (!cut || exact.model.isCutAway(cut.row, inside)) continue;
      best = {
        element: exact.model.refOf(cut.row),
        row: cut.row,
        point,
        normal: slope < 0 ? normal : scale(normal, -1),
        triangle: null,
        distance,
        section: { cut, exact },
      };
    }
    return { value: best, about };
  }

  private addSource(sources: Map<string, Source>, met: Met | null, ray: Ray): void {
    const model = met && this.surfaces.modelOf(met.element);
    if (!met || !model) return;
    const { element, row, section } = met;
    const isSeen = (point: Vec3, kind: SnapKind) => this.isSeen(point, kind, row, model, ray);
    const offer = (key: string, features: () => ElementFeatures) => {
      if (!sources.has(key)) sources.set(key, { element, features: features(), isSeen });
    };
    offer(`${element.model} ${element.guid}`, () => this.features(model, row, met.point));
    if (section)
      offer(`${element.model} ${element.guid} ${section.exact.face.key}`, () =>
        this.featuresOfCut(section.cut, this.placesOf(section.exact)),
      );
  }

  private isSeen(point: Vec3, kind: SnapKind, row: number, model: StageModel, ray: Ray): boolean {
    const at = this.frame.toStage(point);
    // What lies in the face of a cut is still there.
    if (model.isCutAway(row, at.clone().addScaledVector(ray.direction, SLACK))) return false;
    const to = at.sub(ray.origin);
    const distance = to.length();
    const before = this.nearest(new Ray(ray.origin.clone(), to.divideScalar(distance))).value;
    if (!before || before.distance > distance - SLACK - distance * SLACK_SHARE) return true;
    // Axes and centres lie within what one sees.
    const isWithin = kind === 'centre' || kind === 'centre line';
    return isWithin && before.row === row && before.element.model === model.source.modelId;
  }

  private isKnown({ element, row }: Met): boolean {
    const model = this.surfaces.modelOf(element);
    return !model || this.kept.get(model)?.has(row) === true || this.surfaces.countReady(model, row) !== null;
  }

  private features(model: StageModel, row: number, near?: Vec3): ElementFeatures {
    let ofModel = this.kept.get(model);
    if (!ofModel) this.kept.set(model, (ofModel = new Map<number, ElementFeatures>()));
    const known = ofModel.get(row);
    if (known) return known;
    const count = this.surfaces.countReady(model, row);
    if (count === null) return NO_FEATURES;
    const { matrixWorld } = model.group;
    if (count > MOST_TRIANGLES) {
      if (!near) return NO_FEATURES;
      const around = boxAround(this.frame.toStage(near).applyMatrix4(matrixWorld.clone().invert()));
      const { positions, indices } = this.surfaces.trianglesReady(model, row, around)!;
      return this.inProject(featuresIn(around, elementFeatures(positions, indices)), matrixWorld);
    }
    const { positions, indices } = this.surfaces.trianglesReady(model, row)!;
    if (++this.keptCount > MOST_KEPT) this.invalidate();
    const features = this.inProject(elementFeatures(positions, indices), matrixWorld);
    ofModel.set(row, features);
    return features;
  }

  private inProject(features: ElementFeatures, matrix: Matrix4): ElementFeatures {
    const turn = (direction: Vec3): Vec3 => new Vector3(...direction).transformDirection(matrix).toArray();
    return movedFeatures(features, (point) => this.frame.toProject(new Vector3(...point).applyMatrix4(matrix)), turn);
  }

  /** Corners and edges of an element's cut, in project coordinates. */
  private featuresOfCut(cut: RowCut, places: CutPlaces): ElementFeatures {
    const known = this.keptCuts.get(cut);
    if (known) return known;
    const features = cutFeatures(cut, (x, y) => places.toProject(x, y));
    this.keptCuts.set(cut, features);
    return features;
  }

  private cutFace(met: Met | null): PlaceAt['cut'] {
    if (!met?.section) return null;
    const { cut, exact } = met.section;
    const places = this.placesOf(exact);
    return () => cutFaceArea(cut, (x, y) => places.toProject(x, y));
  }

  private placesOf(exact: ExactCut): CutPlaces {
    let places = this.places.get(exact);
    if (!places) this.places.set(exact, (places = new CutPlaces(exact, this.frame)));
    return places;
  }
}

/** Lines of sight around another, as far from it as a finger reaches. @param spread metres aside at one metre */
function raysAround({ origin, direction }: Ray, spread: number): Ray[] {
  const x = new Vector3(0, 0, 1).cross(direction);
  if (x.lengthSq() < 1e-6) x.set(1, 0, 0);
  x.normalize();
  const y = x.clone().cross(direction);
  return Array.from({ length: AROUND }, (_, i) => {
    const turn = (2 * Math.PI * i) / AROUND;
    const aside = direction.clone().addScaledVector(x, Math.cos(turn) * spread);
    return new Ray(origin.clone(), aside.addScaledVector(y, Math.sin(turn) * spread).normalize());
  });
}

function boxAround(centre: Vector3): Box3 {
  return new Box3().setFromCenterAndSize(centre, new Vector3(1, 1, 1).multiplyScalar(2 * NEIGHBOURHOOD));
}

/** What of a part's features is the whole's: the part's own rim lies outside of the box from which it was taken. */
function featuresIn(box: Box3, { corners, middles, edges }: ElementFeatures): ElementFeatures {
  const at = new Vector3();
  const isIn = (point: Vec3) => box.containsPoint(at.fromArray(point));
  return {
    ...NO_FEATURES,
    corners: corners.filter(isIn),
    middles: middles.filter(isIn),
    edges: edges.filter(([a, b]) => isIn(a) || isIn(b)),
  };
}
