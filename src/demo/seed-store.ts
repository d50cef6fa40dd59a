import { architectureIfc } from './library/architecture';
import { vaultedRoofIfc } from './library/hall-roof-vaulted';
import { structureIfc } from './library/structure';

/** What lies in the sample store: the files that the designers work on. */
const FILES: { folder: string; name: string; content: () => string }[] = [
  { folder: 'Town library/Architecture', name: 'library-architecture.ifc', content: () => architectureIfc(2) },
  { folder: 'Town library/Architecture', name: 'library-hall-roof-vaulted.ifc', content: vaultedRoofIfc },
  { folder: 'Town library/Structure', name: 'library-structure.ifc', content: structureIfc },
];

/** Fills the stand-in model store, unless something lies in it. @param origin its address */
export async function seedStore(origin: string, onStep: (text: string) => void): Promise<void> {
  const page = await (await fetch(origin)).text();
  if (page.includes('.ifc')) return;
  onStep('filling the sample store');
  for (const { folder, name, content } of FILES) {
    const answer = await fetch(`${origin}/shelf?${new URLSearchParams({ folder, name })}`, {
      method: 'POST',
      body: content(),
    });
    if (!answer.ok) throw new Error(`the sample store did not take ${name}: ${await answer.text()}`);
  }
}
