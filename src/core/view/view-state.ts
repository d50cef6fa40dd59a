import type { Names } from '../elements/describe-set';
import { asRecord } from '../elements/read-element-set';
import { camera } from './camera';
import { colouring } from './colouring';
import { cuts } from './cuts';
import { fades } from './fades';
import { light } from './light';
import { marks } from './marks';
import { measures } from './measures';
import { options } from './options';
import { selection } from './selection';
import { spread } from './spread';
import { style } from './style';
import type { ViewPart } from './view-part';
import { visibility } from './visibility';

/** The parts of the view. Nothing else lists them, except their schemas in `view-state-schema.ts`. */
export const VIEW_PARTS = {
  camera,
  visibility,
  options,
  fades,
  colouring,
  spread,
  cuts,
  measures,
  marks,
  light,
  style,
  selection,
};

export type ViewPartName = keyof typeof VIEW_PARTS;

/** Everything that a person set up in the Review: what a viewpoint, a comment, a link and a meeting hold. */
export type ViewState = { [Name in ViewPartName]: (typeof VIEW_PARTS)[Name] extends ViewPart<infer T> ? T : never };

/** The parts that change; all others stay. */
export type ViewChange = Partial<ViewState>;

export const PART_NAMES = Object.keys(VIEW_PARTS) as ViewPartName[];

export const INITIAL_VIEW: ViewState = readView({});

/** A view as it may have been stored by any earlier version. Never throws. */
export function readView(stored: unknown): ViewState {
  const record = asRecord(stored);
  const view = Object.fromEntries(PART_NAMES.map((name) => [name, readPart(name, partOf(record, name))]));
  return view as ViewState;
}

/** The parts that a stored change holds; parts of other versions are left out. */
export function readChange(stored: unknown): ViewChange {
  const record = asRecord(stored);
  const view = readView(record);
  return pick(
    view,
    PART_NAMES.filter((name) => partOf(record, name) !== undefined),
  );
}

function readPart(name: ViewPartName, stored: unknown): unknown {
  const part = VIEW_PARTS[name];
  return stored === undefined ? part.initial : part.read(stored);
}

/** Design options were once kept within the visibility. */
function partOf(record: Record<string, unknown>, name: ViewPartName): unknown {
  return name === 'options' ? (record.options ?? asRecord(record.visibility).options) : record[name];
}

export function mergeView(view: ViewState, change: ViewChange): ViewState {
  return { ...view, ...change };
}

/** Whether a change does no more than point something out or draw on what is seen: that leaves no viewpoint. */
export function keepsViewpoint(change: ViewChange): boolean {
  return Object.keys(change).every((name) => name === 'selection' || name === 'marks');
}

/** Some parts of a view. */
export function pick(view: ViewState, names: readonly ViewPartName[]): ViewChange {
  return Object.fromEntries(names.map((name) => [name, view[name]]));
}

/** The parts in which a view differs from another one. */
export function differences(from: ViewState, to: ViewChange): ViewChange {
  const names = PART_NAMES.filter(
    (name) =>
      to[name] !== undefined && to[name] !== from[name] && JSON.stringify(to[name]) !== JSON.stringify(from[name]),
  );
  return Object.fromEntries(names.map((name) => [name, to[name]]));
}

/** The parts that undo and redo bring back. */
export const UNDONE_PARTS = PART_NAMES.filter((name) => VIEW_PARTS[name].undone);

/** What a view shows otherwise than the whole, in sentences; empty where everything shows as it is. */
export function describeView(view: ViewState, names: Names): string {
  return PART_NAMES.map((name) => {
    const part = VIEW_PARTS[name] as ViewPart<unknown>;
    return part.describe(view[name], names);
  })
    .filter(Boolean)
    .map((sentence) => `${sentence}.`)
    .join(' ');
}
