import { v5 as uuidv5, parse as parseUuid } from 'uuid';
import { isOnMap } from '../placement/placement';
import { guidText } from '../step/guid-text';
import { DERIVED, int, StepWriter, token, type Ref, type StepValue } from '../step/step-writer';
import type { Taken, TakenElement, TakenSurface } from './taken';

/** Classes that take a predefined type after what all elements have. */
const CLASSES: Record<string, string> = {
  Wall: 'IFCWALL',
  Slab: 'IFCSLAB',
  Roof: 'IFCROOF',
  Beam: 'IFCBEAM',
  Column: 'IFCCOLUMN',
  Member: 'IFCMEMBER',
  Plate: 'IFCPLATE',
  Stair: 'IFCSTAIR',
  Ramp: 'IFCRAMP',
  Railing: 'IFCRAILING',
  Covering: 'IFCCOVERING',
  Footing: 'IFCFOOTING',
  'Curtain wall': 'IFCCURTAINWALL',
  Furniture: 'IFCFURNITURE',
};
/** A name that every guid of this application is made under which was none in its file. */
const NAMESPACE = '6f0d9a0e-8d0b-4f0a-9a55-0b2f6f3f6c11';
const GUID = /^[0-3][0-9A-Za-z_$]{21}$/;

/**
 * What is taken along as an IFC4 file: every element with its guid, name, class, storey and colours, its surfaces as
 * triangles where they stand in the project, and the project where it lies on the map.
 */
export function writeIfc({ name, time, author, storeys, georeference, elements }: Taken): string {
  const out = new StepWriter();
  const used = new Set<string>();
  const guid = (own: string): string => {
    const free = GUID.test(own) && !used.has(own) ? own : madeGuid(`${own}/${used.size}`);
    used.add(free);
    return free;
  };
  const point = out.add('IFCCARTESIANPOINT', [0, 0, 0]);
  const origin = out.add('IFCAXIS2PLACEMENT3D', point, null, null);
  const context = out.add('IFCGEOMETRICREPRESENTATIONCONTEXT', null, 'Model', int(3), 1e-5, origin, null);
  const body = out.add('IFCGEOMETRICREPRESENTATIONSUBCONTEXT', 'Body', 'Model', DERIVED, DERIVED, DERIVED, DERIVED, context, null, token('MODEL_VIEW'), null); // prettier-ignore
  const units = out.add('IFCUNITASSIGNMENT', [
    out.add('IFCSIUNIT', DERIVED, token('LENGTHUNIT'), null, token('METRE')),
    out.add('IFCSIUNIT', DERIVED, token('AREAUNIT'), null, token('SQUARE_METRE')),
    out.add('IFCSIUNIT', DERIVED, token('VOLUMEUNIT'), null, token('CUBIC_METRE')),
    out.add('IFCSIUNIT', DERIVED, token('PLANEANGLEUNIT'), null, token('RADIAN')),
  ]);
  const project = out.add('IFCPROJECT', guid('project'), null, name, null, null, null, null, [context], units);
  if (isOnMap(georeference)) {
    const { crs = '', eastings, northings, orthogonalHeight = 0, mapTurn = 0 } = georeference;
    const projected = out.add('IFCPROJECTEDCRS', crs, null, null, null, null, null, null);
    out.add('IFCMAPCONVERSION', context, projected, eastings, northings, orthogonalHeight, Math.cos(mapTurn), Math.sin(mapTurn), 1); // prettier-ignore
  }
  const placement = (relative: Ref | null, z = 0) => {
    const at = z === 0 ? origin : out.add('IFCAXIS2PLACEMENT3D', out.add('IFCCARTESIANPOINT', [0, 0, z]), null, null);
    return out.add('IFCLOCALPLACEMENT', relative, at);
  };
  const here = placement(null);
  const site = out.add('IFCSITE', guid('site'), null, name, null, null, here, null, null, token('ELEMENT'), null, null, null, null, null); // prettier-ignore
  const building = out.add('IFCBUILDING', guid('building'), null, name, null, null, placement(here), null, null, token('ELEMENT'), null, null, null); // prettier-ignore
  const levels = storeys.map((storey) => ({
    name: storey.name,
    ref: out.add('IFCBUILDINGSTOREY', guid(`storey/${storey.name}`), null, storey.name, null, null, placement(here, storey.elevation), null, null, token('ELEMENT'), storey.elevation), // prettier-ignore
    holds: [] as Ref[],
  }));
  const whole = (of: Ref, parts: Ref[], key: string) =>
    parts.length > 0 ? out.add('IFCRELAGGREGATES', guid(key), null, null, null, of, parts) : null;
  whole(project, [site], 'rel/site');
  whole(site, [building], 'rel/building');
  whole(building, levels.map(({ ref }) => ref), 'rel/storeys'); // prettier-ignore
  const onSite: Ref[] = [];
  const styleOf = styles(out);
  for (const element of elements) {
    const ref = product(out, element, guid(element.guid), placement(here), shape(out, body, element.surfaces, styleOf));
    (levels.find((level) => level.name === element.storey)?.holds ?? onSite).push(ref);
  }
  const contain = (place: Ref, holds: Ref[], key: string) =>
    holds.length > 0 && out.add('IFCRELCONTAINEDINSPATIALSTRUCTURE', guid(key), null, null, null, holds, place);
  for (const level of levels) contain(level.ref, level.holds, `rel/in/${level.name}`);
  contain(site, onSite, 'rel/in/site');
  return out.finish('IFC4', `${name}.ifc`, author, '', time.slice(0, 19));
}

