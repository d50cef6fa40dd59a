import { readdirSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import { readXmlTree } from '../xml/xml-tree';

/** What the relationship is called that leads to the model (3MF core specification, 2.1). */
const MODEL = '/3dmanufacturing/2013/01/3dmodel';
/** Where the model mostly lies. */
const USUAL = '3D/3dmodel.model';

/** The parts of an unpacked package: their names are the same in whatever case (ECMA-376 part 2, Open Packaging Conventions). */
export class PackageParts {
  private readonly files: Map<string, string>;

  constructor(folder: string) {
    const files = readdirSync(folder, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile());
    this.files = new Map(
      files
        .map((entry) => join(entry.parentPath, entry.name))
        .map((path) => [keyOf(relative(folder, path).split(sep).join('/')), path]),
    );
  }

  /** Where a part lies; null if the package has none of the name. */
  path(name: string): string | null {
    return this.files.get(keyOf(name)) ?? null;
  }

  /** Where the model lies of a 3MF package; null if it is none. */
  async model(): Promise<string | null> {
    const relationships = this.path('_rels/.rels');
    if (!relationships) return this.path(USUAL);
    const tree = await readXmlTree(relationships).catch(() => null); // damaged, it may be any archive
    const named = tree?.all('Relationship').find(({ attributes }) => attributes.Type?.endsWith(MODEL));
    return this.path(named?.attributes.Target ?? USUAL);
  }
}

/** Blanks may be written as they are or as in addresses. */
function keyOf(name: string): string {
  return name.replace(/^\//, '').replaceAll('%20', ' ').toLowerCase();
}
