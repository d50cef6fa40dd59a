/** How the inside of a cut is drawn: lines in up to two directions, as in drawings. */
export interface Hatch {
  name: string;
  /** Angles of the lines, degrees against the clock from level; none for a plain fill. */
  angles: readonly number[];
  /** Metres between lines. */
  spacing: number;
  /** How dark the ground is, 0 paper, 1 ink. */
  tone: number;
}

/** After ISO 128-3 and the usage of building drawings: the words by which a material is told, and its hatch. */
const HATCHES: readonly { words: RegExp; hatch: Hatch }[] = [
  hatch('insulation', /insul|wool|eps|xps|dämm|isolat|foam/i, [60, -60], 0.06, 0.02),
  hatch('glass', /glass|glas|verre|glazing/i, [], 1, 0.08),
  hatch('metal', /steel|metal|alumin|zinc|copper|iron|stahl|acier|lead/i, [], 1, 0.82),
  hatch('timber', /timber|wood|oak|larch|spruce|pine|beech|birch|ply|clt|glulam|holz|bois|veneer/i, [-45], 0.05, 0.04),
  hatch('masonry', /brick|masonry|block|clay|ziegel|brique|limestone|adobe|rammed/i, [45], 0.07, 0.06),
  hatch('concrete', /concrete|cement|screed|beton|béton|mortar|terrazzo/i, [45], 0.14, 0.18),
  hatch('stone', /stone|granite|marble|slate|gravel|stein|pierre/i, [30, -30], 0.16, 0.08),
  hatch('earth', /earth|soil|ground|grass|lawn|sand|fill|erde|terre/i, [75, -15], 0.2, 0.16),
  hatch('board', /plaster|gypsum|board|render|putz|plâtre/i, [], 1, 0.1),
];

const PLAIN: Hatch = { name: 'plain', angles: [45], spacing: 0.1, tone: 0.05 };

function hatch(name: string, words: RegExp, angles: number[], spacing: number, tone: number) {
  return { words, hatch: { name, angles, spacing, tone } };
}

/** The hatch of an element by its material; where that says nothing, by its category. */
export function hatchOf(material: string, category: string): Hatch {
  const known = (text: string) => HATCHES.find(({ words }) => words.test(text))?.hatch;
  return known(material) ?? known(category) ?? PLAIN;
}
