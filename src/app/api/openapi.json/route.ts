import { answeringAnyone, originOf } from '../answering';
import { openApiDocument } from '../description';

/** The description of the HTTP interface, for programs that read such documents. */
export const GET = answeringAnyone(async (request) => openApiDocument(originOf(request)));
