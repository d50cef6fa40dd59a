import Joi from 'joi';
import parse from 'joi-to-json';
import { JOB_FILTERS } from '@/core/jobs/job';
import { INTENTS, type PublishIntent } from '@/core/project/publish-settings';
import { REVISION_STATES } from '@/core/project/models';
import { id, nothing, time } from './described-values';
import { FOLLOW_UP_OPERATIONS } from './follow-up-operations';

/** What a program may ask of Yurta over HTTP. The routes check by these schemas; the OpenAPI document is made of them. */

export const publicationSchema = Joi.object<{
  uploadId: string;
  modelId?: string;
  modelName?: string;
  discipline?: string;
  note: string;
  intent: PublishIntent;
}>({
  uploadId: Joi.string().hex().max(64).required().description('The last part of the address of a finished upload.'),
  modelId: id.description('The model whose next revision this is. Without it, a new model is made.'),
  modelName: Joi.string().min(1).max(120).label('the model’s name').description('Name of a new model.'),
  discipline: Joi.string().min(1).max(60).label('the discipline').description('Discipline of a new model.'),
  intent: Joi.string()
    .valid(...INTENTS)
    .default('publish')
    .description('Whether to publish as soon as the file is read, or to wait until somebody has looked at it.'),
  note: Joi.string().allow('').max(500).default('').label('the note').description('What is new.'),
});

const revisionSchema = Joi.object({
  id: id.required(),
  code: Joi.string().allow(null).required().description('P01, P02, …; null until published.'),
  state: Joi.string()
    .valid(...REVISION_STATES)
    .required(),
  files: Joi.string()
    .allow(null)
    .required()
    .description('Where its files are served: tileset.json (3D Tiles 1.1), elements.json, report.json, preview.png.'),
  note: Joi.string().allow('').required(),
  fileName: Joi.string().required(),
  fileBytes: Joi.number().required(),
  author: Joi.string().required(),
  phase: Joi.string().required(),
  share: Joi.number().min(0).max(1).required().description('Done so far.'),
  secondsLeft: Joi.number().allow(null).required(),
  error: Joi.string().allow(null).required().description('Why it was not published.'),
  createdAt: time.required(),
  publishedAt: time.allow(null).required(),
  withdrawn: Joi.object({ by: Joi.string().required(), at: time.required() }).allow(null).required(),
  settings: Joi.object().unknown().required(),
  digest: Joi.object().unknown().allow(null).required().description('What a list shows of the report.'),
  approval: Joi.string().allow(null).required().description('Where its approval stands, in words.'),
});

const fitSchema = Joi.object()
  .unknown()
  .allow(null)
  .required()
  .description('How the model does not go with the others of its project: far from them, or of another scale.');

const revisionDetailSchema = revisionSchema.keys({
  modelId: id.required(),
  modelName: Joi.string().required(),
  discipline: Joi.string().required(),
  report: Joi.object().unknown().allow(null).required().description('Counts, findings, weight, forecast.'),
  fit: fitSchema,
});

const projectCard = Joi.object({
  id: id.required(),
  name: Joi.string().required(),
  place: Joi.string().allow('').required(),
  models: Joi.number().integer().required(),
  preview: Joi.string().allow(null).required(),
  newest: time.allow(null).required(),
});

const project = Joi.object({
  id: id.required(),
  name: Joi.string().required(),
  place: Joi.string().allow('').required(),
  models: Joi.array()
    .items(
      Joi.object({
        id: id.required(),
        name: Joi.string().required(),
        discipline: Joi.string().required(),
        fit: fitSchema,
        placement: Joi.object().unknown().required().description('How the model finds its place in the project.'),
        revisions: Joi.array().items(revisionSchema).required().description('Newest first.'),
      }),
    )
    .required(),
});

const jobPage = Joi.object({
  jobs: Joi.array()
    .items(Joi.object({ id: id.required() }).unknown())
    .required(),
  next: time.allow(null).required().description('What to give as `before` for the next page.'),
});

export interface Operation {
  method: 'get' | 'post' | 'patch';
  path: string;
  name: string;
  summary: string;
  query?: Joi.ObjectSchema;
  body?: Joi.ObjectSchema;
  /** As JSON, or a file of a media type. */
  answer: Joi.Schema | { media: string };
}

export const jobQuerySchema = Joi.object<{ filter: (typeof JOB_FILTERS)[number]; before?: Date }>({
  filter: Joi.string()
    .valid(...JOB_FILTERS)
    .default('all'),
  before: Joi.date().iso(),
});

