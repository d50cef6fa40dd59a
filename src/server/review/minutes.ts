import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { and, eq, gte, inArray, isNull, lte } from 'drizzle-orm';
import { isOpen, KIND_WORDS, STATUS_WORDS } from '@/core/project/comment';
import sharp from 'sharp';
import PDFDocument from 'pdfkit';
import { db } from '@/db/database';
import { comments, snapshots, viewpoints } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { meetingState } from './meeting-log';
import { readMeeting } from './meetings';

const INK = '#26231F';
const SOFT = '#6A6257';
const MADDER = '#9C3B2E';
const SEAM = '#D6CAB5';
const MARGIN = 56;

function font(weight: 400 | 700): Buffer {
  return readFileSync(
    join(
      process.env.YURTA_HOME ?? process.cwd(),
      'node_modules/@fontsource/atkinson-hyperlegible/files',
      `atkinson-hyperlegible-latin-${weight}-normal.woff`,
    ),
  );
}

/** @see makeMinutes */
export async function meetingMinutes(actor: Actor, meetingId: string): Promise<{ fileName: string; pdf: Buffer }> {
  const { project } = await readMeeting(meetingId);
  await authorise(actor, project.id, 'minutes.read');
  return makeMinutes(meetingId);
}

/**
 * The minutes of a meeting as PDF: project, date, who was there, viewpoints shown, each comment with its picture, what is to be
 * done by whom, and the pictures kept meanwhile.
 */
