import { readMeeting } from '../review/meetings';
import { allComments } from '../review/comments';
import { bcfOf } from './comments-bcf';
import { asCsv, tableOf } from './comment-tables';

/** Beyond this a mail server may refuse the mail; the file is in Follow-up. */
const MOST_BYTES = 10 * 1024 * 1024;

/** What was said in a meeting, for spreadsheets and for other programs, to go along with its minutes. */
export async function meetingFiles(meetingId: string): Promise<{ name: string; bytes: Buffer; type: string }[]> {
  const { project } = await readMeeting(meetingId);
  const all = await allComments(project.id);
  const own = new Set(all.filter((comment) => comment.meetingId === meetingId && !comment.replyTo).map(({ id }) => id));
  const said = all.filter(({ id, replyTo }) => own.has(replyTo ?? id));
  if (said.length === 0) return [];
  const bcf = Buffer.from(await bcfOf(project, said));
  return [
    { name: 'comments.csv', bytes: Buffer.from(asCsv(await tableOf(project.id, said))), type: 'text/csv' },
    ...(bcf.length <= MOST_BYTES ? [{ name: 'comments.bcf', bytes: bcf, type: 'application/octet-stream' }] : []),
  ];
}
