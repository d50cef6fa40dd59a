import type { Document, Element } from '@xmldom/xmldom';

/**
 * Gives surfaces that no light changes (`constant` in COLLADA 1.4, section 8) the colour or picture that they give off as their
 * own: the loader knows a colour of theirs only as one that scatters light.
 */
export function constantColours(document: Document): void {
  for (const shading of [...document.getElementsByTagName('constant')]) {
    if (shading.getElementsByTagName('diffuse').length > 0) continue;
    for (const emission of [...shading.getElementsByTagName('emission')]) rename(document, emission, 'diffuse');
  }
}

function rename(document: Document, element: Element, name: string): void {
  const renamed = document.createElement(name);
  while (element.firstChild) renamed.appendChild(element.firstChild);
  element.parentNode!.replaceChild(renamed, element);
}
