/** Where a pointer is, in client pixels, and what it is. */
export interface Press {
  id: number;
  x: number;
  y: number;
  kind: 'mouse' | 'touch' | 'pen';
  /** As in `PointerEvent.buttons`. */
  buttons: number;
  shift: boolean;
  /** 0..1; a mouse has half. */
  pressure: number;
}

/** A gesture that somebody has taken: theirs until its last pointer is up. */
export interface Drag {
  /** A pointer came or went. @param fingers all that are down now @returns whether it is given up, to the camera */
  fingers?(fingers: readonly Press[]): boolean | void;
  /** @param fingers all that are down @param moved the one that moved */
  move(fingers: readonly Press[], moved: Press): void;
  /** Every pointer is up. @param cancelled whether the system took the gesture away */
  end(cancelled: boolean): void;
}

/**
 * Somebody who may take what pointers do. Takers are asked in their order: handles, then the tool, then the camera; what
 * one takes the next does not see.
 */
export interface PointerTaker {
  /** Takes the gesture that begins here, or leaves it to the next. */
  press?(press: Press): Drag | null;
  /** The others return whether they took it. */
  tap?(press: Press): boolean;
  doubleTap?(press: Press): boolean;
  /** A drag takes the gesture over from whoever had it. */
  longPress?(press: Press): Drag | boolean;
  /** A mouse or pen moves without pressing; null when it has left. */
  hover?(press: Press | null): boolean;
  /** @param amount below 0 is nearer; about 0.2 a notch */
  wheel?(press: Press, amount: number): boolean;
  key?(event: KeyboardEvent): boolean;
}
