import { boxCentre, boxDiagonal, boxSize, type Box3 } from '../math/box3';
import type { Vec3 } from '../math/mat4';
import { chooseTiles, type DetailView } from './choose-tiles';
import type { DetailTile, TileCost } from './detail-tile';
import { COARSEST_PIXEL_ERROR, DEVICES, FINEST_PIXEL_ERROR, type Device } from './device';

/** What a device will have to carry in the heaviest of the views that were tried. */
export interface DeviceForecast {
  device: Device['name'];
  /** Over all views of a frame. */
  triangles: number;
  drawCalls: number;
  /** Bytes in graphics memory. */
  memory: number;
  /** Bytes as sent until everything in the view is there in the detail that the device gets, with its pictures. */
  bytes: number;
  /** Pixels by which what is shown may be off, so that the device can carry it. */
  pixelError: number;
  /** Whether it can carry it even so. */
  fits: boolean;
}

export interface Forecast {
  /** Bytes as sent until the whole is on the screen for the first time. */
  firstLook: number;
  /** Views that were tried. */
  views: number;
  devices: DeviceForecast[];
}

const EYE_HEIGHT = 1.6;

/**
 * Foretells what devices will draw: chooses tiles as the viewer does, from around the whole and from eye height in
 * every storey, and coarsens until the heaviest view fits.
 *
 * @param storeys metres above zero, in the frame of the tiles
 * @param firstLook bytes as sent until the first tile is there, with it
 */
export function forecast(root: DetailTile, extent: Box3, storeys: number[], firstLook: number): Forecast {
  const stands = [...aroundWhole(extent), ...insideStoreys(extent, storeys)];
  return {
    firstLook,
    views: stands.length,
    devices: DEVICES.map((device) => forDevice(device, root, stands)),
  };
}

function forDevice(device: Device, root: DetailTile, stands: Pick<DetailView, 'eye' | 'target'>[]): DeviceForecast {
  const views = stands.map((stand): DetailView => ({ ...stand, ...device }));
  for (let pixelError = FINEST_PIXEL_ERROR; ; pixelError *= 1.25) {
    const heaviest = { triangles: 0, drawCalls: 0, bytes: 0, memory: 0 };
    for (const view of views) {
      const cost = sum(chooseTiles(root, view, pixelError));
      for (const key of ['triangles', 'drawCalls', 'bytes', 'memory'] as const)
        heaviest[key] = Math.max(
          heaviest[key],
          cost[key] * (key === 'triangles' || key === 'drawCalls' ? device.views : 1),
        );
    }
    const fits = isWithin(heaviest, device);
    if (!fits && pixelError * 1.25 <= COARSEST_PIXEL_ERROR) continue;
    return { device: device.name, ...heaviest, pixelError: Math.round(pixelError * 10) / 10, fits };
  }
}

function isWithin(cost: TileCost, device: Device): boolean {
  return cost.triangles <= device.triangles && cost.drawCalls <= device.drawCalls && cost.memory <= device.memory;
}

function sum(tiles: DetailTile[]): TileCost {
  const total = { triangles: 0, drawCalls: 0, bytes: 0, memory: 0 };
  const sent = new Set<string>();
  for (const { cost, pictures } of tiles) {
    total.triangles += cost!.triangles;
    total.drawCalls += cost!.drawCalls;
    total.bytes += cost!.bytes;
    total.memory += cost!.memory;
    for (const [address, bytes] of pictures) {
      if (!sent.has(address)) total.bytes += bytes;
      sent.add(address);
    }
  }
  return total;
}

/** From eight sides and from above, so far away that all of it is in sight. */
function aroundWhole(extent: Box3): Pick<DetailView, 'eye' | 'target'>[] {
  const target = boxCentre(extent);
  const distance = Math.max(boxDiagonal(extent), 1) * 1.1;
  return Array.from({ length: 8 }, (_, i) => {
    const angle = (i / 8) * 2 * Math.PI;
    const eye: Vec3 = [
      target[0] + Math.cos(angle) * distance * 0.9,
      target[1] + Math.sin(angle) * distance * 0.9,
      target[2] + distance * 0.45,
    ];
    return { eye, target };
  }).concat({ eye: [target[0], target[1], target[2] + distance], target });
}

/** From five places of every storey, each in four directions. */
function insideStoreys(extent: Box3, storeys: number[]): Pick<DetailView, 'eye' | 'target'>[] {
  const [width, depth] = boxSize(extent);
  // Houses of one file often have storeys at one height.
  const floors = storeys.length > 0 ? new Set(storeys.map((floor) => Math.round(floor * 10) / 10)) : [extent[2]];
  const places = [
    [0.5, 0.5],
    [0.25, 0.25],
    [0.75, 0.25],
    [0.25, 0.75],
    [0.75, 0.75],
  ] as const;
  return [...floors].flatMap((floor) =>
    places.flatMap(([across, along]) => {
      const eye: Vec3 = [extent[0] + width * across, extent[1] + depth * along, floor + EYE_HEIGHT];
      return [
        [1, 0],
        [0, 1],
        [-1, 0],
        [0, -1],
      ].map(([x, y]) => ({ eye, target: [eye[0] + x!, eye[1] + y!, eye[2]] as Vec3 }));
    }),
  );
}
