import { FromRawLineData, InheritanceDef, SchemaNames } from 'web-ifc';
import { REFERENCE } from '../step/step-values';

/** What a schema says of its classes. */
export interface IfcSchema {
  /** As a file's header names it, addenda and corrigenda included. */
  names: string[];
  /** By the code of a class (`typeCode`): its name, such as `IfcWall`, and those of its attributes, without derived ones. */
  classes: Record<number, [name: string, ...attributes: string[]]>;
  /** By the code of a class: those of all classes below it. */
  subtypes: Record<number, number[]>;
}

/** The library's tables, which it exports without types: by number of the schema, then by code of the class. */
const makers = FromRawLineData as Record<number, Record<number, LineMaker>>;
const inheritance = InheritanceDef as Record<number, Record<number, number[]>>;

type LineMaker = (values: unknown[]) => Record<string, unknown>;

/** More values than any class has. */
const MOST_VALUES = 64;

/**
 * The schemas that the reader library knows: plain data, which the bundled converter holds ready, because the library
 * takes longer to load than most files take to read.
 */
export const SCHEMAS: IfcSchema[] = (SchemaNames as string[][]).flatMap((names, number) => {
  const make = makers[number];
  return make ? [{ names, classes: classesOf(make), subtypes: inheritance[number] ?? {} }] : [];
});

/** Looks at two lines of every class: attributes stand in the order of the schema, and derived ones take no value. */
function classesOf(make: Record<number, LineMaker>): IfcSchema['classes'] {
  const classes: IfcSchema['classes'] = {};
  for (const code of Object.keys(make).map(Number)) {
    const [one, other] = [1, 2].map((value) => make[code]!(new Array<unknown>(MOST_VALUES).fill(anything(value))));
    // Values such as a label have a code too, but are no lines.
    if (!('expressID' in one!)) continue;
    const isGiven = (name: string) => JSON.stringify(one[name]) !== JSON.stringify(other![name]);
    classes[code] = [one.constructor.name, ...Object.keys(one).filter(isGiven)];
  }
  return classes;
}

/** What every attribute takes: a reference, a list and a list of lists at once. */
function anything(value: number): unknown {
  const reference = { type: REFERENCE, value };
  return Object.assign([Object.assign([reference], reference)], reference);
}
