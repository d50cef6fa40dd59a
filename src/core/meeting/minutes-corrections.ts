/** What the lead has corrected of minutes before they are sent. What was said stays as it was said elsewhere. */
export interface MinutesCorrections {
  /** Stands before everything else. */
  foreword: string;
  /** Other words for what was said or decided, by comment. */
  words: Record<string, string>;
  /** Comments that are left out. */
  left: string[];
}

export const NO_CORRECTIONS: MinutesCorrections = { foreword: '', words: {}, left: [] };
