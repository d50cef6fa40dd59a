import { IfcBuilder, type Body, type Place, type Point2, type Style } from '../ifc/ifc-builder';
import type { Vec3 } from '@/core/math/mat4';
import { int, token, type Ref } from '@/core/step/step-writer';
import { furnish } from './furnishing';
import { plantGrounds } from './grounds';
import { palette, type Palette } from './palette';
import {
  FACADE_MODULE,
  HALL,
  FOLDED_ROOF,
  HALL_ROOF,
  NORTH,
  rectangle,
  ROOMS,
  SLAB,
  STAIRWELL,
  SOUTH,
  STOREY_HEIGHT,
  WALL,
  WEST,
  WINGS,
  type Wing,
} from './plan';

/** What the parts of the architecture share while they are written. */
export interface ArchitectureModel {
  ifc: IfcBuilder;
  paint: Palette;
  storeys: [Place, Place];
  roof: Place;
  rooms: Map<string, Place>;
  revision: ArchitectureRevision;
}

export type ArchitectureRevision = 1 | 2 | 3;

const WRITTEN: Record<ArchitectureRevision, string> = {
  1: '2026-03-02T09:00:00',
  2: '2026-04-13T09:00:00',
  3: '2026-04-27T09:00:00',
};

/**
 * The architect's model as IFC4 text; revision 2 differs from 1 exactly by CHANGES_P02, 3 from 2 by CHANGES_P03. What
 * makes the folded roof of the hall is one system, so that it can be an option of its own.
 */
export function architectureIfc(revision: ArchitectureRevision): string {
  return architectureModel(revision).ifc.finish(`library-architecture-P0${revision}.ifc`);
}

/** The same before it is finished, for what may still come into it. */
export function architectureModel(revision: ArchitectureRevision): ArchitectureModel {
  const ifc = new IfcBuilder({
    model: 'architecture',
    projectName: 'Town library',
    author: 'Ines Okafor',
    organisation: 'Okafor Brandt Architects',
    time: WRITTEN[revision],
  });
  const paint = palette(ifc);
  const storeys: [Place, Place] = [
    ifc.storey('ground', 'Ground floor', 0),
    ifc.storey('first', 'First floor', STOREY_HEIGHT),
  ];
  const model: ArchitectureModel = {
    ifc,
    paint,
    storeys,
    roof: ifc.storey('roof', 'Roof', 2 * STOREY_HEIGHT),
    rooms: new Map(),
    revision,
  };
  addRooms(model);
  for (const wing of WINGS) addFloorsAndRoof(model, wing);
  addFacades(model);
  addInnerWalls(model);
  addHall(model);
  addStair(model);
  furnish(model);
  plantGrounds(model);
  return model;
}

function addRooms({ ifc, paint, storeys, rooms }: ArchitectureModel): void {
  for (const room of ROOMS) {
    const inset = WALL / 2;
    const polygon = rectangle(room.x0 + inset, room.y0 + inset, room.x1 - inset, room.y1 - inset);
    const height = room.key === 'hall' ? HALL_ROOF.eaves : STOREY_HEIGHT - SLAB;
    rooms.set(
      room.key,
      ifc.space(`room/${room.key}`, room.number, room.name, storeys[room.storey], paint.room, polygon, height),
    );
  }
}

function addFloorsAndRoof(model: ArchitectureModel, wing: Wing): void {
  const { ifc, paint, storeys, roof } = model;
  for (const level of [0, 1] as const) {
    // The upper floor ends within the outer walls, the lower one bears them.
    const inset = level === 1 ? WALL / 2 : 0;
    const outline = withinWalls(wing, inset);
    const slab = ifc.product('IFCSLAB', `slab/${wing.key}-${level}`, {
      name: `Floor, ${wing.name.toLowerCase()}`,
      at: [0, 0, level * STOREY_HEIGHT - SLAB],
      bodies: [ifc.extrude(paint.screed, outline, SLAB)],
      in: storeys[level],
      facts: { Pset_SlabCommon: { FireRating: 'REI 60', LoadBearing: true, IsExternal: level === 0 } },
      extra: [token('FLOOR')],
    });
    if (wing === SOUTH && level === 1) openStairwell(model, slab);
  }
  const top = 2 * STOREY_HEIGHT;
  ifc.product('IFCSLAB', `slab/${wing.key}-roof`, {
    name: `Flat roof, ${wing.name.toLowerCase()}`,
    at: [0, 0, top - SLAB],
    bodies: [ifc.extrude(paint.gravel, withinWalls(wing, 0.2), SLAB + 0.1)],
    in: roof,
    facts: { Pset_SlabCommon: { FireRating: 'REI 30', LoadBearing: true, IsExternal: true } },
    extra: [token('ROOF')],
  });
}

