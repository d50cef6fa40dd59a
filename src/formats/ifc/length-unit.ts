import { IFCSIUNIT, IFCUNITASSIGNMENT } from './class-codes';
import { numeric, plain, reference, references, text, type IfcLine } from './ifc-line';
import type { IfcFile } from './ifc-file';

const SI_PREFIX: Record<string, number> = {
  KILO: 1e3,
  HECTO: 1e2,
  DECA: 1e1,
  DECI: 1e-1,
  CENTI: 1e-2,
  MILLI: 1e-3,
  MICRO: 1e-6,
};

/** Metres in one length unit of the file; 1 where the file gives none. */
export function lengthUnitInMetres(file: IfcFile): number {
  for (const assignment of file.linesOfType(IFCUNITASSIGNMENT)) {
    for (const id of references(assignment, 'Units')) {
      const unit = file.line(id);
      if (plain(unit.UnitType) === 'LENGTHUNIT') return unitFactor(file, unit);
    }
  }
  return 1;
}

function unitFactor(file: IfcFile, unit: IfcLine): number {
  if (unit.type === IFCSIUNIT) return SI_PREFIX[text(unit, 'Prefix')] ?? 1;
  const factor = reference(unit, 'ConversionFactor');
  if (factor === null) return 1;
  const measure = file.line(factor);
  const base = reference(measure, 'UnitComponent');
  return (numeric(measure, 'ValueComponent') ?? 1) * (base === null ? 1 : unitFactor(file, file.line(base)));
}
