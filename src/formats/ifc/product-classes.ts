import {
  IFCANNOTATION,
  IFCFEATUREELEMENTSUBTRACTION,
  IFCGRID,
  IFCPORT,
  IFCPRODUCT,
  IFCSTRUCTURALACTIVITY,
  IFCSTRUCTURALITEM,
} from './class-codes';
import { schemaOf, withSubtypes } from './ifc-file';

/** Products that are no part of the building, with the reason that the report gives. */
export const LEFT_OUT: [type: number, reason: string][] = [
  [IFCFEATUREELEMENTSUBTRACTION, 'an opening: it is cut out of its element and not shown by itself'],
  [IFCPORT, 'a port: it only tells where services connect'],
  [IFCSTRUCTURALITEM, 'a part of the structural analysis, not of the building'],
  [IFCSTRUCTURALACTIVITY, 'a load of the structural analysis, not of the building'],
  [IFCANNOTATION, 'an annotation of a drawing'],
  [IFCGRID, 'a grid of axes'],
];

/** Codes of the classes whose shapes are shown: all products but those. @param schema as a file's header names it */
export function shownClasses(schema: string): number[] {
  const known = schemaOf(schema);
  const leftOut = new Set(LEFT_OUT.flatMap(([type]) => withSubtypes(known, type)));
  return withSubtypes(known, IFCPRODUCT).filter((type) => !leftOut.has(type));
}
