import { meetingMinutes } from '@/server/minutes/minutes';
import { answering } from '../../../answering';

export const GET = answering(async ({ actor, params }) => {
  const { fileName, pdf } = await meetingMinutes(actor, params.id!);
  return new Response(new Uint8Array(pdf), {
    headers: { 'Content-Type': 'application/pdf', 'Content-Disposition': `inline; filename="${fileName}"` },
  });
});
