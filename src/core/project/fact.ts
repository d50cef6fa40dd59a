/** A fact that elements of a revision have. */
export interface FactName {
  set: string;
  name: string;
  /** How many have it. */
  elements: number;
}

/** A value of a fact, as a text. */
export interface FactValue {
  value: string;
  /** Rows of the elements that have it. */
  elements: number[];
}
