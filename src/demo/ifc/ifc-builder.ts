import type { Vec3 } from '@/core/math/mat4';
import { ifcGuid } from './ifc-guid';
import { DERIVED, int, StepWriter, token, typed, type Ref, type StepValue } from '@/core/step/step-writer';

export type Point2 = [number, number];

export interface Style {
  readonly name: string;
  readonly style: Ref;
  readonly material: Ref;
}

/** A body and the style it is shown in. */
export interface Body {
  readonly solid: Ref;
  readonly style: Style;
  readonly kind: 'SweptSolid' | 'AdvancedSweptSolid' | 'Tessellation' | 'Brep';
}

export interface Place {
  readonly ref: Ref;
  readonly placement: Ref;
  readonly origin: Vec3;
}

export type Facts = Record<string, Record<string, string | number | boolean>>;

export interface ProductOptions {
  name: string;
  /** In building coordinates, metres. */
  at?: Vec3;
  /** Degrees about Z, counter-clockwise. */
  turn?: number;
  /** A list of bodies, or a type whose bodies are shared. */
  bodies?: Body[];
  type?: IfcType;
  in: Place;
  material?: Style;
  facts?: Facts;
  /** Attributes after Tag; by default one PredefinedType that is not given. */
  extra?: StepValue[];
  /** The whole that this is a part of; such a part is not contained in a storey on its own. */
  partOf?: Ref;
  tag?: string;
}

export interface IfcType {
  readonly ref: Ref;
  readonly map: Ref;
  readonly material: Style;
}

export interface BuilderOptions {
  /** Prefix of every identity key: one for each discipline model. */
  model: string;
  projectName: string;
  author: string;
  organisation: string;
  time: string;
}

/** Writes IFC4 building elements in metres, Z up, with identities derived from keys. */
export class IfcBuilder {
  private readonly out = new StepWriter();
  private readonly context: Ref;
  private readonly body: Ref;
  private readonly project: Ref;
  private readonly site: Place;
  private readonly building: Place;
  private readonly contained = new Map<number, { place: Ref; items: Ref[] }>();
  private readonly aggregated = new Map<number, { whole: Ref; parts: Ref[] }>();
  private readonly byMaterial = new Map<number, { material: Ref; items: Ref[] }>();
  private readonly byType = new Map<number, { type: Ref; items: Ref[] }>();
  private readonly systems = new Map<string, Ref[]>();
  private readonly keys = new Set<string>();
  readonly guids = new Map<string, string>();

  constructor(private readonly options: BuilderOptions) {
    const { out } = this;
    const origin = this.axis([0, 0, 0]);
    this.context = out.add(
      'IFCGEOMETRICREPRESENTATIONCONTEXT',
      null,
      'Model',
      int(3),
      1e-5,
      origin,
      this.direction([0.087156, 0.996195]),
    );
    this.body = out.add(
      'IFCGEOMETRICREPRESENTATIONSUBCONTEXT',
      'Body',
      'Model',
      DERIVED,
      DERIVED,
      DERIVED,
      DERIVED,
      this.context,
      null,
      token('MODEL_VIEW'),
      null,
    );
    const units = out.add('IFCUNITASSIGNMENT', [
      out.add('IFCSIUNIT', DERIVED, token('LENGTHUNIT'), null, token('METRE')),
      out.add('IFCSIUNIT', DERIVED, token('AREAUNIT'), null, token('SQUARE_METRE')),
      out.add('IFCSIUNIT', DERIVED, token('VOLUMEUNIT'), null, token('CUBIC_METRE')),
      out.add('IFCSIUNIT', DERIVED, token('PLANEANGLEUNIT'), null, token('RADIAN')),
    ]);
    this.project = out.add(
      'IFCPROJECT',
      ifcGuid('project'),
      null,
      options.projectName,
      null,
      null,
      null,
      null,
      [this.context],
      units,
    );
    const crs = out.add('IFCPROJECTEDCRS', 'EPSG:25833', null, 'ETRS89', null, 'UTM', '33N', null);
    out.add('IFCMAPCONVERSION', this.context, crs, 402180, 5712440, 87.5, 1, 0, 1);
    const sitePlacement = out.add('IFCLOCALPLACEMENT', null, origin);
    const site = out.add(
      'IFCSITE',
      ifcGuid('site'),
      null,
      'Lindenau commons',
      null,
      null,
      sitePlacement,
      null,
      null,
      token('ELEMENT'),
      [int(51), int(33), int(20)],
      [int(13), int(35), int(24)],
      87.5,
      null,
      null,
    );
    this.site = { ref: site, placement: sitePlacement, origin: [0, 0, 0] };
    const buildingPlacement = out.add('IFCLOCALPLACEMENT', sitePlacement, origin);
    const building = out.add(
      'IFCBUILDING',
      ifcGuid('building'),
      null,
      'Town library',
      null,
      null,
      buildingPlacement,
      null,
      null,
      token('ELEMENT'),
      null,
      null,
      null,
    );
    this.building = { ref: building, placement: buildingPlacement, origin: [0, 0, 0] };
    this.aggregate(this.project, site);
    this.aggregate(site, building);
  }

