import { isOpen, KIND_WORDS, PRIORITY_WORDS, STATUS_WORDS } from '@/core/project/comment';
import { measures } from '@/core/view/measures';
import { readView } from '@/core/view/view-state';
import type { MinutesContent, Said } from './minutes-content';
import { forPrint, MADDER, MARGIN, Paper, SOFT, type PrintedPicture } from './paper';

/** Widths of pictures on paper, in points. */
const SAID = 190;
const CARD = 150;

/** Address that opens a moment of the meeting in the Review. */
export type MomentAddress = (seq: number) => string;

/**
 * Minutes as PDF: title page with who was there from when to when; viewpoints in the order in which they were shown with what
 * was decided; what was said with picture, measures and answers; what is to be done; what is still open; pictures kept.
 */
export async function writeMinutes(content: MinutesContent, moment: MomentAddress): Promise<Buffer> {
  const { meeting, project, said } = content;
  const paper = new Paper({ title: `Minutes: ${meeting.title}`, subject: project.name });
  titlePage(paper, content);
  await viewpoints(paper, content, moment);
  const pictures = await inTwos(said, async ({ comment, pictures: more }) => ({
    own: comment.picture && (await forPrint(comment.picture, SAID)),
    more: await Promise.all(more.map(({ content: bytes }) => forPrint(bytes, SAID / 2))),
  }));
  paper.heading('What was said');
  if (said.length === 0) paper.write('No comment was made.', { color: SOFT });
  said.forEach((one, i) => thread(paper, one, pictures[i]!, moment));
  actions(paper, said);
  openQuestions(paper, said);
  await snapshots(paper, content);
  return paper.finish((page, of) => `${project.name}  ·  ${meeting.title}  ·  page ${page} of ${of}`);
}

function titlePage(paper: Paper, { meeting, project, foreword, present, revisions, said }: MinutesContent): void {
  paper.y = 150;
  paper.write('Minutes', { size: 12, color: MADDER, weight: 700 });
  paper.y += 4;
  paper.write(meeting.title, { size: 28, weight: 700 });
  paper.y += 6;
  paper.write(project.place ? `${project.name}, ${project.place}` : project.name, { size: 14 });
  const { startedAt, endedAt } = meeting;
  const end = !endedAt ? ', still going on' : day(endedAt) === day(startedAt) ? ` to ${time(endedAt)} UTC` : ` to ${when(endedAt)}`; // prettier-ignore
  paper.write(`${day(startedAt)}, ${time(startedAt)}${end}`, { size: 14, color: SOFT });
  if (foreword) {
    paper.y += 20;
    paper.write(foreword, { size: 11.5 });
  }
  const decided = said.filter(({ comment }) => comment.kind === 'decision').length;
  const toDo = said.filter(({ comment }) => comment.kind === 'action').length;
  paper.y += 16;
  paper.write(`${plural(said.length, 'comment')}, of these ${plural(decided, 'decision')} and ${plural(toDo, 'action')}. The numbers are those of the project.`, { color: SOFT }); // prettier-ignore
  paper.heading('Who was there');
  if (present.length === 0) paper.write('Nobody joined.', { color: SOFT });
  else
    paper.table(
      ['Name', 'As', 'From – to (UTC)'],
      [0.45, 0.2, 0.35],
      present.map(({ name, guest, host, stays }) => [
        name,
        host ? 'host' : guest ? 'guest' : 'designer',
        stays.map(({ from, to }) => `${time(new Date(from))} – ${to ? time(new Date(to)) : '…'}`).join('\n'),
      ]),
    );
  if (revisions.length > 0) {
    paper.heading('What was published then');
    paper.table(
      ['Model', 'Revision', 'Note', 'Approval'],
      [0.25, 0.12, 0.33, 0.3],
      revisions.map(({ model, code, note, approval }) => [model, code, note, approval ?? '–']),
    );
  }
  paper.newSheet();
}

async function viewpoints(paper: Paper, { shown }: MinutesContent, moment: MomentAddress): Promise<void> {
  paper.heading('Viewpoints shown, and what was decided');
  if (shown.length === 0) paper.write('None of the running order was shown.', { color: SOFT });
  const pictures = await inTwos(shown, async ({ card }) => card.picture && (await forPrint(card.picture, CARD)));
  shown.forEach(({ card, at, moment: seq, decisions }, i) => {
    const left = MARGIN + CARD + 14;
    const width = paper.width - CARD - 14;
    paper.need(110);
    const top = paper.y;
    const picture = pictures[i];
    const high = picture ? paper.picture(picture, MARGIN, top, CARD, 100) : 0;
    paper.write(`${i + 1}  ${card.name}`, { size: 11.5, weight: 700, x: left, width });
    paper.write(`shown at ${time(new Date(at))} UTC`, { size: 9, color: SOFT, x: left, width, link: moment(seq) });
    if (card.question) paper.write(card.question, { x: left, width });
    if (decisions.length === 0 && card.question)
      paper.write('Nothing was decided.', { size: 10, color: SOFT, x: left, width });
    for (const { comment, text, confirmedBy, moment: said } of decisions) {
      paper.y += 3;
      paper.write(`Decided, number ${comment.number}: ${text}`, { weight: 700, color: MADDER, x: left, width, ...(said !== null && { link: moment(said) }) }); // prettier-ignore
      paper.write(
        `${comment.authorName}, ${time(comment.createdAt)} UTC${confirmedBy.length > 0 ? ` · confirmed by ${confirmedBy.join(', ')}` : ' · confirmed by nobody'}`,
        { size: 9, color: SOFT, x: left, width },
      );
    }
    paper.y = Math.max(paper.y, top + high) + 14;
  });
}

