import {
  IFCDISTRIBUTIONELEMENT,
  IFCFOOTING,
  IFCFURNISHINGELEMENT,
  IFCGEOGRAPHICELEMENT,
  IFCPILE,
  IFCREINFORCINGELEMENT,
  IFCSYSTEMFURNITUREELEMENT,
  IFCTENDON,
} from './class-codes';
import type { IfcFile } from './ifc-file';

/** Classes whose discipline is beyond doubt, whoever wrote the file; all others are of the file's own discipline. */
const DISCIPLINES: [type: number, discipline: string][] = [
  [IFCDISTRIBUTIONELEMENT, 'Building services'],
  [IFCFURNISHINGELEMENT, 'Interior'],
  [IFCSYSTEMFURNITUREELEMENT, 'Interior'],
  [IFCFOOTING, 'Structure'],
  [IFCPILE, 'Structure'],
  [IFCREINFORCINGELEMENT, 'Structure'],
  [IFCTENDON, 'Structure'],
  [IFCGEOGRAPHICELEMENT, 'Landscape'],
];

/** Express id -> discipline, for products whose class says it. */
export function classDisciplines(file: IfcFile): Map<number, string> {
  return new Map(
    DISCIPLINES.flatMap(([type, discipline]) =>
      file.idsOfType(type, true).map((id): [number, string] => [id, discipline]),
    ),
  );
}
