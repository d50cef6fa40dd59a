import { IFCINDEXEDCOLOURMAP, IFCPOLYGONALFACESET } from './class-codes';
import { numbers, numeric, reference, references } from './ifc-line';
import type { IfcFile } from './ifc-file';
import type { Colour } from './surface-colours';

/** The colours of the single triangles of a face set, from an IfcIndexedColourMap. */
export interface FaceColours {
  colours: Colour[];
  /** Index into `colours`, one a triangle. */
  ofTriangle: number[];
}

/** Reads the colour maps of a file; the reader library draws face sets in one colour. By express id of the face set. */
export function readIndexedColours(file: IfcFile): Map<number, FaceColours> {
  const maps = new Map<number, FaceColours>();
  for (const map of file.linesOfType(IFCINDEXEDCOLOURMAP)) {
    const faceSet = reference(map, 'MappedTo');
    const list = reference(map, 'Colours');
    if (faceSet === null || list === null) continue;
    const opacity = numeric(map, 'Opacity') ?? 1;
    const colours = triples(file.line(list).ColourList).map(([red, green, blue]): Colour => [
      red,
      green,
      blue,
      opacity,
    ]);
    const ofFace = numbers(map, 'ColourIndex').map((index) => index - 1);
    if (ofFace.every((index) => index in colours))
      maps.set(faceSet, { colours, ofTriangle: byTriangle(file, faceSet, ofFace) });
  }
  return maps;
}

/** A polygon of n corners becomes n - 2 triangles, in the order of the faces. */
function byTriangle(file: IfcFile, faceSet: number, ofFace: number[]): number[] {
  const line = file.line(faceSet);
  if (line.type !== IFCPOLYGONALFACESET) return ofFace;
  return references(line, 'Faces').flatMap((face, i) => {
    const corners = numbers(file.line(face), 'CoordIndex').length;
    return Array.from({ length: Math.max(0, corners - 2) }, () => ofFace[i] ?? 0);
  });
}

function triples(value: unknown): [number, number, number][] {
  if (!Array.isArray(value)) return [];
  return value.map((item: unknown) => {
    const [x, y, z] = numbers({ expressID: 0, type: 0, item }, 'item');
    return [x ?? 1, y ?? 1, z ?? 1];
  });
}
