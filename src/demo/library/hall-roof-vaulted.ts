import { IfcBuilder, type Point2, type Style } from '../ifc/ifc-builder';
import { token } from '@/core/step/step-writer';
import { palette } from './palette';
import { HALL, HALL_ROOF, STOREY_HEIGHT } from './plan';

/** Rise of the vault above the eaves, in metres. */
const RISE = 3.4;
const SEGMENTS = 14;
const SHELL = 0.18;
const ARCH = 0.42;

/** The alternative to the folds over the reading hall: one shallow vault of shingle on glued arches, glazed at both ends. */
export function vaultedRoofIfc(): string {
  const ifc = new IfcBuilder({
    model: 'hall-roof-vaulted',
    projectName: 'Town library',
    author: 'Ines Okafor',
    organisation: 'Okafor Brandt Architects',
    time: '2026-04-27T09:00:00',
  });
  const paint = palette(ifc);
  const roof = ifc.storey('roof', 'Roof', 2 * STOREY_HEIGHT);
  const { x0, y0, x1, y1 } = HALL;
  const { eaves, overhang } = HALL_ROOF;
  const width = y1 - y0;
  // A circle's arc through both eaves and the crown.
  const radius = (width * width) / (8 * RISE) + RISE / 2;
  const half = Math.asin(width / 2 / radius);
  const on = (i: number, r: number): Point2 => {
    const angle = -half + (2 * half * i) / SEGMENTS;
    return [(y0 + y1) / 2 + r * Math.sin(angle), eaves + RISE - radius + r * Math.cos(angle)];
  };
  // Profiles lie in the YZ plane and are drawn along X: local x is Y, local y is Z.
  const drawn = (style: Style, polygon: Point2[], from: number, length: number) =>
    ifc.extrude(style, polygon, length, [from, 0, 0], [1, 0, 0], [0, 1, 0]);
  const ring = (i: number, inner: number, outer: number): Point2[] => [
    on(i, inner),
    on(i + 1, inner),
    on(i + 1, outer),
    on(i, outer),
  ];

  const whole = ifc.product('IFCROOF', 'roof', {
    name: 'Hall roof, vaulted',
    in: roof,
    extra: [token('BARREL_ROOF')],
    facts: { Pset_RoofCommon: { Reference: 'R-2', FireRating: 'REI 30' } },
  });
  for (let i = 0; i < SEGMENTS; i++)
    ifc.product('IFCSLAB', `shell/${i}`, {
      name: `Vault, strip ${i + 1}`,
      bodies: [drawn(paint.shingle, ring(i, radius, radius + SHELL), x0 - overhang, x1 - x0 + 2 * overhang)],
      in: roof,
      partOf: whole,
      extra: [token('ROOF')],
    });
  for (let frame = 0; frame <= 5; frame++)
    for (let i = 0; i < SEGMENTS; i++)
      ifc.product('IFCBEAM', `arch/${frame}-${i}`, {
        name: `Arch ${frame + 1}, piece ${i + 1}`,
        bodies: [drawn(paint.glulam, ring(i, radius - ARCH, radius), x0 + 0.5 + frame * 3.4, 0.16)],
        in: roof,
        facts: { Pset_BeamCommon: { Reference: 'GL30', LoadBearing: true, FireRating: 'R 60' } },
        extra: [token('BEAM')],
      });
  for (const [side, x] of [
    ['court', x0 + 0.04],
    ['east', x1 - 0.07],
  ] as const)
    for (let i = 1; i < SEGMENTS - 1; i++)
      ifc.product('IFCPLATE', `glass/${side}-${i}`, {
        name: 'End glazing',
        bodies: [
          drawn(
            paint.glass,
            [[on(i, radius)[0] + 0.03, eaves], [on(i + 1, radius)[0] - 0.03, eaves], on(i + 1, radius), on(i, radius)],
            x,
            0.03,
          ),
        ],
        in: roof,
        extra: [token('CURTAIN_PANEL')],
      });
  return ifc.finish('library-hall-roof-vaulted-P01.ifc');
}
