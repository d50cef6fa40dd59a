import type { Body, IfcType } from '../ifc/ifc-builder';
import type { Vec3 } from '@/core/math/mat4';
import { token } from '@/core/step/step-writer';
import type { ArchitectureModel } from './architecture';
import { STOREY_HEIGHT } from './plan';

/** Shelves, tables, chairs, desks, the café counter and the accessible WC; repeated pieces share one type's shape. */
export function furnish(model: ArchitectureModel): void {
  const types = furnitureTypes(model);
  furnishHall(model, types);
  furnishChildren(model, types);
  furnishUpstairs(model, types);
  furnishEntrance(model, types);
  furnishWc(model);
}

type Types = ReturnType<typeof furnitureTypes>;

function furnitureTypes({ ifc, paint }: ArchitectureModel) {
  const kind = (key: string, name: string, bodies: Body[]) =>
    ifc.type(key, 'IFCFURNITURETYPE', name, bodies, [null, token('NOTDEFINED'), token('NOTDEFINED')]);
  const legs = (w: number, d: number, h: number, size = 0.06): Body[] =>
    (
      [
        [0, 0],
        [w - size, 0],
        [0, d - size],
        [w - size, d - size],
      ] as const
    ).map(([x, y]) => ifc.box(paint.oak, [x, y, 0], [size, size, h]));
  const shelf = (height: number, boards: number): Body[] => [
    ifc.box(paint.timber, [0, 0, 0], [0.03, 0.32, height]),
    ifc.box(paint.timber, [0.97, 0, 0], [0.03, 0.32, height]),
    ifc.box(paint.timber, [0.03, 0.3, 0], [0.94, 0.02, height]),
    ...Array.from({ length: boards }, (_, i) =>
      ifc.box(paint.timber, [0.03, 0, 0.08 + (i * (height - 0.11)) / (boards - 1)], [0.94, 0.3, 0.03]),
    ),
    ...Array.from({ length: boards - 1 }, (_, i) =>
      ifc.box(
        i % 2 ? paint.shingle : paint.felt,
        [0.06, 0.06, 0.11 + (i * (height - 0.11)) / (boards - 1)],
        [0.62 + 0.07 * (i % 3), 0.2, 0.24],
      ),
    ),
  ];
  return {
    shelf: kind('shelf', 'Shelf 1 000 × 2 000', shelf(2.0, 6)),
    lowShelf: kind('low-shelf', 'Low shelf 1 000 × 1 100', shelf(1.1, 4)),
    table: kind('table', 'Reading table 2 400 × 1 200', [
      ifc.box(paint.oak, [0, 0, 0.7], [2.4, 1.2, 0.04]),
      ...legs(2.4, 1.2, 0.7),
    ]),
    desk: kind('desk', 'Desk 1 600 × 800', [
      ifc.box(paint.oak, [0, 0, 0.7], [1.6, 0.8, 0.03]),
      ...legs(1.6, 0.8, 0.7, 0.04),
    ]),
    chair: kind('chair', 'Chair', [
      ifc.box(paint.oak, [0, 0, 0.42], [0.44, 0.44, 0.04]),
      ...legs(0.44, 0.44, 0.42, 0.035),
      ifc.box(paint.oak, [0, 0.41, 0.46], [0.44, 0.03, 0.38]),
    ]),
    stool: kind('stool', "Children's stool", [ifc.cylinder(paint.ochre, 0.18, 0.3, [0.18, 0.18, 0])]),
    lamp: kind('lamp', 'Table lamp', [
      ifc.cylinder(paint.steel, 0.08, 0.02, [0, 0, 0]),
      ifc.cylinder(paint.steel, 0.01, 0.36, [0, 0, 0.02]),
      ifc.cylinder(paint.ochre, 0.11, 0.12, [0, 0, 0.36]),
    ]),
  };
}

function put(
  model: ArchitectureModel,
  key: string,
  name: string,
  type: IfcType,
  room: string,
  at: Vec3,
  turn = 0,
): void {
  model.ifc.product('IFCFURNITURE', key, {
    name,
    at,
    turn,
    type,
    in: model.rooms.get(room)!,
    facts: { Pset_ManufacturerTypeInformation: { Manufacturer: 'Möbelwerk Aarestad' } },
    extra: [token('USERDEFINED')],
  });
}

