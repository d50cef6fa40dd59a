import { readFileSync } from 'node:fs';
import type { ModelBuilder } from './model-builder';
import { findPart, type SourceFile } from './source-file';

/**
 * Finds the pictures that a file names among the parts that came along with it.
 *
 * @returns a function from the name in the file to the picture's index in the model; a picture that did not come along
 * gives none, and is reported once
 */
export function pictureParts(builder: ModelBuilder, source: SourceFile): (name: string) => number | undefined {
  const known = new Map<string, number | undefined>();
  return (name) => {
    if (known.has(name)) return known.get(name);
    const path = findPart(source, name);
    if (!path)
      builder.model.warnings.push({
        reason: `the picture “${name.slice(0, 120)}” did not come along, so its surfaces show one plain colour`,
      });
    const index = path === null ? undefined : builder.texture(name, readFileSync(path));
    known.set(name, index);
    return index;
  };
}
