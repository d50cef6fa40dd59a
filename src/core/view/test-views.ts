import fc from 'fast-check';
import { MEASURE_KINDS, POINTS_OF, type Measure } from '../measure/measures';
import { dimensions, INKS, MARK_KINDS, PENS, type Mark } from '../mark/marks';
import { ELEMENT_COLUMNS } from '../elements/element-columns';
import type { Cuts } from '../cut/cuts';
import type { Condition, ElementSet, Where } from '../elements/element-set';
import { DAY_MINUTES } from '../sun/calendar';
import type { CameraPose } from './camera';
import { SPREADS } from './spread';
import { BACKGROUNDS, HEAVIEST_INK, LOOKS } from './style';
import { PART_NAMES, type ViewChange, type ViewState } from './view-state';

/** Arbitrary views for property tests: any that the schemas let in. */

export const MODELS = ['00000000-0000-7000-8000-00000000000a', '00000000-0000-7000-8000-00000000000b'];

const text = fc.constantFrom('', 'Wall', 'Door', 'Duct', '<b>', 'שלום', '🪟');
const guid = fc.constantFrom('g0', 'g1', 'g2', 'g3', 'g4', 'g5', 'g6', 'g7');
const model = fc.constantFrom(...MODELS);

export const anyCondition: fc.Arbitrary<Condition> = fc.oneof(
  model.map((value): Condition => ({ is: 'model', value })),
  fc.tuple(fc.constantFrom(...ELEMENT_COLUMNS), text).map(([is, value]): Condition => ({ is, value })),
  fc.constantFrom<Condition>({ is: 'search', value: 'wall' }, { is: 'search', value: 'g' }),
  fc.uniqueArray(guid, { minLength: 1, maxLength: 4 }).map((guids): Condition => ({ is: 'element', guids })),
  text.map((value): Condition => ({ is: 'fact', set: 'Pset_WallCommon', name: 'FireRating', value })),
  fc
    .tuple(fc.integer({ min: -5, max: 5 }), fc.integer({ min: -5, max: 5 }))
    .map(([from, to]): Condition => ({ is: 'fact', set: 'Qto', name: 'Width', from, to })),
);
export const anyWhere: fc.Arbitrary<Where> = fc.array(anyCondition, { maxLength: 3 });
export const anySet: fc.Arbitrary<ElementSet> = fc.array(
  fc.tuple(fc.boolean(), anyWhere).map(([isAlso, where]) => (isAlso ? { also: where } : { except: where })),
  { maxLength: 6 },
);

// JSON has no negative zero.
const number = fc.double({ min: -1e4, max: 1e4, noNaN: true }).map((value) => value + 0);
const point = fc.tuple(number, number, number);
const id = fc.constantFrom(...MODELS);

const length = fc.double({ min: 0.01, max: 1e3, noNaN: true });
const shown = { isOn: fc.boolean(), isFramed: fc.boolean() };
const direction = fc
  .tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: -3, max: 3, noNaN: true }))
  .map(([z, turn]) =>
    [Math.sqrt(1 - z * z) * Math.cos(turn), Math.sqrt(1 - z * z) * Math.sin(turn), z].map((v) => v + 0),
  )
  .map(([x, y, z]): [number, number, number] => [x!, y!, z!]);

const anyCuts: fc.Arbitrary<Cuts> = fc.record({
  planes: fc.uniqueArray(
    fc.record({
      id: fc.constantFrom('a', 'b', 'c', 'd'),
      normal: direction,
      offset: number,
      thickness: fc.option(length),
      middle: point,
      ...shown,
    }),
    { selector: (plane) => plane.id },
  ),
  box: fc.option(
    fc.record({
      middle: point,
      size: fc.tuple(length, length, length),
      turn: number.map((v) => v / 1e4 + 0),
      ...shown,
    }),
  ),
  whole: anySet,
});

