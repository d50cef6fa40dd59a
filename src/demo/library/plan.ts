import type { Point2 } from '../ifc/ifc-builder';

/** The plan of the library in metres: four wings around a planted court, X to the east, Y to the north. */
export const STOREY_HEIGHT = 3.8;
export const FACADE_MODULE = 1.5;
export const WALL = 0.3;
export const SLAB = 0.3;

export interface Wing {
  key: string;
  name: string;
  /** West, south, east, north edges. */
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  storeys: 1 | 2;
}

export const SOUTH: Wing = { key: 'south', name: 'South wing', x0: 0, y0: 0, x1: 48, y1: 10, storeys: 2 };
export const NORTH: Wing = { key: 'north', name: 'North wing', x0: 0, y0: 26, x1: 48, y1: 36, storeys: 2 };
export const WEST: Wing = { key: 'west', name: 'West wing', x0: 0, y0: 10, x1: 12, y1: 26, storeys: 2 };
export const HALL: Wing = { key: 'hall', name: 'Reading hall', x0: 30, y0: 10, x1: 48, y1: 26, storeys: 1 };
export const WINGS = [SOUTH, NORTH, WEST];

export const COURT = { x0: 12, y0: 10, x1: 30, y1: 26 };

/** Where the stair from the foyer comes up through the floor of the gallery. */
export const STAIRWELL = { x0: 21.2, y0: 6.5, x1: 25.42, y1: 8.12 };

/** The hall's roof: five folds across, eaves and ridges in metres above the ground floor. */
export const HALL_ROOF = { folds: 5, eaves: 5.0, ridge: 7.6, overhang: 0.8 };

/** Name of the system that holds all of the folded roof, in the architect's and the engineer's model. */
export const FOLDED_ROOF = 'Hall roof, folded';

export interface Room {
  key: string;
  number: string;
  name: string;
  storey: 0 | 1;
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

export const ROOMS: Room[] = [
  { key: 'cafe', number: '0.01', name: 'Café', storey: 0, x0: 0, y0: 0, x1: 12, y1: 10 },
  { key: 'foyer', number: '0.02', name: 'Foyer', storey: 0, x0: 12, y0: 0, x1: 30, y1: 10 },
  { key: 'returns', number: '0.03', name: 'Returns and lending', storey: 0, x0: 30, y0: 0, x1: 40.5, y1: 10 },
  { key: 'wc', number: '0.04', name: 'Accessible WC', storey: 0, x0: 40.5, y0: 0, x1: 43.5, y1: 5 },
  { key: 'store', number: '0.05', name: 'Store', storey: 0, x0: 43.5, y0: 0, x1: 48, y1: 5 },
  { key: 'lobby', number: '0.06', name: 'Lobby', storey: 0, x0: 40.5, y0: 5, x1: 48, y1: 10 },
  { key: 'study', number: '0.07', name: 'Study room', storey: 0, x0: 0, y0: 10, x1: 12, y1: 26 },
  { key: 'hall', number: '0.08', name: 'Reading hall', storey: 0, x0: 30, y0: 10, x1: 48, y1: 26 },
  { key: 'plant', number: '0.09', name: 'Plant room', storey: 0, x0: 0, y0: 26, x1: 12, y1: 36 },
  { key: 'workshop', number: '0.10', name: 'Book workshop', storey: 0, x0: 12, y0: 26, x1: 30, y1: 36 },
  { key: 'staff', number: '0.11', name: 'Staff room', storey: 0, x0: 30, y0: 26, x1: 48, y1: 36 },
  { key: 'stacks-south', number: '1.01', name: 'Local history', storey: 1, x0: 0, y0: 0, x1: 18, y1: 10 },
  { key: 'gallery', number: '1.02', name: 'Gallery', storey: 1, x0: 18, y0: 0, x1: 48, y1: 10 },
  { key: 'children', number: '1.03', name: "Children's corner", storey: 1, x0: 0, y0: 10, x1: 12, y1: 26 },
  { key: 'offices', number: '1.04', name: 'Offices', storey: 1, x0: 0, y0: 26, x1: 24, y1: 36 },
  { key: 'meeting', number: '1.05', name: 'Meeting room', storey: 1, x0: 24, y0: 26, x1: 48, y1: 36 },
];

export function rectangle(x0: number, y0: number, x1: number, y1: number): Point2[] {
  return [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ];
}

/** A small seeded generator (mulberry32), so that every run plants the same trees. */
export function seededRandom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