/** The outline of a wing within its outer walls. The west wing has none to the south and north: it runs on to its neighbours. */
function withinWalls(wing: Wing, inset: number): Point2[] {
  const between = wing === WEST ? -inset : inset;
  return rectangle(wing.x0 + inset, wing.y0 + between, wing.x1 - inset, wing.y1 - between);
}

/** The opening over the stair, with a railing on the three sides from which nobody comes up. */
function openStairwell({ ifc, paint, storeys }: ArchitectureModel, slab: Ref): void {
  const { x0, y0, x1, y1 } = STAIRWELL;
  const [width, depth] = [x1 - x0, y1 - y0];
  ifc.opening('opening/stairwell', slab, storeys[1], ifc.box(paint.inner, [0, 0, 0], [width, depth, SLAB + 0.2]), [
    x0,
    y0,
    STOREY_HEIGHT - SLAB - 0.1,
  ]);
  const post = (x: number, y: number) => ifc.box(paint.steel, [x - 0.02, y - 0.02, 0], [0.04, 0.04, 1]);
  const rail = (x: number, y: number, w: number, d: number): Body[] =>
    [0.1, 0.55, 0.98].map((z) => ifc.box(paint.steel, [x - 0.015, y - 0.015, z], [w + 0.03, d + 0.03, 0.03]));
  ifc.product('IFCRAILING', 'railing/stairwell', {
    name: 'Railing, stairwell',
    at: [x0, y0, STOREY_HEIGHT],
    bodies: [
      ...rail(-0.08, -0.08, width + 0.08, 0),
      ...rail(-0.08, depth + 0.08, width + 0.08, 0),
      ...rail(-0.08, -0.08, 0, depth + 0.16),
      ...[0, 1, 2, 3].flatMap((i) => [post((width * i) / 3, -0.08), post((width * i) / 3, depth + 0.08)]),
    ],
    in: storeys[1],
    extra: [token('GUARDRAIL')],
  });
}

interface FacadeRun {
  key: string;
  from: Point2;
  /** Degrees: the direction in which the run goes; its outside lies to the right. */
  turn: number;
  length: number;
}

/** Outer edges of the two-storey wings, walked so that the outside is on the right hand. */
const RUNS: FacadeRun[] = [
  { key: 'south', from: [SOUTH.x0, SOUTH.y0], turn: 0, length: 48 },
  { key: 'east-south', from: [SOUTH.x1, SOUTH.y0], turn: 90, length: 10 },
  { key: 'east-north', from: [NORTH.x1, NORTH.y0], turn: 90, length: 10 },
  { key: 'north', from: [NORTH.x1, NORTH.y1], turn: 180, length: 48 },
  { key: 'west', from: [WEST.x0, NORTH.y1], turn: 270, length: 36 },
  { key: 'court-south', from: [30, SOUTH.y1], turn: 180, length: 18 },
  { key: 'court-west', from: [WEST.x1, WEST.y0], turn: 90, length: 16 },
  { key: 'court-north', from: [12, NORTH.y0], turn: 0, length: 18 },
];

/** Storey-high walls with a window in every second module, timber fins before the wall and a band at each floor. */
function addFacades(model: ArchitectureModel): void {
  for (const run of RUNS) for (const level of [0, 1] as const) addFacadeRun(model, run, level);
}