  get grounds(): Place {
    return this.site;
  }

  storey(key: string, name: string, elevation: number): Place {
    const placement = this.out.add('IFCLOCALPLACEMENT', this.building.placement, this.axis([0, 0, elevation]));
    const ref = this.out.add(
      'IFCBUILDINGSTOREY',
      ifcGuid(`storey/${key}`),
      null,
      name,
      null,
      null,
      placement,
      null,
      null,
      token('ELEMENT'),
      elevation,
    );
    this.aggregate(this.building.ref, ref);
    return { ref, placement, origin: [0, 0, elevation] };
  }

  style(name: string, hex: string, opacity = 1): Style {
    const { out } = this;
    const [r, g, b] = [1, 3, 5].map((start) => parseInt(hex.slice(start, start + 2), 16) / 255);
    const colour = out.add('IFCCOLOURRGB', null, r!, g!, b!);
    const rendering = out.add(
      'IFCSURFACESTYLERENDERING',
      colour,
      1 - opacity,
      null,
      null,
      null,
      null,
      null,
      null,
      token('FLAT'),
    );
    const style = out.add('IFCSURFACESTYLE', name, token('BOTH'), [rendering]);
    return { name, style, material: out.add('IFCMATERIAL', name, null, null) };
  }

  /** A polygon (metres, counter-clockwise) in the XY plane at `at`, drawn up along `axis` by `depth`. */
  extrude(
    style: Style,
    polygon: Point2[],
    depth: number,
    at: Vec3 = [0, 0, 0],
    axis: Vec3 = [0, 0, 1],
    reference: Vec3 = [1, 0, 0],
  ): Body {
    const { out } = this;
    const points = [...polygon, polygon[0]!].map((point) => out.add('IFCCARTESIANPOINT', point));
    const profile = out.add('IFCARBITRARYCLOSEDPROFILEDEF', token('AREA'), null, out.add('IFCPOLYLINE', points));
    return this.styled(
      style,
      'SweptSolid',
      out.add('IFCEXTRUDEDAREASOLID', profile, this.axis(at, axis, reference), this.direction([0, 0, 1]), depth),
    );
  }

  box(style: Style, at: Vec3, size: Vec3): Body {
    const [w, d, h] = size;
    return this.extrude(
      style,
      [
        [0, 0],
        [w, 0],
        [w, d],
        [0, d],
      ],
      h,
      at,
    );
  }

  cylinder(style: Style, radius: number, depth: number, at: Vec3, axis: Vec3 = [0, 0, 1]): Body {
    const { out } = this;
    const reference: Vec3 = Math.abs(axis[0]) > 0.9 ? [0, 1, 0] : [1, 0, 0];
    const profile = out.add('IFCCIRCLEPROFILEDEF', token('AREA'), null, null, radius);
    return this.styled(
      style,
      'SweptSolid',
      out.add('IFCEXTRUDEDAREASOLID', profile, this.axis(at, axis, reference), this.direction([0, 0, 1]), depth),
    );
  }

  /** Closed triangle mesh; `triangles` index `points` from 0. */
  mesh(style: Style, points: Vec3[], triangles: [number, number, number][]): Body {
    const { out } = this;
    const list = out.add('IFCCARTESIANPOINTLIST3D', points);
    return this.styled(
      style,
      'Tessellation',
      out.add(
        'IFCTRIANGULATEDFACESET',
        list,
        null,
        token('T'),
        triangles.map((triangle) => triangle.map((i) => int(i + 1))),
        null,
      ),
    );
  }

  /** Closed body of flat faces; `polygons` index `points` from 0, counter-clockwise from outside. */
  brep(style: Style, points: Vec3[], polygons: number[][]): Body {
    const { out } = this;
    const places = points.map((point) => out.add('IFCCARTESIANPOINT', point));
    const faces = polygons.map((polygon) => {
      const loop = out.add(
        'IFCPOLYLOOP',
        polygon.map((i) => places[i]!),
      );
      return out.add('IFCFACE', [out.add('IFCFACEOUTERBOUND', loop, token('T'))]);
    });
    return this.styled(style, 'Brep', out.add('IFCFACETEDBREP', out.add('IFCCLOSEDSHELL', faces)));
  }

