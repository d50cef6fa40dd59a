import type { Document, Element } from '@xmldom/xmldom';

/** What moves or acts upon a model, and never shows. */
const UNSEEN =
  /^(library_(animations|animation_clips|physics_\w+|force_fields|kinematics_\w+|articulated_systems|joints|lights)|instance_(light|physics_scene|kinematics_scene)|evaluate_scene)$/;

/** Elements that name another one by an attribute. */
const NAMING = [
  ['target', /^instance_material$/],
  ['url', /^instance_/],
  ['source', /^(input|skin|morph|accessor)$/],
] as const;

/**
 * Takes what never shows out of a COLLADA document, and references that lead nowhere within it: the loader gives up at
 * the first. A primitive goes with its vertices.
 *
 * @returns how many references led nowhere
 */
export function keepWhatShows(document: Document): number {
  for (const element of elementsOf(document)) if (UNSEEN.test(element.nodeName)) remove(element);
  const all = elementsOf(document);
  const ids = new Set(all.map((element) => element.getAttribute('id')).filter(Boolean));
  const lost = all.filter((element) => {
    const attribute = NAMING.find(([, name]) => name.test(element.nodeName))?.[0];
    const address = attribute && element.getAttribute(attribute);
    return address && !(address.startsWith('#') && ids.has(address.slice(1)));
  });
  for (const element of lost)
    remove(element.getAttribute('semantic') === 'VERTEX' ? (element.parentNode as Element) : element);
  return lost.length;
}

function elementsOf(document: Document): Element[] {
  return [...document.getElementsByTagName('*')];
}

function remove(element: Element): void {
  element.parentNode?.removeChild(element);
}
