import type { Vec3 } from '@/core/math/mat4';
import { IfcBuilder, type Place, type Style } from '../ifc/ifc-builder';
import { token } from '@/core/step/step-writer';
import { palette, type Palette } from './palette';
import { SLAB, STOREY_HEIGHT } from './plan';

interface Services {
  ifc: IfcBuilder;
  paint: Palette;
}

/** The services engineer's model: supply air, heating, cold water, lights, and the plant room that feeds them. */
export function servicesIfc(): string {
  const ifc = new IfcBuilder({
    model: 'services',
    projectName: 'Town library',
    author: 'Sunniva Berg',
    organisation: 'Berg Building Services',
    time: '2026-03-06T10:00:00',
  });
  const paint = palette(ifc);
  const model = { ifc, paint };
  const levels: Place[] = [ifc.storey('ground', 'Ground floor', 0), ifc.storey('first', 'First floor', STOREY_HEIGHT)];
  for (const [level, storey] of levels.entries()) {
    const z = level * STOREY_HEIGHT;
    ductRun(model, `north-${level}`, storey, [1, 31, z + 3.0], [46, 31, z + 3.0]);
    ductRun(model, `west-${level}`, storey, [6, 30.4, z + 3.0], [6, 2, z + 3.0]);
    ductRun(model, `south-${level}`, storey, [7, 5, z + 3.0], [46, 5, z + 3.0]);
    for (const [system, style, radius, shift] of [
      ['Heating supply', paint.warm, 0.035, 0],
      ['Heating return', paint.copper, 0.035, 0.2],
      ['Cold water', paint.cold, 0.03, 0.4],
    ] as const) {
      const height = z + STOREY_HEIGHT - SLAB - 0.75;
      pipeRun(model, `${system}-${level}`, system, style, radius, storey, [
        [2.4 + shift, 33, level === 0 ? 0.9 : z],
        [2.4 + shift, 33, height],
        [2.4 + shift, 8.4 + shift, height],
        [44, 8.4 + shift, height],
      ]);
    }
    for (let i = 0; i < 15; i++)
      light(model, `south-${level}-${i}`, storey, [2.4 + i * 3.1, 2.6, z + STOREY_HEIGHT - SLAB - 0.12]);
    for (let i = 0; i < 15; i++)
      light(model, `north-${level}-${i}`, storey, [2.4 + i * 3.1, 28.6, z + STOREY_HEIGHT - SLAB - 0.12]);
  }
  plantRoom(model, levels[0]!);
  addFlaws(model, levels[0]!);
  return ifc.finish('library-services-P01.ifc');
}

/** Rectangular duct in pieces of 1.5 m with a flange at each joint and an outlet under every second one. */
function ductRun({ ifc, paint }: Services, key: string, storey: Place, from: Vec3, to: Vec3): void {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const turn = (Math.atan2(to[1] - from[1], to[0] - from[0]) * 180) / Math.PI;
  const pieces = Math.round(length / 1.5);
  const step = length / pieces;
  for (let i = 0; i < pieces; i++) {
    const t = (i * step) / length;
    const at: Vec3 = [from[0] + (to[0] - from[0]) * t, from[1] + (to[1] - from[1]) * t, from[2]];
    const facts = { Pset_DuctSegmentTypeCommon: { Reference: '500 × 300', NominalFlow: 0.42 } };
    ifc.addToSystem(
      'Supply air',
      ifc.product('IFCDUCTSEGMENT', `duct/${key}-${i}`, {
        name: 'Duct 500 × 300',
        at,
        turn,
        bodies: [ifc.box(paint.zinc, [0.02, -0.25, -0.15], [step - 0.04, 0.5, 0.3])],
        in: storey,
        facts,
        extra: [token('RIGIDSEGMENT')],
      }),
    );
    ifc.addToSystem(
      'Supply air',
      ifc.product('IFCDUCTFITTING', `flange/${key}-${i}`, {
        name: 'Flange',
        at,
        turn,
        bodies: [ifc.box(paint.steel, [-0.02, -0.28, -0.18], [0.04, 0.56, 0.36])],
        in: storey,
        extra: [token('CONNECTOR')],
      }),
    );
    if (i % 2 === 1)
      ifc.addToSystem(
        'Supply air',
        ifc.product('IFCAIRTERMINAL', `outlet/${key}-${i}`, {
          name: 'Air outlet',
          at,
          turn,
          bodies: [ifc.box(paint.ceramic, [0.5, -0.2, -0.25], [0.4, 0.4, 0.1])],
          in: storey,
          extra: [token('DIFFUSER')],
        }),
      );
  }
}

