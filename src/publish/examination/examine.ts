import type { Finding, FindingKind } from '@/core/examination/finding';
import type { BuildingModel } from '@/formats/building-model';
import type { PlacedGeometry } from '../geometry/element-geometry';
import { findCoincident, type CoveredPlane } from './coincident';
import { findDuplicates } from './duplicates';
import { examined, type Check } from './examined';
import { findFarAway } from './far-away';
import { findTooFine } from './proportion';
import { findRepeatedGuids, findUnseen, findWithoutMaterial, findWithoutName, findWithoutStorey } from './records';
import { examineShells } from './shells';

const MOST_GUIDS = 1000;

export interface Examination {
  findings: Finding[];
  /** Rows by kind, all of them. */
  rows: Map<FindingKind, number[]>;
  /** Planes in which an element's faces lie within another's, by row. */
  covered: Map<number, CoveredPlane[]>;
}

function mostLifts(planes: CoveredPlane[]): number {
  return Math.max(...planes.map(({ depth }) => depth));
}

/** Looks a model over before it is published. Changes nothing. */
export async function examine(model: BuildingModel, geometry: PlacedGeometry): Promise<Examination> {
  const subject = examined(model, geometry);
  const { insideOut, open } = examineShells(subject);
  const coincident = findCoincident(subject);
  const checks: [FindingKind, Check][] = [
    ['far-away', findFarAway(subject)],
    ['duplicate', findDuplicates(subject)],
    ['inside-out', insideOut],
    ['coincident', coincident],
    ['unseen', findUnseen(subject)],
    ['repeated-guid', findRepeatedGuids(subject)],
    ['too-fine', await findTooFine(subject)],
    ['open-shell', open],
    ['no-storey', findWithoutStorey(subject)],
    ['no-name', findWithoutName(subject)],
    ['no-material', findWithoutMaterial(subject)],
  ];
  const found = checks.filter(([, { rows }]) => rows.length > 0);
  return {
    covered: coincident.planes,
    rows: new Map(found.map(([kind, { rows }]) => [kind, rows])),
    findings: found.map(([kind, { rows, detail }]) => {
      const told = rows.slice(0, MOST_GUIDS);
      return {
        kind,
        count: rows.length,
        elements: told.map((row) => model.elements.guid[row]!),
        detail,
        ...(kind === 'coincident' && { lifts: told.map((row) => mostLifts(coincident.planes.get(row)!)) }),
      };
    }),
  };
}
