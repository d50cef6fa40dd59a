import { describe, expect, it } from 'vitest';
import { mapPoint } from './map-point';
import { AS_IN_FILE } from './placement';

const georeference = { crs: 'EPSG:25832', eastings: 400_000, northings: 5_700_000, orthogonalHeight: 87.5 };

describe('a place on the map', () => {
  it('is as far from the zero of the model that knows the map as it is in the project', () => {
    const models = [
      { placement: AS_IN_FILE, georeference: null },
      { placement: AS_IN_FILE, georeference },
    ];
    expect(mapPoint(models, [10, 20, 3])).toEqual({ at: [400_010, 5_700_020, 90.5], crs: 'EPSG:25832' });
  });

  it('turns with the model, by its file and by hand', () => {
    const quarter = Math.PI / 2;
    const turned = mapPoint(
      [{ placement: AS_IN_FILE, georeference: { ...georeference, mapTurn: quarter } }],
      [10, 0, 0],
    )!;
    expect(turned.at[0]).toBeCloseTo(400_000, 6);
    expect(turned.at[1]).toBeCloseTo(5_700_010, 6);
    // By hand the model stands turned in the project by the same, so that its own x is the project's y.
    const placed = mapPoint([{ placement: { turn: quarter, offset: [5, 0, 0] }, georeference }], [5, 10, 0])!;
    expect(placed.at[0]).toBeCloseTo(400_010, 6);
    expect(placed.at[1]).toBeCloseTo(5_700_000, 6);
  });

  it('is nowhere without such a model', () => {
    expect(mapPoint([{ placement: AS_IN_FILE, georeference: { latitude: 51 } }], [0, 0, 0])).toBeNull();
  });
});