/** Straight pipes between the points, with a quarter-turn bend of eight facets at every corner. */
function pipeRun(
  { ifc }: Services,
  key: string,
  system: string,
  style: Style,
  radius: number,
  storey: Place,
  points: Vec3[],
): void {
  const bend = radius * 3;
  for (let i = 0; i + 1 < points.length; i++) {
    const [a, b] = [points[i]!, points[i + 1]!];
    const full = Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
    const axis = [0, 1, 2].map((k) => (b[k]! - a[k]!) / full) as Vec3;
    const start = i === 0 ? 0 : bend;
    const usable = full - start - (i + 2 === points.length ? 0 : bend);
    const pieces = Math.max(1, Math.round(usable / 3));
    for (let p = 0; p < pieces; p++) {
      const from = start + (p * usable) / pieces;
      const at = [0, 1, 2].map((k) => a[k]! + axis[k]! * from) as Vec3;
      const pipe = ifc.product('IFCPIPESEGMENT', `pipe/${key}-${i}-${p}`, {
        name: `Pipe DN ${Math.round(radius * 2000)}`,
        at,
        bodies: [ifc.cylinder(style, radius, usable / pieces, [0, 0, 0], axis)],
        in: storey,
        facts: { Pset_PipeSegmentTypeCommon: { Reference: system, NominalDiameter: radius * 2, Status: 'New' } },
        extra: [token('RIGIDSEGMENT')],
      });
      ifc.addToSystem(system, pipe);
    }
    if (i > 0) addBend(ifc, `bend/${key}-${i}`, system, style, radius, storey, points[i - 1]!, a, b, bend);
  }
}

/** A torus quarter as a closed triangle mesh around the corner at `corner`. */
function addBend(
  ifc: IfcBuilder,
  key: string,
  system: string,
  style: Style,
  radius: number,
  storey: Place,
  before: Vec3,
  corner: Vec3,
  after: Vec3,
  bend: number,
): void {
  const unit = (from: Vec3, to: Vec3): Vec3 => {
    const length = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]);
    return [0, 1, 2].map((k) => (to[k]! - from[k]!) / length) as Vec3;
  };
  const u = unit(corner, before);
  const v = unit(corner, after);
  const n: Vec3 = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  const RINGS = 8;
  const SIDES = 12;
  const points: Vec3[] = [];
  for (let ring = 0; ring <= RINGS; ring++) {
    const angle = (ring / RINGS) * (Math.PI / 2);
    // The centre of the bend lies at bend·(u + v) from the corner; at angle 0 the pipe's axis passes bend·u.
    const radial = [0, 1, 2].map((k) => -v[k]! * Math.cos(angle) - u[k]! * Math.sin(angle)) as Vec3;
    for (let side = 0; side < SIDES; side++) {
      const around = (side / SIDES) * 2 * Math.PI;
      points.push(
        [0, 1, 2].map(
          (k) =>
            bend * (u[k]! + v[k]!) +
            radial[k]! * (bend + radius * Math.cos(around)) +
            n[k]! * radius * Math.sin(around),
        ) as Vec3,
      );
    }
  }
  const triangles: [number, number, number][] = [];
  for (let ring = 0; ring < RINGS; ring++) {
    for (let side = 0; side < SIDES; side++) {
      const [a, b] = [ring * SIDES + side, ring * SIDES + ((side + 1) % SIDES)];
      triangles.push([a, b, a + SIDES], [b, b + SIDES, a + SIDES]);
    }
  }
  for (let side = 1; side + 1 < SIDES; side++) {
    triangles.push([0, side + 1, side], [RINGS * SIDES, RINGS * SIDES + side, RINGS * SIDES + side + 1]);
  }
  ifc.addToSystem(
    system,
    ifc.product('IFCPIPEFITTING', key, {
      name: 'Bend 90°',
      at: corner,
      bodies: [ifc.mesh(style, points, triangles)],
      in: storey,
      facts: { Pset_PipeFittingTypeCommon: { Reference: system } },
      extra: [token('BEND')],
    }),
  );
}

