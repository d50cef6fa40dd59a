import {
  IFCMAPCONVERSION,
  IFCPROPERTYSET,
  IFCELEMENTQUANTITY,
  IFCRELAGGREGATES,
  IFCRELASSIGNSTOGROUP,
  IFCRELASSOCIATESMATERIAL,
  IFCRELCONTAINEDINSPATIALSTRUCTURE,
  IFCRELDEFINESBYPROPERTIES,
  IFCRELDEFINESBYTYPE,
  IFCRELFILLSELEMENT,
  IFCRELNESTS,
  IFCRELVOIDSELEMENT,
  IFCSITE,
  IFCGEOMETRICREPRESENTATIONCONTEXT,
} from 'web-ifc';
import type { Georeference } from '@/core/project/publish-report';
import type { PropertySets, PropertyValue } from '../building-model';
import { numbers, numeric, plain, reference, references, text, type IfcLine } from './ifc-line';
import type { IfcSession } from './ifc-session';

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
  /** Element or type -> property set definitions. */
  definitions: Map<number, number[]>;
}

export function readRelations(session: IfcSession): IfcRelations {
  const relations: IfcRelations = {
    container: new Map(),
    whole: new Map(),
    host: new Map(),
    groups: new Map(),
    material: new Map(),
    type: new Map(),
    definitions: new Map(),
  };

  for (const line of session.linesOfType(IFCRELCONTAINEDINSPATIALSTRUCTURE)) {
    const structure = reference(line, 'RelatingStructure');
    if (structure !== null)
      for (const id of references(line, 'RelatedElements')) relations.container.set(id, structure);
  }
  for (const type of [IFCRELAGGREGATES, IFCRELNESTS]) {
    for (const line of session.linesOfType(type)) {
      const whole = reference(line, 'RelatingObject');
      if (whole !== null) for (const id of references(line, 'RelatedObjects')) relations.whole.set(id, whole);
    }
  }
  const voided = new Map<number, number>();
  for (const line of session.linesOfType(IFCRELVOIDSELEMENT)) {
    const opening = reference(line, 'RelatedOpeningElement');
    const host = reference(line, 'RelatingBuildingElement');
    if (opening !== null && host !== null) voided.set(opening, host);
  }
  for (const line of session.linesOfType(IFCRELFILLSELEMENT)) {
    const filling = reference(line, 'RelatedBuildingElement');
    const host = voided.get(reference(line, 'RelatingOpeningElement') ?? -1);
    if (filling !== null && host !== undefined) relations.host.set(filling, host);
  }
  for (const line of session.linesOfType(IFCRELASSIGNSTOGROUP, true)) {
    const group = reference(line, 'RelatingGroup');
    if (group === null) continue;
    const groupLine = session.line(group);
    const name = text(groupLine, 'Name') || text(groupLine, 'LongName');
    if (name) for (const id of references(line, 'RelatedObjects')) append(relations.groups, id, name);
  }
  for (const line of session.linesOfType(IFCRELASSOCIATESMATERIAL)) {
    const material = reference(line, 'RelatingMaterial');
    if (material !== null) for (const id of references(line, 'RelatedObjects')) relations.material.set(id, material);
  }
  for (const line of session.linesOfType(IFCRELDEFINESBYTYPE)) {
    const type = reference(line, 'RelatingType');
    if (type !== null) for (const id of references(line, 'RelatedObjects')) relations.type.set(id, type);
  }
  for (const line of session.linesOfType(IFCRELDEFINESBYPROPERTIES)) {
    for (const definition of references(line, 'RelatingPropertyDefinition')) {
      for (const id of references(line, 'RelatedObjects')) append(relations.definitions, id, definition);
    }
  }
  for (const type of new Set(relations.type.values())) {
    for (const definition of references(session.line(type), 'HasPropertySets'))
      append(relations.definitions, type, definition);
  }
  return relations;
}

function append<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}