  type(key: string, entity: string, name: string, bodies: Body[], extra: StepValue[]): IfcType {
    const { out } = this;
    const shape = this.shape(bodies);
    const map = out.add('IFCREPRESENTATIONMAP', this.axis([0, 0, 0]), shape);
    const ref = out.add(
      entity,
      ifcGuid(`${this.options.model}/type/${key}`),
      null,
      name,
      null,
      null,
      null,
      [map],
      null,
      null,
      ...extra,
    );
    return { ref, map, material: bodies[0]!.style };
  }

  /** Adds an element; `key` is its identity within this discipline model. */
  product(entity: string, key: string, options: ProductOptions): Ref {
    const { out } = this;
    const guid = this.identity(key);
    const [x, y, z] = options.at ?? [0, 0, 0];
    const [ox, oy, oz] = options.in.origin;
    const radians = ((options.turn ?? 0) * Math.PI) / 180;
    const placement = out.add(
      'IFCLOCALPLACEMENT',
      options.in.placement,
      this.axis([x - ox, y - oy, z - oz], [0, 0, 1], [Math.cos(radians), Math.sin(radians), 0]),
    );
    const ref = out.add(
      entity,
      guid,
      null,
      options.name,
      null,
      null,
      placement,
      this.definition(options),
      options.tag ?? key,
      ...(options.extra ?? [null]),
    );
    if (options.partOf) this.aggregate(options.partOf, ref);
    else append(this.contained, options.in.ref.id, () => ({ place: options.in.ref, items: [] })).items.push(ref);
    const material = options.material ?? options.type?.material ?? options.bodies?.[0]?.style;
    if (material)
      append(this.byMaterial, material.material.id, () => ({ material: material.material, items: [] })).items.push(ref);
    if (options.type)
      append(this.byType, options.type.ref.id, () => ({ type: options.type!.ref, items: [] })).items.push(ref);
    this.facts(ref, key, options.facts ?? {});
    return ref;
  }

  /** A room: an IfcSpace whose floor polygon is given in building coordinates. */
  space(
    key: string,
    number: string,
    name: string,
    storey: Place,
    style: Style,
    polygon: Point2[],
    height: number,
    facts: Facts = {},
  ): Place {
    const { out } = this;
    const placement = out.add('IFCLOCALPLACEMENT', storey.placement, this.axis([0, 0, 0]));
    const shape = this.shape([this.extrude(style, polygon, height)]);
    const ref = out.add(
      'IFCSPACE',
      this.identity(key),
      null,
      number,
      null,
      null,
      placement,
      out.add('IFCPRODUCTDEFINITIONSHAPE', null, null, [shape]),
      name,
      token('ELEMENT'),
      token('INTERNAL'),
      null,
    );
    this.aggregate(storey.ref, ref);
    this.facts(ref, key, { Pset_SpaceCommon: { Reference: name, NetPlannedArea: area(polygon) }, ...facts });
    return { ref, placement, origin: storey.origin };
  }

  /** Cuts a box out of a wall or slab; returns the opening, for a door or window to fill. */
  opening(key: string, host: Ref, storey: Place, body: Body, at: Vec3, turn = 0): Ref {
    const { out } = this;
    const radians = (turn * Math.PI) / 180;
    const [ox, oy, oz] = storey.origin;
    const placement = out.add(
      'IFCLOCALPLACEMENT',
      storey.placement,
      this.axis([at[0] - ox, at[1] - oy, at[2] - oz], [0, 0, 1], [Math.cos(radians), Math.sin(radians), 0]),
    );
    const definition = out.add('IFCPRODUCTDEFINITIONSHAPE', null, null, [this.shape([body])]);
    const opening = out.add(
      'IFCOPENINGELEMENT',
      this.identity(key),
      null,
      'Opening',
      null,
      null,
      placement,
      definition,
      null,
      token('OPENING'),
    );
    out.add('IFCRELVOIDSELEMENT', ifcGuid(`${this.options.model}/voids/${key}`), null, null, null, host, opening);
    return opening;
  }

  fill(key: string, opening: Ref, filling: Ref): void {
    this.out.add(
      'IFCRELFILLSELEMENT',
      ifcGuid(`${this.options.model}/fills/${key}`),
      null,
      null,
      null,
      opening,
      filling,
    );
  }

  addToSystem(name: string, ref: Ref): void {
    append(this.systems, name, () => [] as Ref[]).push(ref);
  }

