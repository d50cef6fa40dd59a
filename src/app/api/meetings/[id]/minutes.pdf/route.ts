import { meetingMinutes } from '@/server/minutes';
import { notFound } from '@/server/problems';
import { answering } from '../../../answering';

export const GET = answering(async ({ actor, params }) => {
  if (!/^[0-9a-f-]{36}$/.test(params.id!)) throw notFound('The meeting');
  const { fileName, pdf } = await meetingMinutes(actor, params.id!);
  return new Response(new Uint8Array(pdf), {
    headers: { 'Content-Type': 'application/pdf', 'Content-Disposition': `inline; filename="${fileName}"` },
  });
});
