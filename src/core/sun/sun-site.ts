import type { Vec3 } from '../math/mat4';
import { sunAt, type EarthPlace, type SunPosition } from './sun-position';

/** Where a project stands under the sun. */
export interface SunSite extends EarthPlace {
  /** As in the IANA time zone database, such as Europe/Paris. */
  timeZone: string;
  /** Radians from the project's +Y to true north, counter-clockwise. */
  north: number;
}

/** How a project's site is known: as its models say, or as somebody has set it. */
export interface ProjectSite {
  /** Null where neither is so. */
  site: SunSite | null;
  by: 'file' | 'hand' | null;
}

/** Unit vector towards the sun in project coordinates, Z up. */
export function sunDirection({ azimuth, elevation }: SunPosition, north: number): Vec3 {
  const turn = north - radians(azimuth);
  const level = Math.cos(radians(elevation));
  return [-Math.sin(turn) * level, Math.cos(turn) * level, Math.sin(radians(elevation))];
}

/** Unit vector towards the sun at a moment, and where that is in the sky. */
export function sunOver(site: SunSite, at: Date): { direction: Vec3; position: SunPosition } {
  const position = sunAt(site, at);
  return { direction: sunDirection(position, site.north), position };
}

function radians(degrees: number): number {
  return (degrees * Math.PI) / 180;
}
