import { MOST_PLANES, NO_CUTS, type CutBox, type CutPlane, type Cuts } from '../cut/cuts';
import { describeSet } from '../elements/describe-set';
import { NO_ELEMENTS } from '../elements/element-set';
import { asRecord, readElementSet } from '../elements/read-element-set';
import { isNumber, isVector } from './read-numbers';
import type { ViewPart } from './view-part';

export const cuts: ViewPart<Cuts> = {
  initial: NO_CUTS,
  undone: true,
  read(stored) {
    const { planes, box, whole } = asRecord(stored);
    return {
      planes: (Array.isArray(planes) ? planes.flatMap(readPlane) : []).slice(0, MOST_PLANES),
      box: readBox(box),
      whole: readElementSet(whole, NO_ELEMENTS),
    };
  },
  describe({ planes, box, whole }, names) {
    const cut = planes.filter(({ isOn }) => isOn).map(describePlane);
    if (box?.isOn) cut.push(`to a box of ${box.size.map(metres).join(' by ')} m`);
    if (cut.length === 0) return '';
    const rest = whole.length > 0 ? `; ${describeSet(whole, names)} stays whole` : '';
    return `Cut ${cut.join(' and ')}${rest}`;
  },
};

function describePlane({ normal: [x, y, z], offset, thickness }: CutPlane): string {
  const what = thickness === null ? '' : `to a slice of ${metres(thickness)} m `;
  if (Math.abs(z) > 1 - 1e-6)
    return `${what}level at ${metres(offset * z)} m, ${z > 0 ? 'seen from above' : 'seen from below'}`;
  if (Math.abs(z) < 1e-6)
    return `${what}upright, facing ${COMPASS[Math.round((Math.atan2(x, y) / Math.PI) * 4 + 8) % 8]}`;
  return `${what}at a slant`;
}

const COMPASS = ['north', 'north-east', 'east', 'south-east', 'south', 'south-west', 'west', 'north-west'];

function metres(value: number): string {
  return value.toFixed(2);
}

function readPlane(stored: unknown): CutPlane[] {
  const { id, normal, offset, thickness, middle, isOn, isFramed } = asRecord(stored);
  if (typeof id !== 'string' || !isVector(normal) || !isVector(middle) || !isNumber(offset)) return [];
  if (Math.abs(Math.hypot(...normal) - 1) > 1e-3) return [];
  return [
    {
      id,
      normal,
      offset,
      thickness: isNumber(thickness) && thickness > 0 ? thickness : null,
      middle,
      isOn: isOn !== false,
      isFramed: isFramed !== false,
    },
  ];
}

function readBox(stored: unknown): CutBox | null {
  const { middle, size, turn, isOn, isFramed } = asRecord(stored);
  if (!isVector(middle) || !isVector(size) || !size.every((edge) => edge > 0)) return null;
  return { middle, size, turn: isNumber(turn) ? turn : 0, isOn: isOn !== false, isFramed: isFramed !== false };
}