function furnishHall(model: ArchitectureModel, types: Types): void {
  for (let row = 0; row < 4; row++) {
    for (let i = 0; i < 8; i++)
      put(model, `shelf/hall-${row}-${i}`, 'Shelf', types.shelf, 'hall', [38.6 + i, 12 + row * 3.6, 0]);
  }
  for (let row = 0; row < 4; row++) {
    for (let i = 0; i < 2; i++) {
      const at: Vec3 = [31.6 + i * 3.2, 11.8 + row * 3.6, 0];
      put(model, `table/hall-${row}-${i}`, 'Reading table', types.table, 'hall', at);
      put(model, `lamp/hall-${row}-${i}`, 'Table lamp', types.lamp, 'hall', [at[0] + 1.2, at[1] + 0.6, 0.74]);
      for (let c = 0; c < 3; c++) {
        put(model, `chair/hall-${row}-${i}-${c}n`, 'Chair', types.chair, 'hall', [
          at[0] + 0.2 + c * 0.78,
          at[1] + 1.15,
          0,
        ]);
        put(
          model,
          `chair/hall-${row}-${i}-${c}s`,
          'Chair',
          types.chair,
          'hall',
          [at[0] + 0.64 + c * 0.78, at[1] + 0.05, 0],
          180,
        );
      }
    }
  }
}

function furnishChildren(model: ArchitectureModel, types: Types): void {
  for (let i = 0; i < 9; i++)
    put(model, `shelf/children-${i}`, 'Low shelf', types.lowShelf, 'children', [0.7, 12 + i * 1.2, STOREY_HEIGHT], 90);
  for (let ring = 0; ring < 3; ring++) {
    const [cx, cy] = [7, 13.5 + ring * 4.4];
    for (let i = 0; i < 6; i++) {
      const angle = (i * Math.PI) / 3;
      put(model, `stool/children-${ring}-${i}`, "Children's stool", types.stool, 'children', [
        cx + Math.cos(angle) - 0.18,
        cy + Math.sin(angle) - 0.18,
        STOREY_HEIGHT,
      ]);
    }
    model.ifc.product('IFCFURNITURE', `rug/children-${ring}`, {
      name: 'Round rug',
      at: [cx, cy, STOREY_HEIGHT],
      bodies: [model.ifc.cylinder(model.paint.felt, 1.5, 0.015, [0, 0, 0])],
      in: model.rooms.get('children')!,
      extra: [null],
    });
  }
}

function furnishUpstairs(model: ArchitectureModel, types: Types): void {
  const z = STOREY_HEIGHT;
  for (let row = 0; row < 3; row++)
    for (let i = 0; i < 10; i++)
      put(model, `shelf/history-${row}-${i}`, 'Shelf', types.shelf, 'stacks-south', [2 + i, 2 + row * 2.6, z]);
  for (let i = 0; i < 6; i++) {
    put(model, `desk/study-${i}`, 'Desk', types.desk, 'study', [1.2, 11.5 + i * 2.2, 0]);
    put(model, `chair/study-${i}`, 'Chair', types.chair, 'study', [1.8, 12.3 + i * 2.2, 0]);
  }
  for (let i = 0; i < 8; i++) {
    const at: Vec3 = [2 + (i % 4) * 5, i < 4 ? 28 : 32, z];
    put(model, `desk/office-${i}`, 'Desk', types.desk, 'offices', at);
    put(model, `chair/office-${i}`, 'Chair', types.chair, 'offices', [at[0] + 0.6, at[1] + 0.8, z]);
  }
  for (let i = 0; i < 3; i++)
    put(model, `table/meeting-${i}`, 'Meeting table', types.table, 'meeting', [28 + i * 2.4, 30.4, z]);
  for (let i = 0; i < 12; i++)
    put(model, `chair/meeting-${i}`, 'Chair', types.chair, 'meeting', [28.2 + (i % 6) * 1.15, i < 6 ? 31.6 : 29.9, z]);
}