function addFacadeRun(model: ArchitectureModel, run: FacadeRun, level: 0 | 1): void {
  const { ifc, paint, storeys } = model;
  const base = level * STOREY_HEIGHT;
  const along = (distance: number, inward: number): Vec3 => {
    const angle = (run.turn * Math.PI) / 180;
    return [
      run.from[0] + distance * Math.cos(angle) - inward * Math.sin(angle),
      run.from[1] + distance * Math.sin(angle) + inward * Math.cos(angle),
      base,
    ];
  };
  const wall = ifc.product('IFCWALL', `wall/${run.key}-${level}`, {
    name: `Outer wall, ${run.key.replace('-', ' ')}`,
    at: along(0, 0),
    turn: run.turn,
    bodies: [ifc.box(paint.plaster, [0, 0, 0], [run.length, WALL, STOREY_HEIGHT - (level === 1 ? -0.35 : 0)])],
    in: storeys[level],
    facts: {
      Pset_WallCommon: {
        Reference: 'AW-1',
        FireRating: 'REI 60',
        LoadBearing: true,
        IsExternal: true,
        ThermalTransmittance: 0.18,
      },
    },
    extra: [token('SOLIDWALL')],
  });
  const modules = Math.floor(run.length / FACADE_MODULE);
  const slack = (run.length - modules * FACADE_MODULE) / 2;
  for (let i = 0; i <= modules; i++) {
    // In the court's inner corners a fin stands clear of the other wall.
    const aside = run.key === 'court-north' && i === 0 ? 0.2 : run.key === 'court-south' && i === modules ? -0.2 : 0;
    ifc.product('IFCMEMBER', `fin/${run.key}-${level}-${i}`, {
      name: 'Facade fin',
      at: along(slack + i * FACADE_MODULE - 0.04 + aside, -0.22),
      turn: run.turn,
      bodies: [ifc.box(paint.timber, [0, 0, 0], [0.08, 0.22, STOREY_HEIGHT])],
      in: storeys[level],
      extra: [token('MULLION')],
    });
    if (i === modules || i % 3 === 2) continue;
    const isEntrance = run.key === 'south' && level === 0 && i === 13;
    const isCourtDoor = run.key.startsWith('court') && level === 0 && i === 4;
    if (isEntrance || isCourtDoor)
      addGlassDoor(
        model,
        wall,
        run,
        level,
        i,
        along(slack + i * FACADE_MODULE + 0.15, 0),
        isEntrance ? 'Entrance' : 'Door to the court',
      );
    else addWindow(model, wall, run, level, i, along(slack + i * FACADE_MODULE + 0.15, 0));
  }
  ifc.product('IFCMEMBER', `band/${run.key}-${level}`, {
    name: 'Floor band',
    at: along(0, -0.26),
    turn: run.turn,
    bodies: [ifc.box(paint.timber, [0, 0, 0], [run.length, 0.26, 0.12])],
    in: storeys[level],
    extra: [token('PLATE')],
  });
  if (level === 1) {
    ifc.product('IFCCOVERING', `coping/${run.key}`, {
      name: 'Coping',
      at: along(-0.05, -0.26),
      turn: run.turn,
      bodies: [ifc.box(paint.zinc, [0, 0, STOREY_HEIGHT + 0.35], [run.length + 0.1, WALL + 0.3, 0.05])],
      in: model.roof,
      extra: [token('ROOFING')],
    });
  }
}

const WINDOW = { width: 1.2, sill: 0.6, height: 2.3 };

function addWindow(
  model: ArchitectureModel,
  wall: ReturnType<IfcBuilder['product']>,
  run: FacadeRun,
  level: 0 | 1,
  i: number,
  at: Vec3,
): void {
  const { ifc, paint, storeys } = model;
  const key = `${run.key}-${level}-${i}`;
  const { width, sill, height } = WINDOW;
  const opening = ifc.opening(
    `opening/${key}`,
    wall,
    storeys[level],
    ifc.box(paint.plaster, [0, -0.1, sill], [width, WALL + 0.2, height]),
    at,
    run.turn,
  );
  const window = ifc.product('IFCWINDOW', `window/${key}`, {
    name: 'Window 1 200 × 2 300',
    at,
    turn: run.turn,
    bodies: [
      ...frame(ifc, paint.timber, width, sill, height, 0.1),
      ifc.box(paint.glass, [0.07, 0.14, sill + 0.07], [width - 0.14, 0.03, height - 0.14]),
    ],
    in: storeys[level],
    material: paint.timber,
    facts: {
      Pset_WindowCommon: { Reference: 'F-12', FireRating: 'none', ThermalTransmittance: 0.9, IsExternal: true },
      Pset_ManufacturerTypeInformation: { Manufacturer: 'Fenster Halvorsen' },
    },
    extra: [height, width, token('WINDOW'), token('SINGLE_PANEL'), null],
  });
  ifc.fill(key, opening, window);
}