export async function makeMinutes(meetingId: string): Promise<{ fileName: string; pdf: Buffer }> {
  const { meeting, project } = await readMeeting(meetingId);
  const state = await meetingState(meetingId);
  const shown =
    state.shown.length > 0 ? await db().select().from(viewpoints).where(inArray(viewpoints.id, state.shown)) : [];
  const taken = await db()
    .select()
    .from(snapshots)
    .where(
      and(
        eq(snapshots.projectId, project.id),
        gte(snapshots.createdAt, meeting.startedAt),
        lte(snapshots.createdAt, meeting.endedAt ?? new Date()),
      ),
    )
    .orderBy(snapshots.createdAt);
  const said = await db()
    .select()
    .from(comments)
    .where(and(eq(comments.meetingId, meetingId), isNull(comments.deletedAt)))
    .orderBy(comments.createdAt);

  const document = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    bufferPages: true,
    info: { Title: `Minutes: ${meeting.title}`, Author: 'Yurta', Subject: project.name },
  });
  document.registerFont('text', font(400)).registerFont('strong', font(700));
  const chunks: Buffer[] = [];
  document.on('data', (chunk: Buffer) => chunks.push(chunk));
  const finished = new Promise<void>((done) => document.on('end', done));
  const width = document.page.width - 2 * MARGIN;

  const heading = (text: string) => {
    if (document.y > document.page.height - 160) document.addPage();
    document.moveDown(1.2).font('strong').fontSize(13).fillColor(INK).text(text, MARGIN);
    document
      .moveTo(MARGIN, document.y + 3)
      .lineTo(MARGIN + width, document.y + 3)
      .lineWidth(0.7)
      .strokeColor(SEAM)
      .stroke();
    document.moveDown(0.6);
  };
  const line = (text: string, color = INK) =>
    document.font('text').fontSize(10.5).fillColor(color).text(text, MARGIN, undefined, { width });

  document
    .font('text')
    .fontSize(10)
    .fillColor(SOFT)
    .text(project.place ? `${project.name}, ${project.place}` : project.name);
  document.font('strong').fontSize(22).fillColor(INK).text(meeting.title);
  line(
    `${when(meeting.startedAt)}${meeting.endedAt ? ` to ${meeting.endedAt.toISOString().slice(11, 16)} UTC` : ', still going on'}`,
    SOFT,
  );

  heading('Who was there');
  for (const person of state.participants)
    line(`${person.name}${person.guest ? ', guest' : ''}${person.host ? ', host' : ''}`);
  if (state.participants.length === 0) line('Nobody joined.', SOFT);

  heading('Viewpoints shown');
  const cards = state.shown.flatMap((id) => shown.find((row) => row.id === id) ?? []);
  if (cards.length === 0) line('None of the running order was shown.', SOFT);
  const CARD = (width - 24) / 3;
  for (let i = 0; i < cards.length; i += 3) {
    if (document.y > document.page.height - MARGIN - CARD * 0.7 - 24) document.addPage();
    const top = document.y;
    cards.slice(i, i + 3).forEach((card, column) => {
      const x = MARGIN + column * (CARD + 12);
      if (card.picture) document.image(card.picture, x, top, { fit: [CARD, CARD * 0.625], align: 'center' });
      document
        .font('strong')
        .fontSize(9.5)
        .fillColor(INK)
        .text(`${i + column + 1}  ${card.name}`, x, top + CARD * 0.625 + 4, {
          width: CARD,
          height: 13,
          ellipsis: true,
        });
    });
    document.y = top + CARD * 0.625 + 24;
  }

  heading('What was said');
  const threads = said.filter((comment) => !comment.replyTo);
  if (threads.length === 0) line('No comment was made.', SOFT);
  for (const comment of threads) {
    const PICTURE = 190;
    if (document.y > document.page.height - MARGIN - 140) document.addPage();
    const top = document.y;
    const left = comment.picture ? MARGIN + PICTURE + 16 : MARGIN;
    const room = MARGIN + width - left;
    if (comment.picture) document.image(comment.picture, MARGIN, top, { fit: [PICTURE, 125] });
    document
      .font('strong')
      .fontSize(10.5)
      .fillColor(MADDER)
      .text(`${comment.number}  ${comment.authorName}${comment.guest ? ', guest' : ''}`, left, top, { width: room });
    document
      .font('text')
      .fontSize(9)
      .fillColor(SOFT)
      .text(
        [KIND_WORDS[comment.kind], when(comment.createdAt), comment.elementName, STATUS_WORDS[comment.status]]
          .filter(Boolean)
          .join('  ·  '),
        { width: room },
      );
    document.font('text').fontSize(10.5).fillColor(INK).text(comment.text, { width: room });
    for (const reply of said.filter((other) => other.replyTo === comment.id)) {
      document
        .font('text')
        .fontSize(9.5)
        .fillColor(SOFT)
        .text(`${reply.authorName}: ${reply.text}`, left + 10, document.y + 3, { width: room - 10 });
    }
    document.y = Math.max(document.y, comment.picture ? top + 130 : top) + 12;
  }

  const toDo = threads.filter(({ kind, status }) => kind === 'action' && isOpen({ status }));
  if (toDo.length > 0) heading('To be done');
  for (const { number, text, assigneeName, dueOn } of toDo) {
    document.font('strong').fontSize(10.5).fillColor(INK).text(`${number}  ${assigneeName || 'Nobody yet'}`, MARGIN, undefined, { width, continued: true }); // prettier-ignore
    document
      .font('text')
      .fillColor(SOFT)
      .text(dueOn ? `, by ${dueOn}: ` : ': ', { continued: true });
    document.fillColor(INK).text(text);
  }

  if (taken.length > 0) heading('Pictures taken');
  const HALF = (width - 12) / 2;
  for (let i = 0; i < taken.length; i += 2) {
    const HEIGHT = HALF * 0.66;
    if (document.y > document.page.height - MARGIN - HEIGHT - 24) document.addPage();
    const top = document.y;
    for (const [column, one] of taken.slice(i, i + 2).entries()) {
      const x = MARGIN + column * (HALF + 12);
      document.image(await forPrint(one.picture), x, top, { fit: [HALF, HEIGHT], align: 'center' });
      document
        .font('strong')
        .fontSize(9.5)
        .fillColor(INK)
        .text(one.name, x, top + HEIGHT + 4, { width: HALF, height: 13, ellipsis: true });
    }
    document.y = top + HEIGHT + 24;
  }

  const pages = document.bufferedPageRange();
  for (let page = 0; page < pages.count; page++) {
    document.switchToPage(page);
    document.page.margins.bottom = 0; // the footer stands in the margin; without this pdfkit would start a page for it
    document
      .font('text')
      .fontSize(8.5)
      .fillColor(SOFT)
      .text(
        `${project.name}  ·  ${meeting.title}  ·  page ${page + 1} of ${pages.count}`,
        MARGIN,
        document.page.height - 36,
        { width, align: 'center', lineBreak: false },
      );
  }
  document.end();
  await finished;
  return { fileName: `minutes-${meeting.startedAt.toISOString().slice(0, 10)}.pdf`, pdf: Buffer.concat(chunks) };
}

/** As fine as paper of half its width shows. */
function forPrint(picture: Buffer): Promise<Buffer> {
  return sharp(picture).resize({ width: 1200, withoutEnlargement: true }).jpeg({ quality: 85 }).toBuffer();
}

function when(instant: Date): string {
  return `${instant.toISOString().slice(0, 10)}, ${instant.toISOString().slice(11, 16)} UTC`;
}
