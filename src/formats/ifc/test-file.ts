/** Hand-written IFC for tests: a project with one storey, and products with whatever shape a test wants. */

interface Setting {
  schema?: string;
  /** STEP lines #40 to #49 that define the length unit as #40. */
  lengthUnit?: string;
}

const METRE = '#40=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);';
export const MILLIMETRE = '#40=IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.);';
export const FOOT = `#40=IFCCONVERSIONBASEDUNIT(#41,.LENGTHUNIT.,'FOOT',#42);
#41=IFCDIMENSIONALEXPONENTS(1,0,0,0,0,0,0);
#42=IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(0.3048),#43);
#43=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);`;

/**
 * A whole file. The lines may use #10 (context), #12 (placement at zero), #13 (storey), #20 (axes at zero in space),
 * #21 (axes at zero in the plane), #22 (direction Z), #23 (point zero); their own numbers start at #100.
 */
export function ifcFile(lines: string, { schema = 'IFC4', lengthUnit = METRE }: Setting = {}): string {
  return `ISO-10303-21;
HEADER;
FILE_DESCRIPTION((''),'2;1');
FILE_NAME('test.ifc','2026-01-01T00:00:00',('A'),('B'),'p','By hand','');
FILE_SCHEMA(('${schema}'));
ENDSEC;
DATA;
#5=IFCOWNERHISTORY(#6,#7,$,.ADDED.,$,$,$,0);
#6=IFCPERSONANDORGANIZATION(#8,#9,$);
#7=IFCAPPLICATION(#9,'1','By hand','h');
#8=IFCPERSON($,'A',$,$,$,$,$,$);
#9=IFCORGANIZATION($,'B',$,$,$);
#10=IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-5,#20,$);
#11=IFCPROJECT('0000000000000000000001',#5,'P',$,$,$,$,(#10),#14);
#12=IFCLOCALPLACEMENT($,#20);
#13=IFCBUILDINGSTOREY('0000000000000000000002',#5,'Ground',$,$,#12,$,$,.ELEMENT.,0.);
#14=IFCUNITASSIGNMENT((#40,#15));
#15=IFCSIUNIT(*,.PLANEANGLEUNIT.,$,.RADIAN.);
#20=IFCAXIS2PLACEMENT3D(#23,$,$);
#21=IFCAXIS2PLACEMENT2D(#24,$);
#22=IFCDIRECTION((0.,0.,1.));
#23=IFCCARTESIANPOINT((0.,0.,0.));
#24=IFCCARTESIANPOINT((0.,0.));
${lengthUnit}
${lines.trim()}
ENDSEC;
END-ISO-10303-21;
`;
}

/**
 * A proxy element that shows the given items.
 *
 * @param id first of the five line numbers that it uses
 * @param items express ids of representation items, such as `#120`
 */
export function proxy(id: number, name: string, items: string, kind = 'SweptSolid', placement = '#12'): string {
  const guid = String(id).padStart(22, '0');
  return `#${id}=IFCBUILDINGELEMENTPROXY('${guid}',#5,'${name}',$,$,${placement},#${id + 1},$,$);
#${id + 1}=IFCPRODUCTDEFINITIONSHAPE($,$,(#${id + 2}));
#${id + 2}=IFCSHAPEREPRESENTATION(#10,'Body','${kind}',(${items}));
`;
}

/** A vertical prism over a profile, as two lines from `id`: the solid is `#id`. */
export function extrusion(id: number, profile: string, depth: number): string {
  return `#${id}=IFCEXTRUDEDAREASOLID(#${id + 1},#20,#22,${real(depth)});
#${id + 1}=${profile};
`;
}

export function rectangle(x: number, y: number): string {
  return `IFCRECTANGLEPROFILEDEF(.AREA.,$,#21,${real(x)},${real(y)})`;
}

/** A number in STEP's spelling, which always has its point. */
export function real(value: number): string {
  return Number.isInteger(value) ? `${value}.` : String(value);
}

/** A tuple of numbers in STEP's spelling. */
export function reals(...values: number[]): string {
  return `(${values.map(real).join(',')})`;
}

/** A closed polyline (or, in space, an open one) from `id`; its points follow at `id + 1`. */
export function polyline(id: number, points: number[][]): string {
  const ids = points.map((_, i) => `#${id + 1 + i}`);
  const closed = points[0]!.length === 2 ? [...ids, ids[0]!] : ids;
  return `#${id}=IFCPOLYLINE((${closed.join()}));
${points.map((point, i) => `#${id + 1 + i}=IFCCARTESIANPOINT(${reals(...point)});`).join('\n')}
`;
}