  finish(fileName: string): string {
    const { out } = this;
    let n = 0;
    const guid = (kind: string) => ifcGuid(`${this.options.model}/rel/${kind}/${n++}`);
    for (const { whole, parts } of this.aggregated.values())
      out.add('IFCRELAGGREGATES', guid('whole'), null, null, null, whole, parts);
    for (const { place, items } of this.contained.values())
      out.add('IFCRELCONTAINEDINSPATIALSTRUCTURE', guid('in'), null, null, null, items, place);
    for (const { material, items } of this.byMaterial.values())
      out.add('IFCRELASSOCIATESMATERIAL', guid('material'), null, null, null, items, material);
    for (const { type, items } of this.byType.values())
      out.add('IFCRELDEFINESBYTYPE', guid('type'), null, null, null, items, type);
    for (const [name, items] of this.systems) {
      const system = out.add('IFCSYSTEM', ifcGuid(`${this.options.model}/system/${name}`), null, name, null, null);
      out.add('IFCRELASSIGNSTOGROUP', guid('system'), null, null, null, items, null, system);
      out.add('IFCRELSERVICESBUILDINGS', guid('serves'), null, null, null, system, [this.building.ref]);
    }
    const { author, organisation, time } = this.options;
    return out.finish('IFC4', fileName, author, organisation, time);
  }

  private identity(key: string): string {
    const full = `${this.options.model}/${key}`;
    if (this.keys.has(full)) throw new Error(`two elements have the key ${full}`);
    this.keys.add(full);
    const guid = ifcGuid(full);
    this.guids.set(key, guid);
    return guid;
  }

  private definition(options: ProductOptions): Ref | null {
    const { out } = this;
    if (options.bodies?.length) return out.add('IFCPRODUCTDEFINITIONSHAPE', null, null, [this.shape(options.bodies)]);
    if (!options.type) return null;
    const operator = out.add(
      'IFCCARTESIANTRANSFORMATIONOPERATOR3D',
      null,
      null,
      out.add('IFCCARTESIANPOINT', [0, 0, 0]),
      1,
      null,
    );
    const item = out.add('IFCMAPPEDITEM', options.type.map, operator);
    const shape = out.add('IFCSHAPEREPRESENTATION', this.body, 'Body', 'MappedRepresentation', [item]);
    return out.add('IFCPRODUCTDEFINITIONSHAPE', null, null, [shape]);
  }

  private shape(bodies: Body[]): Ref {
    return this.out.add(
      'IFCSHAPEREPRESENTATION',
      this.body,
      'Body',
      bodies[0]!.kind,
      bodies.map((body) => body.solid),
    );
  }

  private styled(style: Style, kind: Body['kind'], solid: Ref): Body {
    this.out.add('IFCSTYLEDITEM', solid, [style.style], null);
    return { solid, style, kind };
  }

  private facts(ref: Ref, key: string, facts: Facts): void {
    const { out } = this;
    for (const [set, values] of Object.entries(facts)) {
      const properties = Object.entries(values).map(([name, value]) =>
        out.add('IFCPROPERTYSINGLEVALUE', name, null, factValue(value), null),
      );
      const definition = out.add(
        'IFCPROPERTYSET',
        ifcGuid(`${this.options.model}/${key}/${set}`),
        null,
        set,
        null,
        properties,
      );
      out.add(
        'IFCRELDEFINESBYPROPERTIES',
        ifcGuid(`${this.options.model}/${key}/${set}/rel`),
        null,
        null,
        null,
        [ref],
        definition,
      );
    }
  }

  private aggregate(whole: Ref, part: Ref): void {
    append(this.aggregated, whole.id, () => ({ whole, parts: [] })).parts.push(part);
  }

  private axis(at: Vec3, axis: Vec3 = [0, 0, 1], reference: Vec3 = [1, 0, 0]): Ref {
    return this.out.add(
      'IFCAXIS2PLACEMENT3D',
      this.out.add('IFCCARTESIANPOINT', at),
      this.direction(axis),
      this.direction(reference),
    );
  }

  private direction(ratios: number[]): Ref {
    return this.out.add('IFCDIRECTION', ratios);
  }
}

function factValue(value: string | number | boolean): StepValue {
  if (typeof value === 'string') return typed('IFCLABEL', value);
  if (typeof value === 'number') return typed('IFCREAL', value);
  return typed('IFCBOOLEAN', token(value ? 'T' : 'F'));
}

function append<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  let value = map.get(key);
  if (value === undefined) {
    value = make();
    map.set(key, value);
  }
  return value;
}

/** Area of a simple polygon by the shoelace formula, in square metres. */
function area(polygon: Point2[]): number {
  let twice = 0;
  polygon.forEach(([x, y], i) => {
    const [nx, ny] = polygon[(i + 1) % polygon.length]!;
    twice += x * ny - nx * y;
  });
  return Math.abs(twice) / 2;
}
