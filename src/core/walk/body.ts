/** Who walks: how high the eyes are and what the body gets through. Metres. */
export interface Body {
  /** Above the floor. */
  eye: number;
  radius: number;
  /** The highest step that it goes up, and down without falling. */
  step: number;
  /** How much lower the eyes may go where there is little head room. */
  stoop: number;
}

export const BODY_KINDS = ['adult', 'child', 'wheelchair'] as const;
export type BodyKind = (typeof BODY_KINDS)[number];

/** Eye heights are those that the trade works with; a wheelchair gets over a threshold and up a ramp, but up no stairs, and cannot stoop. */
export const BODIES: Record<BodyKind, Body> = {
  adult: { eye: 1.6, radius: 0.22, step: 0.3, stoop: 0.52 },
  child: { eye: 1.1, radius: 0.18, step: 0.25, stoop: 0.32 },
  wheelchair: { eye: 1.2, radius: 0.34, step: 0.03, stoop: 0 },
};

export const BODY_WORDS: Record<BodyKind, string> = {
  adult: 'Adult',
  child: 'Child',
  wheelchair: 'Wheelchair',
};

export const LEAST_EYE = 0.4;
export const GREATEST_EYE = 2.4;
/** Metres from the eyes to the crown of the head. */
const FOREHEAD = 0.12;

/** The same body where it stoops. */
export function stooped(body: Body): Body {
  return { ...body, eye: body.eye - body.stoop };
}

export function heightOf({ eye }: Body): number {
  return eye + FOREHEAD;
}

/** Metres a second. */
export const PACES = { slow: 0.7, walk: 1.4, brisk: 2.8 } as const;
export type Pace = keyof typeof PACES;