function furnishEntrance(model: ArchitectureModel, types: Types): void {
  const { ifc, paint, rooms, revision } = model;
  const counter = revision === 1 ? 1.1 : 0.9;
  ifc.product('IFCFURNITURE', 'counter/cafe', {
    name: 'Café counter',
    at: [1.2, 7.4, 0],
    bodies: [
      ifc.box(paint.felt, [0, 0, 0], [5, 0.7, counter - 0.05]),
      ifc.box(paint.oak, [-0.05, -0.05, counter - 0.05], [5.1, 0.8, 0.05]),
    ],
    in: rooms.get('cafe')!,
    extra: [token('USERDEFINED')],
  });
  for (let i = 0; i < 5; i++) {
    const at: Vec3 = [1.6 + (i % 3) * 3.4, i < 3 ? 1.4 : 4.2, 0];
    ifc.product('IFCFURNITURE', `table/cafe-${i}`, {
      name: 'Café table',
      at,
      bodies: [
        ifc.cylinder(paint.oak, 0.4, 0.03, [0, 0, 0.72]),
        ifc.cylinder(paint.steel, 0.04, 0.72, [0, 0, 0]),
        ifc.cylinder(paint.steel, 0.22, 0.02, [0, 0, 0]),
      ],
      in: rooms.get('cafe')!,
      extra: [token('TABLE')],
    });
    put(model, `chair/cafe-${i}-a`, 'Chair', types.chair, 'cafe', [at[0] - 0.22, at[1] + 0.4, 0]);
    put(model, `chair/cafe-${i}-b`, 'Chair', types.chair, 'cafe', [at[0] + 0.22, at[1] - 0.4, 0], 180);
  }
  for (let i = 0; i < 2; i++) {
    const shift = i === 1 && revision >= 2 ? 0.6 : 0;
    ifc.product('IFCFURNITURE', `desk/returns-${i}`, {
      name: 'Lending desk',
      at: [31.5 + i * 4 + shift, 4, 0],
      bodies: [
        ifc.box(paint.felt, [0, 0, 0], [2.6, 0.6, 0.7]),
        ifc.box(paint.oak, [-0.03, -0.05, 0.7], [2.66, 0.85, 0.04]),
      ],
      in: rooms.get('returns')!,
      extra: [token('DESK')],
    });
  }
  for (let i = 0; i < 4; i++) put(model, `shelf/returns-${i}`, 'Shelf', types.shelf, 'returns', [31.4 + i, 9, 0]);
  for (let i = 0; i < 6; i++)
    put(model, `table/workshop-${i}`, 'Work table', types.table, 'workshop', [
      13.5 + (i % 3) * 5,
      i < 3 ? 28 : 32.5,
      0,
    ]);
  for (let i = 0; i < 4; i++) put(model, `desk/staff-${i}`, 'Desk', types.desk, 'staff', [32 + i * 3.5, 29, 0]);
}

function furnishWc({ ifc, paint, rooms, revision }: ArchitectureModel): void {
  const room = rooms.get('wc')!;
  ifc.product('IFCSANITARYTERMINAL', 'wc/pan', {
    name: 'WC pan, 480 mm high',
    at: [41.9, 0.4, 0],
    bodies: [
      ifc.box(paint.ceramic, [0, 0, 0], [0.36, 0.18, 0.8]),
      ifc.box(paint.ceramic, [0.03, 0.18, 0], [0.3, 0.52, 0.48]),
    ],
    in: room,
    extra: [token('TOILETPAN')],
  });
  ifc.product('IFCSANITARYTERMINAL', 'wc/basin', {
    name: 'Wash basin, knees free',
    at: [42.7, 2.6, 0],
    bodies: [ifc.box(paint.ceramic, [0, 0, 0.67], [0.55, 0.6, 0.13])],
    in: room,
    extra: [token('WASHHANDBASIN')],
  });
  ifc.product('IFCFURNITURE', 'wc/mirror', {
    name: 'Mirror',
    at: [43.3, 2.6, 0.9],
    bodies: [ifc.box(paint.glass, [0, 0, 0], [0.02, 0.6, 1.0])],
    in: room,
    extra: [null],
  });
  for (let i = 1; i <= (revision === 1 ? 1 : 2); i++) {
    ifc.product('IFCRAILING', `rail/wc-${i}`, {
      name: 'Grab rail, 750 mm above the floor',
      at: [i === 1 ? 41.6 : 42.5, 0.4, 0.75],
      bodies: [ifc.cylinder(paint.steel, 0.016, 0.8, [0, 0, 0], [0, 1, 0])],
      in: room,
      extra: [token('HANDRAIL')],
    });
  }
}
