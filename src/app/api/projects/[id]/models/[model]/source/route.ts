import { newestSource } from '@/server/projects/take-along';
import { answering } from '../../../../../answering';

/** The file that a model's newest revision was published from. */
export const GET = answering(async ({ actor, params }) => {
  const { fileName, bytes } = await newestSource(actor, params.id!, params.model!);
  return new Response(new Uint8Array(bytes), {
    headers: {
      'Content-Type': 'application/octet-stream',
      'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(fileName)}`,
      'Cache-Control': 'private, no-store',
      'X-Content-Type-Options': 'nosniff',
    },
  });
});
