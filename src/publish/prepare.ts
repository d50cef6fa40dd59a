import type { PublishReport } from '@/core/project/publish-report';
import type { PublishSettings } from '@/core/project/publish-settings';
import type { BuildingModel } from '@/formats/building-model';
import { placeGeometry, type PlacedGeometry } from './geometry/element-geometry';
import { mergeFacets } from './geometry/merge-facets';
import { plainBytes } from './tiles/plain-bytes';
import { reveal } from './reveal/reveal';
import { shareGeometries } from './geometry/share-geometries';
import { changeSurfaces } from './surfaces/change-surfaces';

/** What is to be published: elements with their triangles in place, and what was done so far. */
export interface Prepared {
  /** Where nothing is to be mended, without its shapes: with those in place they would be held twice. */
  model: BuildingModel;
  placed: PlacedGeometry;
  withheld: number;
  newCategories: string[];
  changes: PublishReport['surfaces'];
  /** Bytes that the triangles would take as they came. */
  plain: number;
  /** Triangles that went with the facets of one plane. */
  merged: number;
}

/** Leaves what is to be revealed of a model, changes surfaces, merges facets, puts everything in its place. */
export async function prepare(
  whole: BuildingModel,
  { reveal: rule, surfaces = [], mend = [] }: PublishSettings,
): Promise<Prepared> {
  const { model, withheld, newCategories } = rule
    ? reveal(whole, rule)
    : { model: whole, withheld: 0, newCategories: [] };
  const changed = changeSurfaces(model, surfaces);
  const merged = await mergeFacets(shareGeometries(changed.model));
  return {
    model: mend.length > 0 ? merged.model : { ...merged.model, geometries: [], placements: [] },
    placed: placeGeometry(merged.model),
    withheld,
    newCategories,
    changes: changed.changes,
    plain: model.placements.reduce((sum, { geometry }) => sum + plainBytes(model.geometries[geometry]!), 0),
    merged: merged.saved,
  };
}
