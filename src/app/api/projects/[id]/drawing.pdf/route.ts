import { readPlainDrawing } from '@/core/drawing/plain-drawing';
import { sheetOrderSchema } from '@/core/drawing/plain-drawing-schema';
import { authorise } from '@/server/access/access';
import { drawingPdf } from '@/server/drawings/pdf';
import { answering, readBody } from '../../../answering';

const MOST_BYTES = 24 * 1024 * 1024;

/** A flat drawing as PDF at a true scale. It is drawn of what is sent: what somebody sees is theirs to draw. */
export const POST = answering(async ({ request, actor, params }) => {
  await authorise(actor, params.id!, 'project.read');
  const { drawing, title, scale } = await readBody(request, sheetOrderSchema, {
    most: MOST_BYTES,
    tooLarge: 'The drawing is too large for one sheet. Cut a smaller part of the model.',
  });
  const pdf = await drawingPdf(readPlainDrawing(drawing), title, scale);
  return new Response(new Uint8Array(pdf), { headers: { 'Content-Type': 'application/pdf' } });
});
