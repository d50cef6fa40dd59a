import { IfcBuilder, type Place } from '../ifc/ifc-builder';
import { token } from '@/core/step/step-writer';
import { palette } from './palette';
import { FOLDED_ROOF, HALL, HALL_ROOF, rectangle, SLAB, SOUTH, STAIRWELL, STOREY_HEIGHT, WINGS } from './plan';

/** The structural engineer's model: footings, timber columns and beams of the wings, glued frames of the hall. */
export function structureIfc(): string {
  const ifc = new IfcBuilder({
    model: 'structure',
    projectName: 'Town library',
    author: 'Mikko Karras',
    organisation: 'Karras Structures',
    time: '2026-03-05T10:00:00',
  });
  const paint = palette(ifc);
  const levels: Place[] = [ifc.storey('ground', 'Ground floor', 0), ifc.storey('first', 'First floor', STOREY_HEIGHT)];
  const roof = ifc.storey('roof', 'Roof', 2 * STOREY_HEIGHT);
  const common = (reference: string) => ({ Reference: reference, LoadBearing: true, FireRating: 'R 60' });

  for (const wing of WINGS) {
    const vertical = wing.key === 'west';
    const bays = Math.round((vertical ? wing.y1 - wing.y0 : wing.x1 - wing.x0) / 6);
    const step = (vertical ? wing.y1 - wing.y0 : wing.x1 - wing.x0) / bays;
    for (const [level, storey] of levels.entries()) {
      const z = level * STOREY_HEIGHT;
      for (let i = 0; i <= bays; i++) {
        const rows = vertical
          ? [wing.x0 + 0.6, (wing.x0 + wing.x1) / 2, wing.x1 - 0.6]
          : [wing.y0 + 0.6, (wing.y0 + wing.y1) / 2, wing.y1 - 0.6];
        const along = (vertical ? wing.y0 : wing.x0) + Math.min(Math.max(i * step, 0.6), bays * step - 0.6);
        for (const [row, across] of rows.entries()) {
          const [x, y] = vertical ? [across, along] : [along, across];
          ifc.product('IFCCOLUMN', `column/${wing.key}-${level}-${i}-${row}`, {
            name: 'Column 240 × 240',
            at: [x - 0.12, y - 0.12, z],
            bodies: [ifc.box(paint.glulam, [0, 0, 0], [0.24, 0.24, STOREY_HEIGHT - SLAB - 0.4])],
            in: storey,
            facts: { Pset_ColumnCommon: common('C24') },
            extra: [token('COLUMN')],
          });
          if (level === 0)
            ifc.product('IFCFOOTING', `footing/${wing.key}-${i}-${row}`, {
              name: 'Pad footing',
              at: [x - 0.6, y - 0.6, -1.2],
              bodies: [ifc.box(paint.concrete, [0, 0, 0], [1.2, 1.2, 0.5])],
              in: storey,
              facts: { Pset_FootingCommon: common('PF') },
              extra: [token('PAD_FOOTING')],
            });
        }
        const [bx, by] = vertical ? [wing.x0 + 0.3, along - 0.1] : [along - 0.1, wing.y0 + 0.3];
        // A beam that would cross the stair ends at its opening.
        const isTrimmed = wing === SOUTH && level === 0 && along > STAIRWELL.x0 && along < STAIRWELL.x1;
        const end = vertical ? wing.x1 - 0.3 : isTrimmed ? STAIRWELL.y0 - 0.1 : wing.y1 - 0.3;
        const length = end - (vertical ? bx : by);
        ifc.product('IFCBEAM', `beam/${wing.key}-${level}-${i}`, {
          name: 'Beam 200 × 400',
          at: [bx, by, z + STOREY_HEIGHT - SLAB - 0.4],
          bodies: [ifc.box(paint.glulam, [0, 0, 0], vertical ? [length, 0.2, 0.4] : [0.2, length, 0.4])],
          in: storey,
          facts: { Pset_BeamCommon: common('GL28') },
          extra: [token('BEAM')],
        });
      }
    }
  }
  const span = (HALL.y1 - HALL.y0) / HALL_ROOF.folds;
  for (let frame = 0; frame <= 5; frame++) {
    const x = HALL.x0 + 0.5 + frame * 3.4;
    for (let fold = 0; fold < HALL_ROOF.folds; fold++) {
      const a = HALL.y0 + fold * span;
      const m = a + span / 2;
      const { eaves, ridge } = HALL_ROOF;
      for (const [slope, polygon] of [
        [
          'south',
          [
            [a, eaves - 0.3],
            [m, ridge - 0.3],
            [m, ridge],
            [a, eaves],
          ],
        ],
        [
          'north',
          [
            [m, ridge - 0.3],
            [a + span, eaves - 0.3],
            [a + span, eaves],
            [m, ridge],
          ],
        ],
      ] as [string, [number, number][]][]) {
        const rafter = ifc.product('IFCBEAM', `rafter/${frame}-${fold}-${slope}`, {
          name: 'Hall rafter',
          bodies: [ifc.extrude(paint.glulam, polygon, 0.14, [x, 0, 0], [1, 0, 0], [0, 1, 0])],
          in: roof,
          facts: { Pset_BeamCommon: common('GL30') },
          extra: [token('RAFTER')],
        });
        ifc.addToSystem(FOLDED_ROOF, rafter);
      }
      const tie = ifc.product('IFCMEMBER', `tie/${frame}-${fold}`, {
        name: 'Tie rod',
        bodies: [ifc.cylinder(paint.steel, 0.014, span, [x + 0.07, a, eaves - 0.15], [0, 1, 0])],
        in: roof,
        facts: { Pset_MemberCommon: common('S355') },
        extra: [token('MEMBER')],
      });
      ifc.addToSystem(FOLDED_ROOF, tie);
    }
    if (frame % 5 === 0) {
      for (let fold = 0; fold <= HALL_ROOF.folds; fold++) {
        const y = Math.min(HALL.y1 - 0.3, HALL.y0 + 0.1 + fold * span);
        ifc.product('IFCCOLUMN', `hall-column/${frame}-${fold}`, {
          name: 'Hall column 200 × 200',
          at: [x - 0.03, y, 0],
          bodies: [ifc.box(paint.glulam, [0, 0, 0], [0.2, 0.2, HALL_ROOF.eaves - 0.3])],
          in: levels[0]!,
          facts: { Pset_ColumnCommon: common('GL28') },
          extra: [token('COLUMN')],
        });
      }
    }
  }
  ifc.product('IFCSLAB', 'slab/raft', {
    name: 'Ground slab',
    at: [0, 0, -0.7],
    bodies: [ifc.extrude(paint.concrete, rectangle(30, 10, 48, 26), 0.35)],
    in: levels[0]!,
    facts: { Pset_SlabCommon: common('C30/37') },
    extra: [token('BASESLAB')],
  });
  return ifc.finish('library-structure-P01.ifc');
}