export const OPERATIONS: Operation[] = [
  {
    method: 'get',
    path: '/api/projects',
    name: 'listProjects',
    summary: 'The projects that the account belongs to',
    answer: Joi.array().items(projectCard),
  },
  {
    method: 'get',
    path: '/api/projects/{id}',
    name: 'readProject',
    summary: 'A project with its models and all their revisions',
    answer: project,
  },
  {
    method: 'post',
    path: '/api/projects/{id}/publications',
    name: 'publish',
    summary: 'Publish a finished upload',
    body: publicationSchema,
    answer: Joi.object({ revisionId: id.required() }),
  },
  {
    method: 'get',
    path: '/api/revisions/{id}',
    name: 'readRevision',
    summary: 'How a revision stands',
    answer: revisionDetailSchema,
  },
  {
    method: 'post',
    path: '/api/revisions/{id}/stop',
    name: 'stop',
    summary: 'Stop a publication that waits or runs',
    answer: nothing,
  },
  {
    method: 'post',
    path: '/api/revisions/{id}/retry',
    name: 'retry',
    summary: 'Queue a failed publication again, with the same file',
    answer: nothing,
  },
  {
    method: 'get',
    path: '/api/jobs',
    name: 'listJobs',
    summary: 'Publications of all the account’s projects, the last queued first',
    query: jobQuerySchema,
    answer: jobPage,
  },
  ...FOLLOW_UP_OPERATIONS,
];

const problem = Joi.object({
  type: Joi.string().required(),
  status: Joi.number().integer().required(),
  title: Joi.string().required().description('A sentence for the user: what happened, what is safe, what to do.'),
});

/** The description of the HTTP interface as an OpenAPI 3.1 document. @param origin of this installation */
export function openApiDocument(origin: string) {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const operation of OPERATIONS) (paths[operation.path] ??= {})[operation.method] = describe(operation);
  Object.assign(paths, uploadPaths());
  return {
    openapi: '3.1.0',
    info: {
      title: 'Yurta',
      version: '1',
      description:
        'Publish models from scripts and other programs, and read and write what is said about them. What BCF-API 3.0 offers stands at `/foundation/versions`. Every call carries a personal access token, made on the settings page, as `Authorization: Bearer …`.',
    },
    servers: [{ url: origin }],
    security: [{ token: [] }],
    components: { securitySchemes: { token: { type: 'http', scheme: 'bearer' } } },
    paths,
  };
}

function describe({ path, name, summary, query, body, answer }: Operation) {
  const parameters = [
    ...[...path.matchAll(/\{(\w+)\}/g)].map(([, key]) => ({
      name: key,
      in: 'path',
      required: true,
      schema: { type: 'string', format: 'uuid' },
    })),
    ...queryParameters(query),
  ];
  return {
    operationId: name,
    summary,
    ...(parameters.length > 0 && { parameters }),
    ...(body && { requestBody: { required: true, content: json(body) } }),
    responses: {
      200: { description: 'Done', content: Joi.isSchema(answer) ? json(answer) : { [answer.media]: {} } },
      default: {
        description: 'Refused, as a problem document (RFC 9457)',
        content: { 'application/problem+json': { schema: schemaOf(problem) } },
      },
    },
  };
}

function queryParameters(query: Joi.ObjectSchema | undefined) {
  if (!query) return [];
  const { properties = {}, required = [] } = schemaOf(query) as { properties?: object; required?: string[] };
  return Object.entries(properties).map(([key, schema]: [string, unknown]) => ({
    name: key,
    in: 'query',
    required: required.includes(key),
    schema,
  }));
}

function json(schema: Joi.Schema) {
  return { 'application/json': { schema: schemaOf(schema) } };
}

function schemaOf(schema: Joi.Schema): Record<string, unknown> {
  return parse(schema, 'open-api-3.1') as Record<string, unknown>;
}

/** Uploads follow the tus protocol 1.0.0, which has a document of its own; these are the two requests that suffice. */
function uploadPaths() {
  const header = (name: string, description: string, schema: object = { type: 'string' }) => ({
    name,
    in: 'header',
    required: true,
    description,
    schema,
  });
  const version = header('Tus-Resumable', 'Version of the protocol', { type: 'string', const: '1.0.0' });
  const refused = { description: 'Refused, with a sentence for the user', content: { 'text/plain': {} } };
  return {
    '/uploads': {
      post: {
        operationId: 'beginUpload',
        summary: 'Announce an upload (tus 1.0.0)',
        parameters: [
          version,
          header('Upload-Length', 'Bytes of the file', { type: 'integer', minimum: 0 }),
          header('Upload-Metadata', '`filename` and, after a blank, the file’s name in Base64'),
        ],
        responses: {
          201: {
            description: 'The upload’s address stands in Location; its last part is the upload’s id',
            headers: { Location: { schema: { type: 'string' } } },
          },
          default: refused,
        },
      },
    },
    '/uploads/{upload}': {
      patch: {
        operationId: 'sendUpload',
        summary: 'Send the file, or what is missing of it (tus 1.0.0)',
        parameters: [
          { name: 'upload', in: 'path', required: true, schema: { type: 'string' } },
          version,
          header('Upload-Offset', 'Where the part begins', { type: 'integer', minimum: 0 }),
        ],
        requestBody: { required: true, content: { 'application/offset+octet-stream': {} } },
        responses: { 204: { description: 'Taken' }, default: refused },
      },
    },
  };
}