function product(out: StepWriter, { name, category }: TakenElement, guid: string, placement: Ref, shape: Ref): Ref {
  const common: StepValue[] = [guid, null, name || null, null, null, placement, shape, null];
  if (category === 'Door') return out.add('IFCDOOR', ...common, null, null, null, null, null);
  if (category === 'Window') return out.add('IFCWINDOW', ...common, null, null, null, null, null);
  const known = CLASSES[category];
  if (known) return out.add(known, ...common, null);
  // What its category is called stays readable where there is no class for it.
  common[4] = category || null;
  return out.add('IFCBUILDINGELEMENTPROXY', ...common, null);
}

function shape(
  out: StepWriter,
  context: Ref,
  surfaces: readonly TakenSurface[],
  styleOf: (colour: TakenSurface['colour']) => Ref,
): Ref {
  const items = surfaces.map(({ colour, positions, indices }) => {
    const points = Array.from({ length: positions.length / 3 }, (_, i) => [positions[3 * i]!, positions[3 * i + 1]!, positions[3 * i + 2]!]); // prettier-ignore
    const triangles = Array.from({ length: indices.length / 3 }, (_, i) =>
      [0, 1, 2].map((corner) => int(indices[3 * i + corner]! + 1)),
    );
    const list = out.add('IFCCARTESIANPOINTLIST3D', points);
    const item = out.add('IFCTRIANGULATEDFACESET', list, null, null, triangles, null);
    out.add('IFCSTYLEDITEM', item, [styleOf(colour)], null);
    return item;
  });
  const representation = out.add('IFCSHAPEREPRESENTATION', context, 'Body', 'Tessellation', items);
  return out.add('IFCPRODUCTDEFINITIONSHAPE', null, null, [representation]);
}

/** A style for each colour, made once. */
function styles(out: StepWriter): (colour: TakenSurface['colour']) => Ref {
  const known = new Map<string, Ref>();
  return (colour) => {
    const key = colour.join();
    let style = known.get(key);
    if (!style) {
      const [red, green, blue, opacity] = colour.map((part) => part / 255);
      const rgb = out.add('IFCCOLOURRGB', null, red!, green!, blue!);
      const rendering = out.add('IFCSURFACESTYLERENDERING', rgb, 1 - opacity!, null, null, null, null, null, null, token('FLAT')); // prettier-ignore
      style = out.add('IFCSURFACESTYLE', null, token('BOTH'), [rendering]);
      known.set(key, style);
    }
    return style;
  };
}

/** A guid in IFC's base 64 for what came without one: the same for the same name. */
function madeGuid(key: string): string {
  return guidText(parseUuid(uuidv5(key, NAMESPACE)).reduce((sum, byte) => (sum << 8n) | BigInt(byte), 0n));
}
