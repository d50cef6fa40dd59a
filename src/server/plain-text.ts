import { Problem } from './problems';

/** All but tabs and ends of lines, and halves of characters. */
const CONTROLS =
  /[\0-\x08\x0b\x0c\x0e-\x1f\x7f]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

/** @throws Problem 400 for characters that no text holds: a database cannot store them */
export function refuseControls(text: string): void {
  if (CONTROLS.test(text)) throw new Problem(400, 'That holds characters that cannot be stored. Type the text anew.');
}

/** Deeper than anything that is sent here. */
const DEEPEST = 64;

/**
 * The same for all texts and names within what was sent, and for what would confuse whoever checks it: lists within lists without
 * end, and names by which an object takes over another one's properties.
 *
 * @throws Problem 400
 */
export function refuseOddities(sent: unknown, depth = 0): void {
  if (typeof sent === 'string') refuseControls(sent);
  if (typeof sent !== 'object' || sent === null) return;
  if (depth > DEEPEST) throw new Problem(400, 'That is nested too deep to be understood.');
  if (Array.isArray(sent)) sent.forEach((one) => refuseOddities(one, depth + 1));
  else
    for (const [name, value] of Object.entries(sent)) {
      refuseControls(name);
      if (name === '__proto__') throw new Problem(400, 'A name in that is not allowed: __proto__.');
      refuseOddities(value, depth + 1);
    }
}
