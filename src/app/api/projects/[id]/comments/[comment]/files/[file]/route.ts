import { detach, readAttachment } from '@/server/review/attachments';
import { answering } from '../../../../../../answering';

/** Only pictures are shown; everything else is handed over as a file, and nothing in it can act as a page of ours. */
export const GET = answering(async ({ actor, params }) => {
  const { content, type, name } = await readAttachment(actor, params.id!, params.comment!, params.file!);
  const isPicture = type.startsWith('image/');
  return new Response(new Uint8Array(content), {
    headers: {
      'Content-Type': type,
      'Content-Disposition': `${isPicture ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(name)}`,
      'Content-Security-Policy': "sandbox; default-src 'none'",
      'Cache-Control': 'private, max-age=31536000, immutable',
    },
  });
});

export const DELETE = answering(({ actor, params }) => detach(actor, params.id!, params.comment!, params.file!));
