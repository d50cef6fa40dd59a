import type { Vec3 } from '@/core/math/mat4';
import { IfcBuilder, type Body } from '@/demo/ifc/ifc-builder';
import { token } from '@/core/step/step-writer';
import { palette } from '@/demo/library/palette';
import { rectangle } from '@/demo/library/plan';

const STOREY = 3.4;
const BAY = 6;
const BAYS_ACROSS = 24;
const BAYS_DEEP = 6;
/** Elements of one bay on one storey. */
const A_BAY = 14;

/** A plain block of offices as IFC4 text: storeys of bays with slab, walls, columns, pipes, ducts and furniture. */
export function blockIfc(elements: number): string {
  const ifc = new IfcBuilder({
    model: 'block',
    projectName: 'Block',
    author: 'Bench',
    organisation: 'Yurta',
    time: '2026-01-01T00:00:00',
  });
  const paint = palette(ifc);
  const leg = (x: number, y: number) => ifc.box(paint.steel, [x, y, 0], [0.04, 0.04, 0.7]);
  const desk = ifc.type(
    'desk',
    'IFCFURNITURETYPE',
    'Desk',
    [ifc.box(paint.oak, [0, 0, 0.7], [1.6, 0.8, 0.04]), leg(0, 0), leg(1.56, 0), leg(0, 0.76), leg(1.56, 0.76)],
    [token('NOTDEFINED'), null],
  );
  const storeys = Math.ceil(elements / (A_BAY * BAYS_ACROSS * BAYS_DEEP));
  let made = 0;
  for (let level = 0; level < storeys; level++) {
    const z = level * STOREY;
    const storey = ifc.storey(`s${level}`, `Storey ${level}`, z);
    for (let bay = 0; bay < BAYS_ACROSS * BAYS_DEEP; bay++) {
      const x = (bay % BAYS_ACROSS) * BAY;
      const y = Math.floor(bay / BAYS_ACROSS) * BAY;
      const add = (entity: string, key: string, at: Vec3, bodies: Body[] | null, predefined: string) => {
        if (made++ >= elements) return;
        ifc.product(entity, `${key}/${level}-${bay}`, {
          name: key,
          at: [x + at[0], y + at[1], z + at[2]],
          ...(bodies ? { bodies } : { type: desk }),
          in: storey,
          facts: { Pset_Bench: { Level: level, Bay: bay, Kind: key, Checked: bay % 2 === 0 } },
          extra: [token(predefined)],
        });
      };
      add('IFCSLAB', 'Slab', [0, 0, -0.3], [ifc.extrude(paint.screed, rectangle(0, 0, BAY, BAY), 0.3)], 'FLOOR');
      add('IFCWALL', 'Wall', [0, 0, 0], [ifc.box(paint.inner, [0, 0, 0], [BAY - 1, 0.12, STOREY - 0.3])], 'SOLIDWALL');
      add(
        'IFCWALL',
        'Cross wall',
        [0, 0.12, 0],
        [ifc.box(paint.inner, [0, 0, 0], [0.12, BAY - 0.3, STOREY - 0.3])],
        'SOLIDWALL',
      );
      add(
        'IFCCOLUMN',
        'Column',
        [0.1, 0.1, 0],
        [ifc.box(paint.concrete, [0, 0, 0], [0.3, 0.3, STOREY - 0.3])],
        'COLUMN',
      );
      add('IFCBEAM', 'Beam', [0.1, 0.1, STOREY - 0.6], [ifc.box(paint.concrete, [0, 0, 0], [BAY, 0.3, 0.3])], 'BEAM');
      for (const i of [0, 1, 2, 3])
        add('IFCFURNITURE', `Desk ${i}`, [1 + (i % 2) * 2.4, 1.2 + (i >> 1) * 2.4, 0], null, 'DESK');
      for (const i of [0, 1, 2])
        add(
          'IFCPIPESEGMENT',
          `Pipe ${i}`,
          [0, 1 + i, STOREY - 0.5],
          [ifc.cylinder(paint.warm, 0.04, BAY, [0, 0, 0], [1, 0, 0])],
          'RIGIDSEGMENT',
        );
      add(
        'IFCDUCTSEGMENT',
        'Duct',
        [0, 4.6, STOREY - 0.75],
        [ifc.box(paint.zinc, [0, 0, 0], [BAY, 0.5, 0.3])],
        'RIGIDSEGMENT',
      );
      add(
        'IFCPLATE',
        'Window',
        [0.6, BAY - 0.1, 0.9],
        [ifc.box(paint.glass, [0, 0, 0], [4, 0.04, 1.9])],
        'CURTAIN_PANEL',
      );
    }
  }
  return ifc.finish('block.ifc');
}
