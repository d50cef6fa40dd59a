import { commentsCsv } from '@/server/exchange/comment-tables';
import { answering } from '../../../answering';

export const GET = answering(
  async ({ actor, params }) =>
    new Response(await commentsCsv(actor, params.id!), {
      headers: {
        'Content-Type': 'text/csv; charset=utf-8',
        'Content-Disposition': 'attachment; filename="comments.csv"',
      },
    }),
);
