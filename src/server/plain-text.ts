import { Problem } from './problems';

/** All but tabs and ends of lines, and halves of characters. */
const CONTROLS =
  /[\0-\x08\x0b\x0c\x0e-\x1f\x7f]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

/** @throws Problem 400 for characters that no text holds: a database cannot store them */
export function refuseControls(text: string): void {
  if (CONTROLS.test(text)) throw new Problem(400, 'That holds characters that cannot be stored. Type the text anew.');
}

/** The same for all texts and names within what was sent. */
export function refuseControlsWithin(sent: unknown): void {
  if (typeof sent === 'string') refuseControls(sent);
  else if (Array.isArray(sent)) sent.forEach(refuseControlsWithin);
  else if (typeof sent === 'object' && sent !== null)
    for (const [name, value] of Object.entries(sent)) {
      refuseControls(name);
      refuseControlsWithin(value);
    }
}
