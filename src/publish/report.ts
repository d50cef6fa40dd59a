import type { Vec3 } from '@/core/math/mat4';
import type { Box3 } from '@/core/math/box3';
import type { FileCamera, Georeference, ModelSource, ReadWarning } from '@/formats/building-model';

/** What became of a file: written as `report.json` beside the tiles and shown on the Prepare station. */
export interface PublishReport {
  source: ModelSource & { bytes: number };
  counts: {
    /** Rows of the contents, with and without geometry. */
    elements: number;
    /** Products that name a shape in the file. */
    productsWithShape: number;
    /** Elements that show at least one triangle. */
    elementsWithGeometry: number;
    triangles: number;
    tiles: number;
    storeys: number;
    byCategory: Record<string, number>;
  };
  /** What could not be read, element by element. */
  unread: ReadWarning[];
  /** Bytes on disk, as stored and as sent with Brotli. */
  weight: { tiles: number; index: number; tilesBrotli: number; indexBrotli: number };
  /** Metres, Z up, relative to `offset`; null if nothing shows. */
  extent: Box3 | null;
  offset: Vec3;
  georeference: Georeference | null;
  cameras: FileCamera[];
  /** Largest shift of a vertex by rounding, in metres. */
  quantisationError: number;
  /** Milliseconds of wall time a stage. */
  time: Record<string, number>;
}