function frame(ifc: IfcBuilder, style: Style, width: number, sill: number, height: number, y: number): Body[] {
  const t = 0.07;
  return [
    ifc.box(style, [0, y, sill], [t, 0.12, height]),
    ifc.box(style, [width - t, y, sill], [t, 0.12, height]),
    ifc.box(style, [t, y, sill], [width - 2 * t, 0.12, t]),
    ifc.box(style, [t, y, sill + height - t], [width - 2 * t, 0.12, t]),
  ];
}

function addGlassDoor(
  model: ArchitectureModel,
  wall: ReturnType<IfcBuilder['product']>,
  run: FacadeRun,
  level: 0 | 1,
  i: number,
  at: Vec3,
  name: string,
): void {
  const { ifc, paint, storeys } = model;
  const key = `${run.key}-${level}-${i}`;
  const opening = ifc.opening(
    `opening/${key}`,
    wall,
    storeys[level],
    ifc.box(paint.plaster, [0, -0.1, 0], [1.2, WALL + 0.2, 2.4]),
    at,
    run.turn,
  );
  const door = ifc.product('IFCDOOR', `door/${key}`, {
    name,
    at,
    turn: run.turn,
    bodies: [...frame(ifc, paint.oak, 1.2, 0, 2.4, 0.1), ifc.box(paint.glass, [0.07, 0.14, 0.07], [1.06, 0.04, 2.26])],
    in: storeys[level],
    material: paint.oak,
    facts: { Pset_DoorCommon: { Reference: 'T-01', IsExternal: true, HandicapAccessible: true } },
    extra: [2.4, 1.2, token('DOOR'), token('SINGLE_SWING_LEFT'), null],
  });
  ifc.fill(key, opening, door);
}

/** Walls between rooms where both are on the same storey and touch along X, each with a door. */
function addInnerWalls(model: ArchitectureModel): void {
  const walls: { level: 0 | 1; x: number; y0: number; y1: number }[] = [
    { level: 0, x: 12, y0: 0, y1: 10 },
    { level: 0, x: 30, y0: 0, y1: 10 },
    { level: 0, x: 40.5, y0: 0, y1: 10 },
    { level: 0, x: 43.5, y0: 0, y1: 5 },
    { level: 0, x: 12, y0: 26, y1: 36 },
    { level: 0, x: 30, y0: 26, y1: 36 },
    { level: 1, x: 18, y0: 0, y1: 10 },
    { level: 1, x: 24, y0: 26, y1: 36 },
  ];
  for (const { level, x, y0, y1 } of walls) {
    const key = y0 === 0 ? `${level}-${x}` : `${level}-${x}-north`;
    const lobby = key === '0-40.5';
    addInnerWall(
      model,
      key,
      level,
      [x + 0.075, y0 + WALL, level * STOREY_HEIGHT],
      90,
      y1 - y0 - 2 * WALL,
      lobby && model.revision === 1 ? 'EI 30' : lobby ? 'EI 60' : 'EI 30',
    );
  }
  addInnerWall(model, '0-wc-lobby', 0, [40.5, 5, 0], 0, 7.5 - WALL, 'EI 30');
  for (const level of [0, 1] as const) {
    addInnerWall(model, `${level}-children-south`, level, [WALL, 10, level * STOREY_HEIGHT], 0, 12 - 2 * WALL, 'EI 30');
    addInnerWall(model, `${level}-children-north`, level, [WALL, 26, level * STOREY_HEIGHT], 0, 12 - 2 * WALL, 'EI 90');
  }
}

