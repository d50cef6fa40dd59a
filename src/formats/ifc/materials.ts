import { IFCMATERIAL } from './class-codes';
import { references, text } from './ifc-line';
import type { IfcFile } from './ifc-file';

const PARTS = [
  'Materials',
  'MaterialLayers',
  'MaterialProfiles',
  'MaterialConstituents',
  'ForLayerSet',
  'ForProfileSet',
  'Material',
];

/** Materials come alone, in lists, layers, profiles or constituents, and nest; this looks through to the single ones. */
export class MaterialDefinitions {
  private readonly names = new Map<number, string>();

  constructor(private readonly file: IfcFile) {}

  /** The names within a definition, joined by “, ”; empty where it has none. */
  name(definition: number): string {
    let name = this.names.get(definition);
    if (name === undefined) {
      name = [...new Set(this.collectNames(definition, 0))].join(', ');
      this.names.set(definition, name);
    }
    return name;
  }

  /** Express ids of the single materials within a definition, outermost layer first. */
  single(definition: number, depth = 0): number[] {
    if (depth > 5) return [];
    const line = this.file.line(definition);
    if (line.type === IFCMATERIAL) return [definition];
    return PARTS.flatMap((part) => references(line, part)).flatMap((child) => this.single(child, depth + 1));
  }

  private collectNames(id: number, depth: number): string[] {
    if (depth > 5) return [];
    const line = this.file.line(id);
    if (line.type === IFCMATERIAL) return [text(line, 'Name')].filter(Boolean);
    const inner = PARTS.flatMap((part) => references(line, part)).flatMap((child) =>
      this.collectNames(child, depth + 1),
    );
    return inner.length > 0 ? inner : [text(line, 'LayerSetName') || text(line, 'Name')].filter(Boolean);
  }
}
