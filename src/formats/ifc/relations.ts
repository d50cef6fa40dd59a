import type { Georeference } from '@/core/project/publish-report';
import {
  IFCMAPCONVERSION,
  IFCRELAGGREGATES,
  IFCRELASSIGNSTOGROUP,
  IFCRELASSOCIATESMATERIAL,
  IFCRELCONTAINEDINSPATIALSTRUCTURE,
  IFCRELDEFINESBYTYPE,
  IFCRELFILLSELEMENT,
  IFCRELNESTS,
  IFCRELVOIDSELEMENT,
  IFCSITE,
  IFCGEOMETRICREPRESENTATIONCONTEXT,
} from './class-codes';
import { numbers, numeric, reference, references, text } from './ifc-line';
import type { IfcFile } from './ifc-file';

/** Who belongs to whom, by express id. */
export interface IfcRelations {
  /** Element -> spatial structure element that contains it. */
  container: Map<number, number>;
  /** Part -> whole, by aggregation or nesting. */
  whole: Map<number, number>;
  /** Door or window -> the element whose opening it fills. */
  host: Map<number, number>;
  /** Element -> names of the systems and groups it is assigned to. */
  groups: Map<number, string[]>;
  /** Element or type -> its material, or set, list or usage of materials. */
  material: Map<number, number>;
  /** Element -> its type object. */
  type: Map<number, number>;
}

export function readRelations(file: IfcFile): IfcRelations {
  const relations: IfcRelations = {
    container: new Map(),
    whole: new Map(),
    host: new Map(),
    groups: new Map(),
    material: new Map(),
    type: new Map(),
  };

  for (const line of file.linesOfType(IFCRELCONTAINEDINSPATIALSTRUCTURE)) {
    const structure = reference(line, 'RelatingStructure');
    if (structure !== null)
      for (const id of references(line, 'RelatedElements')) relations.container.set(id, structure);
  }
  for (const type of [IFCRELAGGREGATES, IFCRELNESTS]) {
    for (const line of file.linesOfType(type)) {
      const whole = reference(line, 'RelatingObject');
      if (whole !== null) for (const id of references(line, 'RelatedObjects')) relations.whole.set(id, whole);
    }
  }
  const voided = new Map<number, number>();
  for (const line of file.linesOfType(IFCRELVOIDSELEMENT)) {
    const opening = reference(line, 'RelatedOpeningElement');
    const host = reference(line, 'RelatingBuildingElement');
    if (opening !== null && host !== null) voided.set(opening, host);
  }
  for (const line of file.linesOfType(IFCRELFILLSELEMENT)) {
    const filling = reference(line, 'RelatedBuildingElement');
    const host = voided.get(reference(line, 'RelatingOpeningElement') ?? -1);
    if (filling !== null && host !== undefined) relations.host.set(filling, host);
  }
  for (const line of file.linesOfType(IFCRELASSIGNSTOGROUP, true)) {
    const group = reference(line, 'RelatingGroup');
    if (group === null) continue;
    const groupLine = file.line(group);
    const name = text(groupLine, 'Name') || text(groupLine, 'LongName');
    if (name) for (const id of references(line, 'RelatedObjects')) append(relations.groups, id, name);
  }
  for (const line of file.linesOfType(IFCRELASSOCIATESMATERIAL)) {
    const material = reference(line, 'RelatingMaterial');
    if (material !== null) for (const id of references(line, 'RelatedObjects')) relations.material.set(id, material);
  }
  for (const line of file.linesOfType(IFCRELDEFINESBYTYPE)) {
    const type = reference(line, 'RelatingType');
    if (type !== null) for (const id of references(line, 'RelatedObjects')) relations.type.set(id, type);
  }
  return relations;
}

function append<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}

/** Latitude and longitude of the site, map conversion and true north, as far as the file gives them. */
export function readGeoreference(file: IfcFile): Georeference | null {
  const found: Georeference = {};
  for (const site of file.linesOfType(IFCSITE)) {
    const latitude = degrees(numbers(site, 'RefLatitude'));
    const longitude = degrees(numbers(site, 'RefLongitude'));
    if (latitude !== null && longitude !== null) Object.assign(found, { latitude, longitude });
  }
  for (const context of file.linesOfType(IFCGEOMETRICREPRESENTATIONCONTEXT)) {
    const north = reference(context, 'TrueNorth');
    const ratios = north === null ? [] : numbers(file.line(north), 'DirectionRatios');
    if (ratios.length >= 2) found.trueNorth = Math.atan2(-ratios[0]!, ratios[1]!);
  }
  for (const conversion of file.linesOfType(IFCMAPCONVERSION)) {
    const crs = reference(conversion, 'TargetCRS');
    const [abscissa, ordinate] = [numeric(conversion, 'XAxisAbscissa'), numeric(conversion, 'XAxisOrdinate')];
    if (abscissa !== null && ordinate !== null) found.mapTurn = Math.atan2(ordinate, abscissa);
    Object.assign(found, {
      crs: crs === null ? undefined : text(file.line(crs), 'Name') || undefined,
      eastings: numeric(conversion, 'Eastings') ?? undefined,
      northings: numeric(conversion, 'Northings') ?? undefined,
      orthogonalHeight: numeric(conversion, 'OrthogonalHeight') ?? undefined,
    });
  }
  return Object.keys(found).length > 0 ? found : null;
}

/** IfcCompoundPlaneAngleMeasure: degrees, minutes, seconds and millionths of a second, all of one sign. */
function degrees(parts: number[]): number | null {
  if (parts.length < 3) return null;
  return parts[0]! + parts[1]! / 60 + parts[2]! / 3600 + (parts[3] ?? 0) / 3.6e9;
}