function addInnerWall(
  model: ArchitectureModel,
  key: string,
  level: 0 | 1,
  at: Vec3,
  turn: number,
  length: number,
  fireRating: string,
): void {
  const { ifc, paint, storeys } = model;
  const wall = ifc.product('IFCWALL', `wall/inner-${key}`, {
    name: 'Inner wall',
    at,
    turn,
    bodies: [ifc.box(paint.inner, [0, 0, 0], [length, 0.15, STOREY_HEIGHT - SLAB])],
    in: storeys[level],
    facts: { Pset_WallCommon: { Reference: 'IW-2', FireRating: fireRating, LoadBearing: false, IsExternal: false } },
    extra: [token('PARTITIONING')],
  });
  const angle = (turn * Math.PI) / 180;
  const offset = Math.min(length - 1.3, length * 0.6);
  const doorAt: Vec3 = [at[0] + offset * Math.cos(angle), at[1] + offset * Math.sin(angle), at[2]];
  const opening = ifc.opening(
    `opening/inner-${key}`,
    wall,
    storeys[level],
    ifc.box(paint.inner, [0, -0.1, 0], [1.01, 0.35, 2.135]),
    doorAt,
    turn,
  );
  const door = ifc.product('IFCDOOR', `door/inner-${key}`, {
    name: 'Door 1 010 × 2 135',
    at: doorAt,
    turn,
    bodies: [
      ifc.box(paint.oak, [0, -0.02, 0], [0.06, 0.19, 2.135]),
      ifc.box(paint.oak, [0.95, -0.02, 0], [0.06, 0.19, 2.135]),
      ifc.box(paint.oak, [0.06, -0.02, 2.075], [0.89, 0.19, 0.06]),
      ifc.box(paint.timber, [0.06, 0.05, 0.005], [0.89, 0.045, 2.07]),
    ],
    in: storeys[level],
    facts: {
      Pset_DoorCommon: { Reference: 'T-10', FireRating: fireRating, HandicapAccessible: true },
      Pset_ManufacturerTypeInformation: { Manufacturer: 'Tischlerei Moos' },
    },
    extra: [2.135, 1.01, token('DOOR'), token('SINGLE_SWING_RIGHT'), null],
  });
  ifc.fill(`inner-${key}`, opening, door);
}

/** The hall: floor, glazed fronts to the court and the east, and a roof of five folds with glazed gables. */
function addHall(model: ArchitectureModel): void {
  const { ifc, paint, storeys, roof, revision } = model;
  const { x0, y0, x1, y1 } = HALL;
  ifc.product('IFCSLAB', 'slab/hall', {
    name: 'Floor, reading hall',
    at: [0, 0, -SLAB],
    bodies: [ifc.extrude(paint.screed, rectangle(x0, y0, x1, y1), SLAB)],
    in: storeys[0],
    extra: [token('FLOOR')],
  });
  for (const [side, x] of [
    ['court', x0],
    ['east', x1 - 0.12],
  ] as const) {
    for (let i = 0; i < 16; i++) {
      const at: Vec3 = [x, y0 + i, 0];
      ifc.product('IFCMEMBER', `hall-post/${side}-${i}`, {
        name: 'Hall mullion',
        at,
        bodies: [ifc.box(paint.timber, [-0.06, -0.04, 0], [0.24, 0.08, HALL_ROOF.eaves])],
        in: storeys[0],
        extra: [token('MULLION')],
      });
      // From the third revision on the last bay to the east is glazed as well.
      const isPanel = i % 4 === 3 && !(side === 'east' && i === 15 && revision >= 3);
      if (isPanel)
        ifc.product('IFCPLATE', `hall-panel/${side}-${i}`, {
          name: 'Hall panel',
          at,
          bodies: [ifc.box(paint.timber, [0.02, 0.04, 0], [0.08, 0.92, HALL_ROOF.eaves])],
          in: storeys[0],
          extra: [token('SHEET')],
        });
      else
        ifc.product('IFCPLATE', `hall-glass/${side}-${i}`, {
          name: 'Hall glazing',
          at,
          bodies: [ifc.box(paint.glass, [0.04, 0.04, 0.1], [0.03, 0.92, HALL_ROOF.eaves - 0.1])],
          in: storeys[0],
          facts: { Pset_PlateCommon: { Reference: 'G-3', IsExternal: true } },
          extra: [token('CURTAIN_PANEL')],
        });
    }
  }
  const whole = ifc.product('IFCROOF', 'roof/hall', {
    name: 'Hall roof',
    in: roof,
    extra: [token('BUTTERFLY_ROOF')],
    facts: { Pset_RoofCommon: { Reference: 'R-1', FireRating: 'REI 30' } },
  });
  const { folds, eaves, ridge, overhang } = HALL_ROOF;
  const span = (y1 - y0) / folds;
  const t = 0.18;
  const xStart = x0 - overhang;
  const depth = x1 - x0 + 2 * overhang;
  for (let i = 0; i < folds; i++) {
    const a = y0 + i * span;
    const m = a + span / 2;
    const b = a + span;
    // Profiles lie in the YZ plane and are drawn along X: local x is Y, local y is Z.
    const plane = (polygon: Point2[], style: Style, from: number, length: number) =>
      ifc.extrude(style, polygon, length, [from, 0, 0], [1, 0, 0], [0, 1, 0]);
    for (const [slope, polygon] of [
      [
        'south',
        [
          [a, eaves],
          [m, ridge],
          [m, ridge + t],
          [a, eaves + t],
        ],
      ],
      [
        'north',
        [
          [m, ridge],
          [b, eaves],
          [b, eaves + t],
          [m, ridge + t],
        ],
      ],
    ] as [string, Point2[]][]) {
      const fold = ifc.product('IFCSLAB', `roof/hall-${i}-${slope}`, {
        name: `Roof fold ${i + 1}, ${slope} slope`,
        bodies: [plane(polygon, paint.shingle, xStart, depth)],
        in: roof,
        partOf: whole,
        extra: [token('ROOF')],
      });
      ifc.addToSystem(FOLDED_ROOF, fold);
    }
    for (const [side, x] of [
      ['court', x0],
      ['east', x1 - 0.05],
    ] as const) {
      const gable = ifc.product('IFCPLATE', `gable/${side}-${i}`, {
        name: 'Gable',
        bodies: [
          plane(
            [
              [a + 0.1, eaves],
              [b - 0.1, eaves],
              [m, ridge - 0.12],
            ],
            paint.timber,
            x,
            0.05,
          ),
        ],
        in: roof,
        partOf: whole,
        extra: [token('SHEET')],
      });
      ifc.addToSystem(FOLDED_ROOF, gable);
    }
  }
}

