import * as library from 'web-ifc';
import { describe, expect, it } from 'vitest';
import * as codes from './class-codes';
import { SCHEMAS } from './schemas';

const schema = (name: string) => SCHEMAS.find(({ names }) => names.includes(name))!;
const attributes = (name: string, code: number) => schema(name).classes[code];

/** As buildingSMART's documentation of the schemas lists them. */
describe('schemas', () => {
  it('name the attributes of a class in their order, those of the classes above it first', () => {
    const element = [
      'GlobalId',
      'OwnerHistory',
      'Name',
      'Description',
      'ObjectType',
      'ObjectPlacement',
      'Representation',
    ];
    expect(attributes('IFC2X3', library.IFCWALL)).toEqual(['IfcWall', ...element, 'Tag']);
    expect(attributes('IFC4', library.IFCWALL)).toEqual(['IfcWall', ...element, 'Tag', 'PredefinedType']);
    expect(attributes('IFC4X3_ADD2', library.IFCSITE)).toEqual([
      'IfcSite',
      ...element,
      ...[
        'LongName',
        'CompositionType',
        'RefLatitude',
        'RefLongitude',
        'RefElevation',
        'LandTitleNumber',
        'SiteAddress',
      ],
    ]);
    expect(attributes('IFC4', library.IFCINDEXEDCOLOURMAP)).toEqual([
      ...['IfcIndexedColourMap', 'MappedTo', 'Opacity', 'Colours', 'ColourIndex'],
    ]);
    expect(attributes('IFC4', library.IFCPROPERTYENUMERATEDVALUE)).toEqual([
      ...['IfcPropertyEnumeratedValue', 'Name', 'Description', 'EnumerationValues', 'EnumerationReference'],
    ]);
  });

  it('leave out attributes that a class derives, which have no value in a file', () => {
    for (const name of ['IFC2X3', 'IFC4', 'IFC4X3'])
      expect(attributes(name, library.IFCSIUNIT)).toEqual(['IfcSIUnit', 'UnitType', 'Prefix', 'Name']);
    expect(attributes('IFC4', library.IFCGEOMETRICREPRESENTATIONSUBCONTEXT)!.slice(1)).toEqual([
      ...['ContextIdentifier', 'ContextType', 'ParentContext', 'TargetScale', 'TargetView', 'UserDefinedTargetView'],
    ]);
  });

  it('know which classes lie below one', () => {
    const below = schema('IFC4').subtypes[library.IFCELEMENT]!;
    expect(below).toContain(library.IFCWALLSTANDARDCASE);
    expect(below).toContain(library.IFCFLOWSEGMENT);
    expect(below).not.toContain(library.IFCSPACE);
  });

  it('hold classes alone, no labels or measures', () => {
    expect(attributes('IFC4', library.IFCLABEL)).toBeUndefined();
    expect(Object.keys(schema('IFC2X3').classes)).toHaveLength(653); // the entities of IFC2x3 TC1
  });
});

it('classes that are asked for have the codes by which the library knows them', () => {
  const known = Object.entries(library).filter(([name]) => name in codes);
  expect(Object.fromEntries(known)).toEqual({ ...codes });
});
