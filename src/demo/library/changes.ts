import { ifcGuid } from '../ifc/ifc-guid';

/** What differs between two revisions of the architecture, known by construction. Tests of comparison hold to it. */
export type KnownChange = { key: string; guid: string; what: string } & (
  | { kind: 'new' }
  | { kind: 'gone' }
  | { kind: 'moved'; by: [number, number, number] }
  | { kind: 'fact'; set: string; fact: string; from: string; to: string }
  | { kind: 'shape' }
);

/** From P01 to P02 of the architecture. */
export const CHANGES_P02: KnownChange[] = [
  change('desk/returns-1', {
    kind: 'moved',
    by: [0.6, 0, 0],
    what: 'The lending desk moved so that the returns trolley passes',
  }),
  change('wall/inner-0-40.5', {
    kind: 'fact',
    set: 'Pset_WallCommon',
    fact: 'FireRating',
    from: 'EI 30',
    to: 'EI 60',
    what: 'Wall to the lobby rated EI 60',
  }),
  change('bench/court-3', { kind: 'new', what: 'A third bench in the court' }),
  change('tree/court-4', { kind: 'gone', what: 'The tree in front of the hall is left out' }),
  change('rail/wc-2', { kind: 'new', what: 'A second grab rail in the accessible WC' }),
  change('counter/cafe', { kind: 'shape', what: 'The café counter is 900 instead of 1 100 mm high' }),
];

/** From P02 to P03. */
export const CHANGES_P03: KnownChange[] = [
  change('bench/court-3', {
    kind: 'moved',
    by: [0, 4.8, 0],
    what: 'The third bench stands on the other side of the path',
  }),
  change('hall-panel/east-15', { kind: 'gone', what: 'The last panel of the hall’s east front is left out' }),
  change('hall-glass/east-15', { kind: 'new', what: 'Glazing in its place' }),
];

function change<T extends object>(key: string, rest: T): T & { key: string; guid: string } {
  return { key, guid: ifcGuid(`architecture/${key}`), ...rest };
}
