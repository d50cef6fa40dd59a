import { isWhole, KIND_WORDS, MEASURE_KINDS, MOST_MEASURES, MOST_POINTS, type Measure } from '../measure/measures';
import { cardText } from '../measure/quantities';
import { asRecord } from '../elements/read-element-set';
import { isNumber, isVector } from './read-numbers';
import { FIRST_READING } from '../units/figures';
import type { ViewPart } from './view-part';

/** What was measured. */
export const measures: ViewPart<readonly Measure[]> = {
  initial: [],
  undone: true,
  read(stored) {
    return (Array.isArray(stored) ? stored.flatMap(readMeasure) : []).slice(0, MOST_MEASURES);
  },
  describe(value) {
    if (value.length === 0) return '';
    const words = value.map(
      (measure) => `${measure.name || KIND_WORDS[measure.kind]} ${cardText(measure, FIRST_READING)}`,
    );
    return `Measured: ${words.join('; ')}`;
  },
};

function readMeasure(stored: unknown): Measure[] {
  const { id, name, kind, points, normals, area } = asRecord(stored);
  const known = MEASURE_KINDS.find((one) => one === kind);
  if (!known || typeof id !== 'string' || !Array.isArray(points) || !points.every(isVector)) return [];
  const measure: Measure = {
    id,
    name: typeof name === 'string' ? name : '',
    kind: known,
    points: points.slice(0, MOST_POINTS),
    normals: Array.isArray(normals) && normals.every(isVector) ? normals : [],
    area: isNumber(area) && area >= 0 ? area : null,
  };
  return isWhole(measure) ? [measure] : [];
}
