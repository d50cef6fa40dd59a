import { commentsXlsx } from '@/server/exchange/comment-tables';
import { answering } from '../../../answering';

export const GET = answering(async ({ actor, params }) => {
  const file = await commentsXlsx(actor, params.id!);
  return new Response(new Uint8Array(file), {
    headers: {
      'Content-Type': 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      'Content-Disposition': 'attachment; filename="comments.xlsx"',
    },
  });
});
