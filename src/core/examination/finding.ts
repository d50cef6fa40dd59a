/** How something is put right: not published, faces turned, moved out of others, no longer clear, made simpler. */
export type Mend = 'leave-out' | 'turn' | 'lift' | 'solid' | 'reduce';

/** What an examination looks for, and what can be done about it while publishing. */
export const FINDINGS = {
  'far-away': { mend: 'leave-out', severity: 'warning' },
  duplicate: { mend: 'leave-out', severity: 'warning' },
  'inside-out': { mend: 'turn', severity: 'warning' },
  coincident: { mend: 'lift', severity: 'warning' },
  unseen: { mend: 'solid', severity: 'warning' },
  'open-shell': { mend: null, severity: 'hint' },
  'too-fine': { mend: 'reduce', severity: 'hint' },
  'repeated-guid': { mend: null, severity: 'warning' },
  'no-storey': { mend: null, severity: 'hint' },
  'no-name': { mend: null, severity: 'hint' },
  'no-material': { mend: null, severity: 'hint' },
} as const satisfies Record<string, { mend: Mend | null; severity: 'warning' | 'hint' }>;

export type FindingKind = keyof typeof FINDINGS;
export const FINDING_KINDS = Object.keys(FINDINGS) as FindingKind[];
/** Those that Yurta can mend by itself. */
export const MENDABLE = FINDING_KINDS.filter((kind) => FINDINGS[kind].mend !== null);

/** Something noticed in a model before it is published. */
export interface Finding {
  kind: FindingKind;
  /** How many elements it concerns. */
  count: number;
  /** Their guids, the first thousand. */
  elements: string[];
  /** A sentence with numbers, for somebody who does not know how the model was made. */
  detail: string;
  /** Where faces can be lifted out of others: how many times `LIFT` each of the elements is lifted at most. */
  lifts?: number[];
}

/** So far a face is lifted out of the one in which it lies, in metres: more than rounding and the depth of a picture. */
export const LIFT = 0.004;

/** What was mended on the way to a revision. */
export interface Mended {
  kind: FindingKind;
  count: number;
  /** Where elements were made simpler: their triangles before and after, and how far they are off at most, in metres. */
  reduced?: { before: number; after: number; error: number };
}