interface Pictures {
  own: PrintedPicture | null;
  more: (PrintedPicture | null)[];
}

function thread(paper: Paper, one: Said, { own, more }: Pictures, moment: MomentAddress): void {
  const { comment, text, answers, files, moment: seq } = one;
  const small = more.filter((picture) => picture !== null);
  paper.need(own || small.length > 0 ? 140 : 60);
  const top = paper.y;
  const left = own ? MARGIN + SAID + 16 : MARGIN;
  const width = MARGIN + paper.width - left;
  const high = own ? paper.picture(own, MARGIN, top, SAID, 130) : 0;
  const column = { x: left, width };
  paper.write(`${comment.number}  ${comment.authorName}${comment.guest ? ', guest' : ''}`, { weight: 700, color: MADDER, ...column, ...(seq !== null && { link: moment(seq) }) }); // prettier-ignore
  paper.write(
    [KIND_WORDS[comment.kind], `${time(comment.createdAt)} UTC`, comment.elementName, STATUS_WORDS[comment.status]]
      .filter(Boolean)
      .join('  ·  '),
    { size: 9, color: SOFT, ...column },
  );
  paper.write(text, column);
  const measured = comment.view === null ? '' : measures.describe(readView(comment.view).measures, {});
  if (measured) paper.write(measured, { size: 9.5, color: SOFT, ...column });
  if (files.length > 0) paper.write(`Files: ${files.join(', ')}`, { size: 9.5, color: SOFT, ...column });
  for (const answer of answers) {
    paper.y += 3;
    paper.write(`${answer.authorName}: ${answer.text}`, { size: 9.5, color: SOFT, x: left + 10, width: width - 10 });
  }
  if (paper.y < top) return void (paper.y += 12); // it went on over the end of the sheet
  paper.y = Math.max(paper.y, top + high) + 6;
  const HALF = SAID / 2;
  for (let i = 0; i < small.length; i += 4) {
    paper.need(HALF);
    const row = paper.y;
    const heights = small.slice(i, i + 4).map((picture, at) => paper.picture(picture, MARGIN + at * (HALF + 10), row, HALF, HALF)); // prettier-ignore
    paper.y = row + Math.max(...heights) + 6;
  }
  paper.y += 8;
}

function actions(paper: Paper, said: readonly Said[]): void {
  const toDo = said.filter(({ comment }) => comment.kind === 'action');
  if (toDo.length === 0) return;
  paper.heading('What is to be done');
  paper.table(
    ['No.', 'What', 'Who', 'By', 'Priority', 'Status'],
    [0.07, 0.4, 0.19, 0.13, 0.1, 0.11],
    toDo.map(({ comment, text }) => [
      String(comment.number),
      text,
      comment.assigneeName || 'Nobody yet',
      comment.dueOn ?? '',
      PRIORITY_WORDS[comment.priority],
      STATUS_WORDS[comment.status],
    ]),
  );
}

function openQuestions(paper: Paper, said: readonly Said[]): void {
  const open = said.filter(({ comment }) => comment.kind === 'question' && isOpen(comment));
  if (open.length === 0) return;
  paper.heading('Questions still open');
  for (const { comment, text } of open) {
    paper.write(`${comment.number}  ${text}`);
    paper.y += 3;
  }
}

async function snapshots(paper: Paper, { snapshots: taken }: MinutesContent): Promise<void> {
  if (taken.length === 0) return;
  paper.heading('Pictures taken');
  const HALF = (paper.width - 12) / 2;
  const HEIGHT = HALF * 0.66;
  const pictures = await inTwos(taken, ({ picture }) => forPrint(picture, HALF));
  for (let i = 0; i < taken.length; i += 2) {
    paper.need(HEIGHT + 24);
    const top = paper.y;
    taken.slice(i, i + 2).forEach((one, column) => {
      const x = MARGIN + column * (HALF + 12);
      const picture = pictures[i + column];
      if (picture) paper.picture(picture, x, top, HALF, HEIGHT);
      paper.y = top + HEIGHT + 4;
      paper.write(one.name, { size: 9.5, weight: 700, x, width: HALF, lines: 1 });
    });
    paper.y = top + HEIGHT + 24;
  }
}

/** Does something with each, two at a time: pictures are made in threads of their own. */
async function inTwos<T, R>(items: readonly T[], work: (item: T) => Promise<R>): Promise<R[]> {
  const results: R[] = [];
  for (let i = 0; i < items.length; i += 2) results.push(...(await Promise.all(items.slice(i, i + 2).map(work))));
  return results;
}

function plural(count: number, word: string): string {
  return `${count === 0 ? 'no' : count} ${word}${count === 1 ? '' : 's'}`;
}

function day(instant: Date): string {
  return instant.toISOString().slice(0, 10);
}

function time(instant: Date): string {
  return instant.toISOString().slice(11, 16);
}

function when(instant: Date): string {
  return `${day(instant)}, ${time(instant)} UTC`;
}
