import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { expect, it } from 'vitest';

/** The bundle that the tests convert with. */
const folder = dirname(process.env.YURTA_CONVERTER!);
const files = readdirSync(folder).map((name) => ({ name, text: readFileSync(join(folder, name), 'utf8') }));

it('the bundled converter holds the schemas of IFC as data, and of the reader library only what builds shapes', () => {
  expect(files.filter(({ text }) => text.includes('IfcDoorStandardCase') && text.includes('JSON.parse'))).toHaveLength(
    1,
  );
  expect(files.filter(({ text }) => /class IfcDoor\b|ToRawLineData\[1\] =/.test(text)).map(({ name }) => name)).toEqual(
    [],
  );
  expect(files.filter(({ text }) => text.includes('StreamMeshes(')).length).toBeGreaterThan(0);
});

it('the bundled converter loads nothing of three, of pictures or of the reader library before it knows the file', () => {
  const loaded = new Set<string>();
  const load = (name: string): void => {
    if (loaded.has(name)) return;
    loaded.add(name);
    const { text } = files.find((file) => file.name === name)!;
    for (const [, next] of text.matchAll(/^(?:import|\} from|export .* from) ?"\.\/([^"]+)"/gm)) load(next!);
  };
  load('convert-process.mjs');
  const all = files.filter(({ name }) => loaded.has(name)).map(({ text }) => text);
  expect(files.filter(({ text }) => /require\d?\("sharp"\)/.test(text))).toHaveLength(1);
  expect(all.length).toBeGreaterThan(5);
  expect(all.join('\n')).not.toMatch(
    /require\d?\("(sharp|draco3dgltf)"\)|^\/\/ node_modules\/(three|web-ifc|meshoptimizer|joi)\b/m,
  );
});
