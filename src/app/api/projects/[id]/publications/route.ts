import { requestPublication } from '@/server/publishing/publishing';
import { withUpload } from '@/server/publishing/uploads';
import { answering, readBody } from '../../../answering';
import { publicationSchema } from '../../../description';

/** Publishes a finished upload as a model's next revision, or as a new model. */
export const POST = answering(async ({ request, actor, params }) => {
  const { uploadId, ...rest } = await readBody(request, publicationSchema);
  const revisionId = await withUpload(actor, uploadId, (upload) =>
    requestPublication(actor, { ...rest, ...upload, projectId: params.id! }),
  );
  return { revisionId };
});
