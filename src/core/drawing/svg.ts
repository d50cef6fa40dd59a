import { hatchOf } from '../section/hatch';
import type { Path } from '../section/path';
import {
  drawingBounds,
  groundGrey,
  PENS,
  scaleBarLength,
  titleWords,
  type Drawing,
  type DrawingTitle,
} from './drawing';
import { hatchLines } from './hatch-lines';

/** Millimetres on paper: around the drawing, and for the title under it. */
const MARGIN = 10;
const TITLE = 18;
/** A drawing as SVG at a true scale: user units are millimetres on paper. @param scale 100 for 1:100 */
export function drawingSvg(drawing: Drawing, title: DrawingTitle, scale: number): string {
  const bounds = drawingBounds(drawing) ?? [0, 0, 1, 1];
  const mm = 1000 / scale;
  const width = round((bounds[2] - bounds[0]) * mm + 2 * MARGIN);
  const height = round((bounds[3] - bounds[1]) * mm + 2 * MARGIN + TITLE);
  const x = (at: number) => round((at - bounds[0]) * mm + MARGIN);
  const y = (at: number) => round((bounds[3] - at) * mm + MARGIN);
  const loop = (path: Path) => `M${places(path, x, y)}Z`;
  const parts = drawing.elements.map(({ guid, name, category, material, regions, lines }) => {
    const hatch = hatchOf(material, category);
    const fill = regions.map(({ border, holes }) => [border, ...holes].map(loop).join('')).join('');
    const strokes = regions.flatMap((region) => hatchLines(region, hatch));
    const strokesPath = strokes.map(([x1, y1, x2, y2]) => `M${x(x1)} ${y(y1)}L${x(x2)} ${y(y2)}`).join('');
    const open = lines.map((line) => `M${places(line, x, y)}`).join('');
    return [
      `<g data-guid="${escape(guid)}" data-category="${escape(category)}" data-material="${escape(material)}">`,
      `<title>${escape(name)}</title>`,
      fill &&
        `<path d="${fill}" fill="${grey(hatch.tone)}" fill-rule="evenodd" stroke="#26231f" stroke-width="${PENS.cut}" stroke-linejoin="round"/>`,
      strokesPath && `<path d="${strokesPath}" fill="none" stroke="#26231f" stroke-width="${PENS.hatch}"/>`,
      open && `<path d="${open}" fill="none" stroke="#26231f" stroke-width="${PENS.open}"/>`,
      '</g>',
    ]
      .filter(Boolean)
      .join('');
  });
  const bar = scaleBarLength(bounds[2] - bounds[0]);
  const base = height - MARGIN;
  const words = titleWords(title, scale).join('   ');
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 0 ${width} ${height}">
<rect width="100%" height="100%" fill="#fff"/>
${parts.join('\n')}
<g stroke="#26231f" stroke-width="${PENS.bar}"><path d="M${MARGIN} ${base - 6}v-2m0 1h${round(bar * mm)}m0 -1v2" fill="none"/></g>
<g font-family="sans-serif" font-size="3" fill="#26231f"><text x="${round(MARGIN + bar * mm + 2)}" y="${base - 6}">${bar} m</text><text x="${MARGIN}" y="${base}">${escape(words)}</text></g>
</svg>
`;
}

function places(path: Path, x: (at: number) => number, y: (at: number) => number): string {
  const out: string[] = [];
  for (let at = 0; at < path.length; at += 2) out.push(`${x(path[at]!)} ${y(path[at + 1]!)}`);
  return out.join('L');
}

/** Hundredths of a millimetre on paper. */
function round(value: number): number {
  return Math.round(value * 100) / 100;
}

function grey(tone: number): string {
  const part = groundGrey(tone);
  return `rgb(${part},${part},${part})`;
}

function escape(text: string): string {
  return text.replace(/[&<>"]/g, (one) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[one]!);
}
