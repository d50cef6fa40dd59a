import PDFDocument from 'pdfkit';
import {
  drawingBounds,
  groundGrey,
  PENS,
  scaleBarLength,
  titleWords,
  type Drawing,
  type DrawingTitle,
} from '@/core/drawing/drawing';
import { hatchLines } from '@/core/drawing/hatch-lines';
import { hatchOf } from '@/core/section/hatch';
import type { Path } from '@/core/section/path';

/** Points to a millimetre. */
const MM = 72 / 25.4;
const MARGIN = 12;
const TITLE = 20;
/** Sheets after ISO 216, landscape: width and height in millimetres. */
const SHEETS = [
  [297, 210],
  [420, 297],
  [594, 420],
  [841, 594],
  [1189, 841],
] as const;

/** A drawing as PDF at a true scale, on the smallest sheet that holds it; on one of its own size beyond A0. */
export async function drawingPdf(drawing: Drawing, title: DrawingTitle, scale: number): Promise<Buffer> {
  const bounds = drawingBounds(drawing) ?? [0, 0, 1, 1];
  const mm = 1000 / scale;
  const [width, height] = [
    (bounds[2] - bounds[0]) * mm + 2 * MARGIN,
    (bounds[3] - bounds[1]) * mm + 2 * MARGIN + TITLE,
  ];
  const sheet = SHEETS.find(([w, h]) => width <= w && height <= h) ?? [Math.ceil(width), Math.ceil(height)];
  const pdf = new PDFDocument({
    size: [sheet[0] * MM, sheet[1] * MM],
    margin: 0,
    info: { Title: title.title, Creator: 'Yurta' },
  });
  const whole = new Promise<Buffer>((done, fail) => {
    const chunks: Buffer[] = [];
    pdf.on('data', (chunk: Buffer) => chunks.push(chunk));
    pdf.on('end', () => done(Buffer.concat(chunks)));
    pdf.on('error', fail);
  });
  const x = (at: number) => ((at - bounds[0]) * mm + (sheet[0] - (bounds[2] - bounds[0]) * mm) / 2) * MM;
  const y = (at: number) => ((bounds[3] - at) * mm + MARGIN) * MM;
  const trace = (path: Path, isLoop: boolean) => {
    for (let at = 0; at < path.length; at += 2)
      if (at === 0) pdf.moveTo(x(path[0]!), y(path[1]!));
      else pdf.lineTo(x(path[at]!), y(path[at + 1]!));
    if (isLoop) pdf.closePath();
  };
  for (const { category, material, regions, lines } of drawing.elements) {
    const hatch = hatchOf(material, category);
    const grey = groundGrey(hatch.tone);
    for (const region of regions) {
      for (const path of [region.border, ...region.holes]) trace(path, true);
      pdf.fillColor([grey, grey, grey]).fill('even-odd');
      const strokes = hatchLines(region, hatch);
      for (const [x1, y1, x2, y2] of strokes) pdf.moveTo(x(x1), y(y1)).lineTo(x(x2), y(y2));
      if (strokes.length > 0)
        pdf
          .lineWidth(PENS.hatch * MM)
          .strokeColor('#26231f')
          .stroke();
      for (const path of [region.border, ...region.holes]) trace(path, true);
      pdf
        .lineWidth(PENS.cut * MM)
        .lineJoin('round')
        .strokeColor('#26231f')
        .stroke();
    }
    for (const line of lines) trace(line, false);
    if (lines.length > 0)
      pdf
        .lineWidth(PENS.open * MM)
        .strokeColor('#26231f')
        .stroke();
  }
  const bar = scaleBarLength(bounds[2] - bounds[0]);
  const base = (sheet[1] - MARGIN) * MM;
  const left = MARGIN * MM;
  pdf
    .moveTo(left, base - 16)
    .lineTo(left, base - 20)
    .moveTo(left, base - 18)
    .lineTo(left + bar * mm * MM, base - 18);
  pdf.moveTo(left + bar * mm * MM, base - 16).lineTo(left + bar * mm * MM, base - 20);
  pdf
    .lineWidth(PENS.bar * MM)
    .strokeColor('#26231f')
    .stroke();
  pdf.fillColor('#26231f').fontSize(9);
  pdf.text(`${bar} m`, left + bar * mm * MM + 6, base - 22, { lineBreak: false });
  const words = titleWords(title, scale).join('    ');
  pdf.text(words, left, base - 10, { lineBreak: false });
  pdf.end();
  return whole;
}
