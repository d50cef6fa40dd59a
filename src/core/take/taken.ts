import type { Georeference } from '../project/publish-report';

/** The surfaces of one colour of an element, in project coordinates: metres, Z up. */
export interface TakenSurface {
  /** sRGB and opacity, 0..255. */
  colour: readonly [number, number, number, number];
  positions: Float64Array;
  indices: Uint32Array;
}

/** An element that is taken along into another program. */
export interface TakenElement {
  guid: string;
  name: string;
  category: string;
  /** Name of its storey; empty where it is on none. */
  storey: string;
  surfaces: TakenSurface[];
}

/** What is taken along: elements of whatever models, each where it stands in the project. */
export interface Taken {
  name: string;
  /** ISO 8601. */
  time: string;
  author: string;
  storeys: { name: string; elevation: number }[];
  /** Where the project's zero lies on the map; null where that is not known. */
  georeference: Georeference | null;
  elements: TakenElement[];
}
