import PDFDocument from 'pdfkit';
import sharp from 'sharp';
import { Typesetter, type TextStyle } from './typeset';

export const INK = '#26231F';
export const SOFT = '#6A6257';
export const MADDER = '#9C3B2E';
const SEAM = '#D6CAB5';
export const MARGIN = 56;
/** Where the last line above the footer ends, from the lower edge. */
const FOOT = 64;
/** Pixels to a point of paper: 216 to an inch. */
const FINENESS = 3;

interface Written extends Partial<TextStyle> {
  color?: string;
  x?: number;
  y?: number;
  width?: number;
  /** Address that opens when it is pressed. */
  link?: string;
  /** At most so many lines; more end in an ellipsis. */
  lines?: number;
}

/** Sheets of A4 that are filled from above; what does not fit goes on the next one. */
export class Paper {
  readonly width: number;
  readonly bottom: number;
  /** Where the next thing goes, in points from the upper edge. */
  y = MARGIN;
  private readonly document: PDFKit.PDFDocument;
  private readonly type: Typesetter;
  private readonly whole: Promise<Buffer>;

  constructor(info: { title: string; subject: string; language?: string }) {
    this.document = new PDFDocument({
      size: 'A4',
      margin: 0, // everything is placed by hand
      bufferPages: true,
      lang: info.language ?? 'en',
      info: { Title: info.title, Subject: info.subject, Creator: 'Yurta' },
    });
    this.width = this.document.page.width - 2 * MARGIN;
    this.bottom = this.document.page.height - FOOT;
    this.type = new Typesetter(this.document);
    this.whole = new Promise<Buffer>((done, fail) => {
      const chunks: Buffer[] = [];
      this.document.on('data', (chunk: Buffer) => chunks.push(chunk));
      this.document.on('end', () => done(Buffer.concat(chunks)));
      this.document.on('error', fail);
    });
  }

  /** Begins a new sheet unless there is so much room, in points. Returns whether it did. */
  need(height: number): boolean {
    if (this.y + height <= this.bottom) return false;
    this.newSheet();
    return true;
  }

  newSheet(): void {
    this.document.addPage();
    this.y = MARGIN;
  }

  /** Writes text below what is there, over sheets if need be, and goes on below it. */
  write(
    text: string,
    { size = 10.5, weight = 400, color = INK, x = MARGIN, width = this.width, lines: most, link }: Written = {},
  ): void {
    const style = { size, weight };
    const step = this.type.height(1, style);
    let lines = this.type.lines(text, width, style);
    if (most !== undefined && lines.length > most) lines = this.cut(text, width, style, most);
    for (const line of lines) {
      this.need(step);
      this.document.fillColor(color);
      this.type.draw(line, x, this.y, width, style);
      if (link) this.document.link(line.isRightToLeft ? x + width - line.width : x, this.y, line.width, step, link);
      this.y += step;
    }
  }

  /** How high text becomes, in points. */
  heightOf(text: string, { size = 10.5, weight = 400, width = this.width }: Written = {}): number {
    const style = { size, weight };
    return this.type.height(this.type.lines(text, width, style).length, style);
  }

  heading(text: string): void {
    this.need(90);
    this.y += 16;
    this.write(text, { size: 14, weight: 700 });
    this.rule();
    this.y += 8;
  }

  rule(): void {
    this.document
      .moveTo(MARGIN, this.y + 2)
      .lineTo(MARGIN + this.width, this.y + 2)
      .lineWidth(0.7)
      .strokeColor(SEAM)
      .stroke();
    this.y += 4;
  }

  /** A table with a head that is repeated on every sheet. @param shares of the width of its columns */
  table(head: readonly string[], shares: readonly number[], rows: readonly (readonly string[])[]): void {
    const GAP = 10;
    const starts = shares.map(
      (_, i) => MARGIN + shares.slice(0, i).reduce((sum, share) => sum + share, 0) * this.width,
    );
    const cells = (texts: readonly string[], style: Written) => {
      const top = this.y;
      let end = top;
      texts.forEach((text, i) => {
        this.y = top;
        this.write(text, { ...style, x: starts[i]!, width: shares[i]! * this.width - GAP });
        end = Math.max(end, this.y);
      });
      this.y = end + 3;
    };
    const writeHead = () => {
      cells(head, { size: 9, weight: 700, color: SOFT });
      this.rule();
    };
    this.need(60);
    writeHead();
    for (const row of rows) {
      const height = Math.max(...row.map((text, i) => this.heightOf(text, { size: 10, width: shares[i]! * this.width - GAP }))); // prettier-ignore
      if (this.need(Math.min(height + 3, this.bottom - MARGIN - 40))) writeHead();
      cells(row, { size: 10 });
    }
  }

  /** Puts a picture there, as large as it fits. Returns its height in points. */
  picture(picture: PrintedPicture, x: number, y: number, width: number, height: number): number {
    const scale = Math.min(width / picture.width, height / picture.height);
    this.document.image(picture.bytes, x, y, { width: picture.width * scale, height: picture.height * scale });
    return picture.height * scale;
  }

  /** Writes a line at the foot of every sheet and hands out the whole. */
  async finish(foot: (page: number, of: number) => string): Promise<Buffer> {
    const { count } = this.document.bufferedPageRange();
    for (let page = 0; page < count; page++) {
      this.document.switchToPage(page);
      const [line] = this.type.lines(foot(page + 1, count), this.width, { size: 8.5 });
      this.document.fillColor(SOFT);
      this.type.draw(line!, MARGIN, this.document.page.height - 38, this.width, { size: 8.5 });
    }
    this.document.end();
    return this.whole;
  }

  private cut(text: string, width: number, style: TextStyle, most: number) {
    const letters = [...text];
    let shown = letters.length;
    let lines = this.type.lines(text, width, style);
    while (lines.length > most && shown > 0) {
      shown = Math.floor(shown * 0.85);
      lines = this.type.lines(`${letters.slice(0, shown).join('').trimEnd()} …`, width, style);
    }
    return lines;
  }
}

/** A picture as fine as paper shows it. */
export interface PrintedPicture {
  bytes: Buffer;
  width: number;
  height: number;
}

/** Makes a picture as fine as so many points of paper show it; null where it cannot be read. @param width in points */
export async function forPrint(picture: Buffer, width: number): Promise<PrintedPicture | null> {
  try {
    const { data, info } = await sharp(picture)
      .resize({
        width: Math.round(width * FINENESS),
        height: Math.round(width * FINENESS),
        fit: 'inside',
        withoutEnlargement: true,
      }) // prettier-ignore
      .flatten({ background: '#FFFFFF' })
      .jpeg({ quality: 80 })
      .toBuffer({ resolveWithObject: true });
    return { bytes: data, width: info.width, height: info.height };
  } catch (error) {
    process.stderr.write(
      `a picture is left out of minutes: ${error instanceof Error ? error.message : String(error)}\n`,
    );
    return null;
  }
}