/** Reads property sets and quantities; one definition shared by many elements is read once. */
export class PropertyReader {
  private readonly sets = new Map<number, { name: string; values: Record<string, PropertyValue> } | null>();

  constructor(
    private readonly session: IfcSession,
    private readonly relations: IfcRelations,
  ) {}

  /** An element's own sets laid over those of its type. */
  read(element: number): PropertySets {
    const out: PropertySets = {};
    const type = this.relations.type.get(element);
    const definitions = [
      ...(type === undefined ? [] : (this.relations.definitions.get(type) ?? [])),
      ...(this.relations.definitions.get(element) ?? []),
    ];
    for (const id of definitions) {
      const set = this.definition(id);
      if (set) out[set.name] = { ...out[set.name], ...set.values };
    }
    return out;
  }

  private definition(id: number) {
    let set = this.sets.get(id);
    if (set === undefined) {
      set = this.readDefinition(this.session.line(id));
      this.sets.set(id, set);
    }
    return set;
  }

  private readDefinition(line: IfcLine) {
    const members =
      line.type === IFCPROPERTYSET
        ? references(line, 'HasProperties')
        : line.type === IFCELEMENTQUANTITY
          ? references(line, 'Quantities')
          : [];
    if (members.length === 0) return null;
    const values: Record<string, PropertyValue> = {};
    for (const id of members) this.readMember(this.session.line(id), '', values, 0);
    return { name: text(line, 'Name') || 'Properties', values };
  }

  private readMember(line: IfcLine, prefix: string, into: Record<string, PropertyValue>, depth: number): void {
    const name = prefix + text(line, 'Name');
    const nested = references(line, 'HasProperties');
    if (nested.length > 0 && depth < 4) {
      for (const id of nested) this.readMember(this.session.line(id), `${name} / `, into, depth + 1);
      return;
    }
    into[name] = memberValue(line);
  }
}

const VALUE_ATTRIBUTES = [
  'NominalValue',
  'LengthValue',
  'AreaValue',
  'VolumeValue',
  'CountValue',
  'WeightValue',
  'TimeValue',
];

function memberValue(line: IfcLine): PropertyValue {
  for (const attribute of VALUE_ATTRIBUTES) {
    if (attribute in line) return plain(line[attribute]);
  }
  for (const attribute of ['EnumerationValues', 'ListValues']) {
    const list = line[attribute];
    if (Array.isArray(list))
      return list
        .map(plain)
        .filter((item) => item !== null)
        .join(', ');
  }
  if ('UpperBoundValue' in line) {
    return [plain(line.LowerBoundValue), plain(line.UpperBoundValue)].map((bound) => bound ?? '…').join(' – ');
  }
  return null;
}

/** Latitude and longitude of the site, map conversion and true north, as far as the file gives them. */
export function readGeoreference(session: IfcSession): Georeference | null {
  const found: Georeference = {};
  for (const site of session.linesOfType(IFCSITE)) {
    const latitude = degrees(numbers(site, 'RefLatitude'));
    const longitude = degrees(numbers(site, 'RefLongitude'));
    if (latitude !== null && longitude !== null) Object.assign(found, { latitude, longitude });
  }
  for (const context of session.linesOfType(IFCGEOMETRICREPRESENTATIONCONTEXT)) {
    const north = reference(context, 'TrueNorth');
    const ratios = north === null ? [] : numbers(session.line(north), 'DirectionRatios');
    if (ratios.length >= 2) found.trueNorth = Math.atan2(-ratios[0]!, ratios[1]!);
  }
  for (const conversion of session.linesOfType(IFCMAPCONVERSION)) {
    const crs = reference(conversion, 'TargetCRS');
    const [abscissa, ordinate] = [numeric(conversion, 'XAxisAbscissa'), numeric(conversion, 'XAxisOrdinate')];
    if (abscissa !== null && ordinate !== null) found.mapTurn = Math.atan2(ordinate, abscissa);
    Object.assign(found, {
      crs: crs === null ? undefined : text(session.line(crs), 'Name') || undefined,
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
