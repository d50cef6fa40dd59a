import type { Document } from '@xmldom/xmldom';

/** The least and most that makes sense of an element's attribute. A matrix has sixteen numbers. */
const STEPS = [
  { name: 'input', attribute: 'offset', least: 0, most: 63 },
  { name: 'accessor', attribute: 'stride', least: 1, most: 64 },
] as const;

/**
 * Checks the steps in which lists of numbers are gone through: with a step of nothing or of millions the loader would come
 * to no end.
 *
 * @throws Error that names the first that makes no sense
 */
export function checkSteps(document: Document): void {
  for (const { name, attribute, least, most } of STEPS)
    for (const element of document.getElementsByTagName(name)) {
      const value = element.getAttribute(attribute);
      if (value === null || value === '') continue;
      const step = Number(value);
      if (!Number.isInteger(step) || step < least || step > most)
        throw new Error(`<${name}> has the ${attribute} “${value.slice(0, 20)}”, which makes no sense`);
    }
}
