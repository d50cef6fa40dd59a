import type { Forecast } from '../detail/forecast';
import type { Finding, Mended } from '../examination/finding';
import type { Box3 } from '../math/box3';
import type { Vec3 } from '../math/mat4';
import type { SurfaceChange } from '../surfaces/surface-rule';
import type { ModelFrame } from '../units/length-unit';

export const FILE_FORMATS = ['IFC', 'glTF', 'OBJ', 'STL', 'PLY', 'COLLADA', '3MF', 'gbXML'] as const;
export type FileFormat = (typeof FILE_FORMATS)[number];

/** How a file's numbers were read, and on whose word. */
export interface FrameAsRead extends ModelFrame {
  from: 'file' | 'proposed' | 'chosen';
  /** A sentence for the person who has to agree. */
  reason: string;
}

/** Where a model comes from. */
export interface FileSource {
  format: FileFormat;
  /** As the file names it, such as IFC2X3 or 2.0. */
  schema: string;
  fileName: string;
  /** The program that wrote the file, where it says so. */
  program: string;
}

export interface Georeference {
  crs?: string;
  /** Metres on the map, of the model's zero. */
  eastings?: number;
  northings?: number;
  orthogonalHeight?: number;
  /** Radians from the map's east to the model's +X, counter-clockwise. */
  mapTurn?: number;
  /** Degrees. */
  latitude?: number;
  longitude?: number;
  /** Radians from the model's +Y to true north, counter-clockwise. */
  trueNorth?: number;
}

/** A camera that came with the file, in the model's frame: metres, Z up. */
export interface FileCamera {
  name: string;
  position: Vec3;
  target: Vec3;
  /** Vertical field of view in degrees. */
  fov: number;
}

/** Something that could not be read; the rest of the file could. */
export interface ReadWarning {
  guid?: string;
  name?: string;
  category?: string;
  reason: string;
}

/** What became of a file: written as `report.json` beside the tiles and shown on the Prepare station. */
export interface PublishReport {
  source: FileSource & { bytes: number };
  frame: FrameAsRead;
  counts: {
    /** Rows of the contents, with and without geometry. */
    elements: number;
    /** Products that name a shape in the file. */
    productsWithShape: number;
    /** Elements that show at least one triangle. */
    elementsWithGeometry: number;
    triangles: number;
    /** Tiles of all levels of detail. */
    tiles: number;
    levels: number;
    storeys: number;
    byCategory: Record<string, number>;
  };
  /** What the rule about what to reveal kept back. */
  withheld: { elements: number; newCategories: string[] };
  /** What was noticed in what is revealed, before anything was mended. */
  findings: Finding[];
  mended: Mended[];
  /** What rules did to colours and materials; reports from before there were such rules have none. */
  surfaces?: SurfaceChange[];
  /** What could not be read, element by element. */
  unread: ReadWarning[];
  /** Products with a shape that are not part of the building, such as openings. */
  leftOut: ReadWarning[];
  /** Bytes. */
  weight: {
    /** The revealed triangles as the file describes them, uncompressed. */
    plain: number;
    /** Triangles that only divided flat faces, and were merged; older reports do not say it. */
    mergedTriangles?: number;
    /**
     * What is left of that after each step towards the tiles: facets merged and what was mended left out; repeated
     * shapes of a tile written once; rounded, with shared vertices. Older reports do not say it.
     */
    steps?: { tidied: number; once: number; rounded: number };
    /** Tiles of full detail, packed as they are stored and as sent with Brotli. */
    tiles: number;
    tilesBrotli: number;
    /** The coarser levels of detail, as sent. */
    coarserBrotli: number;
    /** Pictures on surfaces, in both sizes. */
    pictures: number;
    /** The contents, as stored and as sent. */
    index: number;
    indexBrotli: number;
  };
  /** What devices will have to carry; reports of revisions from before there were levels of detail have none. */
  forecast?: Forecast;
  /** Metres, Z up, relative to `offset`; null if nothing shows. */
  extent: Box3 | null;
  offset: Vec3;
  georeference: Georeference | null;
  cameras: FileCamera[];
  /** Largest shift of a vertex by rounding, in metres. */
  quantisationError: number;
  /** Milliseconds of wall time a phase. */
  time: Record<string, number>;
}
