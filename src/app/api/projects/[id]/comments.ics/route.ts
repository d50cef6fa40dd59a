import { commentsIcs } from '@/server/exchange/comment-tables';
import { answering } from '../../../answering';

export const GET = answering(
  async ({ actor, params }) =>
    new Response(await commentsIcs(actor, params.id!), {
      headers: {
        'Content-Type': 'text/calendar; charset=utf-8',
        'Content-Disposition': 'attachment; filename="due.ics"',
      },
    }),
);
