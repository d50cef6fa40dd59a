import type { PropertySets, PropertyValue } from '../building-model';
import { IFCELEMENTQUANTITY, IFCPROPERTYSET, IFCRELDEFINESBYPROPERTIES, IFCRELDEFINESBYTYPE } from './class-codes';
import { plain, reference, references, text, type IfcLine } from './ifc-line';
import type { IfcFile } from './ifc-file';

/** Property sets and quantities of all that have some, by express id: an element's own laid over those of its type. */
export function readFacts(file: IfcFile): Map<number, PropertySets> {
  const types = new Map<number, number>();
  const definitions = new Map<number, number[]>();
  const define = (id: number, definition: number) => {
    const known = definitions.get(id);
    if (known) known.push(definition);
    else definitions.set(id, [definition]);
  };
  for (const line of file.linesOfType(IFCRELDEFINESBYTYPE)) {
    const type = reference(line, 'RelatingType');
    if (type !== null) for (const id of references(line, 'RelatedObjects')) types.set(id, type);
  }
  for (const line of file.linesOfType(IFCRELDEFINESBYPROPERTIES)) {
    for (const definition of references(line, 'RelatingPropertyDefinition'))
      for (const id of references(line, 'RelatedObjects')) define(id, definition);
  }
  for (const type of new Set(types.values()))
    for (const definition of references(file.line(type), 'HasPropertySets')) define(type, definition);

  const reader = new PropertyReader(file);
  const facts = new Map<number, PropertySets>();
  for (const id of new Set([...types.keys(), ...definitions.keys()])) {
    const sets = reader.read([...(definitions.get(types.get(id) ?? -1) ?? []), ...(definitions.get(id) ?? [])]);
    if (Object.keys(sets).length > 0) facts.set(id, sets);
  }
  return facts;
}

/** Reads sets of properties; one that many elements share is read once. */
class PropertyReader {
  private readonly sets = new Map<number, { name: string; values: Record<string, PropertyValue> } | null>();

  constructor(private readonly file: IfcFile) {}

  /** The later of two definitions of one name goes before. */
  read(definitions: number[]): PropertySets {
    const out: PropertySets = {};
    for (const id of definitions) {
      const set = this.definition(id);
      if (set) out[set.name] = { ...out[set.name], ...set.values };
    }
    return out;
  }

  private definition(id: number) {
    let set = this.sets.get(id);
    if (set === undefined) {
      set = this.readDefinition(this.file.line(id));
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
    for (const id of members) this.readMember(this.file.line(id), '', values, 0);
    return { name: text(line, 'Name') || 'Properties', values };
  }

  private readMember(line: IfcLine, prefix: string, into: Record<string, PropertyValue>, depth: number): void {
    const name = prefix + text(line, 'Name');
    const nested = references(line, 'HasProperties');
    if (nested.length > 0 && depth < 4) {
      for (const id of nested) this.readMember(this.file.line(id), `${name} / `, into, depth + 1);
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