function light({ ifc, paint }: Services, key: string, storey: Place, at: Vec3): void {
  ifc.addToSystem(
    'Lighting',
    ifc.product('IFCLIGHTFIXTURE', `light/${key}`, {
      name: 'Linear light',
      at,
      bodies: [ifc.box(paint.ceramic, [0, 0, 0], [1.2, 0.12, 0.06])],
      in: storey,
      facts: { Pset_LightFixtureTypeCommon: { Reference: 'L-4', TotalWattage: 28 } },
      extra: [token('DIRECTIONSOURCE')],
    }),
  );
}

function plantRoom({ ifc, paint }: Services, storey: Place): void {
  const put = (
    system: string,
    entity: string,
    key: string,
    name: string,
    at: Vec3,
    bodies: ReturnType<IfcBuilder['box']>[],
    predefined: string | null,
  ) =>
    ifc.addToSystem(
      system,
      ifc.product(entity, key, {
        name,
        at,
        bodies,
        in: storey,
        facts: { Pset_ManufacturerTypeInformation: { Manufacturer: 'Varme Nordlund', ModelLabel: name } },
        extra: [predefined === null ? null : token(predefined)],
      }),
    );
  put(
    'Supply air',
    'IFCUNITARYEQUIPMENT',
    'plant/air',
    'Air handling unit',
    [4.5, 29, 0.1],
    [ifc.box(paint.zinc, [0, 0, 0], [4.2, 1.6, 1.9])],
    'AIRHANDLER',
  );
  put(
    'Heating supply',
    'IFCUNITARYEQUIPMENT',
    'plant/heat-pump',
    'Heat pump',
    [0.8, 33.5, 0.1],
    [ifc.box(paint.ceramic, [0, 0, 0], [0.9, 0.9, 1.7])],
    null,
  );
  for (let i = 0; i < 3; i++)
    put(
      'Heating supply',
      'IFCTANK',
      `plant/tank-${i}`,
      'Buffer tank 500 l',
      [4.4 + i * 1.3, 34.4, 0.1],
      [ifc.cylinder(paint.felt, 0.45, 1.8, [0, 0, 0])],
      'STORAGE',
    );
  for (let i = 0; i < 3; i++)
    put(
      'Heating supply',
      'IFCPUMP',
      `plant/pump-${i}`,
      'Circulation pump',
      [2.4 + i * 0.2, 33.1, 0.7],
      [ifc.cylinder(paint.steel, 0.08, 0.2, [0, 0, 0])],
      'CIRCULATOR',
    );
}

/** What slips into an export: a mark of the survey, lights drawn twice, a body with its faces inward, a part without a name. */
function addFlaws(model: Services, storey: Place): void {
  const { ifc, paint } = model;
  ifc.product('IFCBUILDINGELEMENTPROXY', 'flaw/survey-nail', {
    name: 'Survey nail 4',
    at: [-640, 910, 0],
    bodies: [ifc.box(paint.steel, [0, 0, 0], [0.2, 0.2, 0.6])],
    in: storey,
  });
  for (const i of [1, 2]) light(model, `again-${i}`, storey, [2.4 + i * 3.1, 2.6, STOREY_HEIGHT - SLAB - 0.12]);
  const [w, h] = [0.5, 0.9];
  ifc.product('IFCTANK', 'flaw/expansion-vessel', {
    name: 'Expansion vessel',
    at: [10.6, 27.4, 0],
    bodies: [
      ifc.mesh(
        paint.warm,
        [
          [0, 0, 0],
          [w, 0, 0],
          [w, w, 0],
          [0, w, 0],
          [0, 0, h],
          [w, 0, h],
          [w, w, h],
          [0, w, h],
        ],
        // Clockwise seen from outside, so that every face looks inward.
        [
          [0, 1, 2],
          [0, 2, 3],
          [4, 6, 5],
          [4, 7, 6],
          [0, 5, 1],
          [0, 4, 5],
          [1, 6, 2],
          [1, 5, 6],
          [2, 7, 3],
          [2, 6, 7],
          [3, 4, 0],
          [3, 7, 4],
        ],
      ),
    ],
    in: storey,
    extra: [token('EXPANSION')],
  });
  ifc.product('IFCVALVE', 'flaw/unnamed-valve', {
    name: '',
    at: [3.4, 33, 0.7],
    bodies: [ifc.box(paint.copper, [-0.06, -0.06, 0], [0.12, 0.12, 0.16])],
    in: storey,
    extra: [token('ISOLATING')],
  });
}
