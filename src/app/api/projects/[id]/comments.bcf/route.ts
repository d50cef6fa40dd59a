import { commentsBcf } from '@/server/exchange/comments-bcf';
import { answering } from '../../../answering';

/** All comments, or those whose ids are named, apart by commas. */
export const GET = answering(async ({ request, actor, params }) => {
  const ids = new URL(request.url).searchParams.get('ids');
  const file = await commentsBcf(actor, params.id!, ids === null ? null : ids.split(','));
  return new Response(new Uint8Array(file), {
    headers: {
      'Content-Type': 'application/octet-stream',
      'Content-Disposition': 'attachment; filename="comments.bcf"',
    },
  });
});