/** Straight flight from the foyer to the gallery with separate treads, stringers and a railing. */
function addStair(model: ArchitectureModel): void {
  const { ifc, paint, storeys } = model;
  const RISERS = 22;
  const rise = STOREY_HEIGHT / RISERS;
  const going = 0.28;
  const stair = ifc.product('IFCSTAIR', 'stair/foyer', {
    name: 'Foyer stair',
    in: storeys[0],
    extra: [token('STRAIGHT_RUN_STAIR')],
    facts: { Pset_StairCommon: { NumberOfRiser: RISERS, RiserHeight: rise, TreadLength: going } },
  });
  const origin: Vec3 = [22.5, 6.6, 0];
  for (let i = 1; i < RISERS; i++) {
    ifc.product('IFCMEMBER', `stair/foyer-tread-${i}`, {
      name: `Tread ${i}`,
      at: [origin[0] + (i - 1) * going - 3, origin[1], i * rise - 0.05],
      bodies: [ifc.box(paint.oak, [0, 0, 0], [going + 0.03, 1.4, 0.05])],
      in: storeys[0],
      partOf: stair,
      extra: [token('MEMBER')],
    });
  }
  const run = (RISERS - 1) * going;
  for (const [side, y] of [
    ['south', -0.06],
    ['north', 1.4],
  ] as const) {
    const profile: Point2[] = [
      [0, 0],
      [0.3, 0],
      [run, STOREY_HEIGHT - 0.35],
      [run, STOREY_HEIGHT - 0.02],
      [run - 0.1, STOREY_HEIGHT - 0.02],
      [0, 0.22],
    ];
    ifc.product('IFCSTAIRFLIGHT', `stair/foyer-stringer-${side}`, {
      name: `Stringer, ${side}`,
      at: [origin[0] - 3, origin[1] + y + 0.06, 0],
      bodies: [ifc.extrude(paint.oak, profile, 0.06, [0, 0, 0], [0, -1, 0], [1, 0, 0])],
      in: storeys[0],
      partOf: stair,
      extra: [int(RISERS), int(RISERS - 1), rise, going, token('STRAIGHT')],
    });
    const rail: Body[] = [];
    for (let i = 0; i <= 10; i++)
      rail.push(
        ifc.cylinder(paint.steel, 0.012, 0.95, [0.1 + i * (run / 10.5), 0, (i * (run / 10.5) * rise) / going + 0.1]),
      );
    ifc.product('IFCRAILING', `stair/foyer-rail-${side}`, {
      name: `Railing, ${side}`,
      at: [origin[0] - 3, origin[1] + y + 0.03, 0],
      bodies: rail,
      in: storeys[0],
      partOf: stair,
      extra: [token('HANDRAIL')],
    });
  }
}
