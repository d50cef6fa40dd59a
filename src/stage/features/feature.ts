/** Something that the stage shows beside the models, with its own life. */
export interface Feature {
  /** Asks for what the picture needs. Returns whether some of it is on its way. */
  update?(): boolean;
  dispose(): void;
}