const anyMeasure: fc.Arbitrary<Measure> = fc.constantFrom(...MEASURE_KINDS).chain((kind) => {
  const { points, isMany, normals } = POINTS_OF[kind];
  return fc.record({
    id: fc.uuid(),
    name: text,
    kind: fc.constant(kind),
    points: fc.array(point, { minLength: points, maxLength: isMany ? points + 4 : points }),
    normals: fc.array(direction, { minLength: normals, maxLength: normals }),
    area: kind === 'face' ? length : fc.constant(null),
  });
});

const anyCamera: fc.Arbitrary<CameraPose> = fc.record(
  {
    position: point,
    target: point,
    fov: fc.double({ min: 5, max: 120, noNaN: true }),
    parallel: fc.constant<true>(true),
  },
  { requiredKeys: ['position', 'target', 'fov'] },
);

export const anyMark: fc.Arbitrary<Mark> = fc.constantFrom(...MARK_KINDS).chain((kind) => {
  const least = kind === 'text' ? 1 : 2;
  const most = kind === 'free' || kind === 'surface' ? 6 : least;
  return fc.integer({ min: least, max: most }).chain((count) =>
    fc.record({
      id: fc.uuid(),
      kind: fc.constant(kind),
      ink: fc.constantFrom(...INKS),
      pen: fc.constantFrom(...PENS),
      points: fc.array(number, { minLength: count * dimensions(kind), maxLength: count * dimensions(kind) }),
      pressures: fc.constantFrom(
        [],
        Array.from({ length: count }, () => 0.5),
      ),
      text: kind === 'text' ? fc.constantFrom('Why?', '<b>', 'שלום', '🪟') : fc.constant(''),
      camera: kind === 'surface' ? fc.constant(null) : anyCamera,
      by: fc.record({ id, name: text }),
    }),
  );
});

export const anyView: fc.Arbitrary<ViewState> = fc.record({
  camera: anyCamera,
  visibility: fc.record({ shown: anySet, hiddenModels: fc.uniqueArray(model) }),
  options: fc.dictionary(id, id),
  fades: fc.array(fc.record({ of: anySet, clear: fc.double({ min: 0, max: 0.95, noNaN: true }).map((v) => v + 0) }), {
    maxLength: 3,
  }),
  colouring: fc.array(fc.record({ of: anySet, colour: fc.constantFrom('#b5483a', '#00ff7f', '#0b0b0b') }), {
    maxLength: 3,
  }),
  spread: fc.option(
    fc.record({
      by: fc.constantFrom(...SPREADS),
      amount: fc.double({ min: 0.01, max: 1, noNaN: true }),
      from: fc.array(anyWhere, { maxLength: 2 }),
    }),
  ),
  cuts: anyCuts,
  measures: fc.uniqueArray(anyMeasure, { maxLength: 4, selector: ({ id }) => id }),
  marks: fc.uniqueArray(anyMark, { maxLength: 4, selector: ({ id }) => id }),
  light: fc.record({
    at: fc.option(
      fc.record({
        date: fc
          .date({ min: new Date('1950-01-01'), max: new Date('2150-01-01'), noInvalidDate: true })
          .map((day) => day.toISOString().slice(0, 10)),
        minutes: fc.integer({ min: 0, max: DAY_MINUTES - 1 }),
      }),
    ),
    shadows: fc.boolean(),
    exposure: fc.double({ min: -2, max: 2, noNaN: true }).map((v) => v + 0),
  }),
  style: fc.record({
    look: fc.constantFrom(...LOOKS),
    ink: fc.double({ min: 0, max: HEAVIEST_INK, noNaN: true }).map((v) => v + 0),
    background: fc.constantFrom(...BACKGROUNDS),
    colour: fc.constantFrom('#000000', '#d8d2c4', '#FFFFFF'),
  }),
  selection: fc.array(anyWhere, { maxLength: 3 }),
});

export const anyChange: fc.Arbitrary<ViewChange> = fc
  .tuple(anyView, fc.subarray(PART_NAMES, { minLength: 1 }))
  .map(([view, names]) => Object.fromEntries(names.map((name) => [name, view[name]])));
