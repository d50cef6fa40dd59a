import type { FileCamera, FileSource, Georeference, ReadWarning, FrameAsRead } from '@/core/project/publish-report';

export type PropertyValue = string | number | boolean | null;
/** Properties of one element by set: `{ Pset_WallCommon: { FireRating: 'EI 60' } }`. */
export type PropertySets = Record<string, Record<string, PropertyValue>>;

/** One row an element; every column has the same length. */
export interface ElementTable {
  guid: string[];
  name: string[];
  category: string[];
  /** Index into `storeys`, or -1. */
  storey: number[];
  system: string[];
  room: string[];
  material: string[];
  /** Empty where the file does not say it. */
  discipline: string[];
  /** Row of the element that this one is a part of, or -1. */
  parent: number[];
}

/** Indexed triangles. Positions in metres in the geometry's own frame, Z up, three numbers a vertex. */
export interface Geometry {
  positions: Float32Array;
  indices: Uint32Array;
  /** sRGB and opacity a vertex, where the file paints vertices; goes before the material's colour. */
  colors?: Uint8Array;
  /** Normals a vertex where the file says how a surface is to be shaded; in the frame of the positions, any length. */
  normals?: Float32Array;
  /** Place in the material's picture a vertex, two numbers: (0, 0) is its upper left corner, (1, 1) its lower right. */
  uvs?: Float32Array;
}

export interface SurfaceMaterial {
  name: string;
  /** sRGB and opacity, each 0..1; multiplied with the picture where there is one. */
  color: [number, number, number, number];
  /** Index into `textures`. */
  texture?: number;
  /** Whether what is clear in the picture is cut away, as with leaves. */
  cutOut?: boolean;
}

/** A picture on a surface, as the file holds it: PNG, JPEG, WebP or another format that can be told by its content. */
export interface TexturePicture {
  name: string;
  bytes: Uint8Array;
}

/** One use of a geometry by an element. */
export interface Placement {
  element: number;
  geometry: number;
  material: number;
  /** Column-major 4x4, geometry frame to model frame. */
  matrix: Float64Array;
}

export interface Storey {
  guid: string;
  name: string;
  /** Metres above the model's zero. */
  elevation: number;
}

/**
 * What every reader produces and publishing consumes: metres, Z up, right-handed. Plain arrays and typed arrays only,
 * so that it can be handed between threads.
 */
export interface BuildingModel {
  source: FileSource;
  /** How the file's numbers became metres, Z up. */
  frame: FrameAsRead;
  elements: ElementTable;
  geometries: Geometry[];
  materials: SurfaceMaterial[];
  textures: TexturePicture[];
  placements: Placement[];
  properties: PropertySets[];
  storeys: Storey[];
  georeference: Georeference | null;
  cameras: FileCamera[];
  warnings: ReadWarning[];
  /** Products with a shape that are not part of the building and therefore no elements, such as openings. */
  leftOut: ReadWarning[];
  /** How many products with a shape the file names: elements with geometry plus the warnings about missing ones. */
  productsWithShape: number;
}

/** A model into which nothing has been read yet. */
export function emptyModel(source: FileSource, frame: FrameAsRead): BuildingModel {
  return {
    source,
    frame,
    elements: emptyElementTable(),
    geometries: [],
    materials: [],
    textures: [],
    placements: [],
    properties: [],
    storeys: [],
    georeference: null,
    cameras: [],
    warnings: [],
    leftOut: [],
    productsWithShape: 0,
  };
}

export function emptyElementTable(): ElementTable {
  return {
    guid: [],
    name: [],
    category: [],
    storey: [],
    system: [],
    room: [],
    material: [],
    discipline: [],
    parent: [],
  };
}
