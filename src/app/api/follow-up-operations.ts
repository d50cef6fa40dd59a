import Joi from 'joi';
import { commentTextSchema } from '@/core/forms/name-schema';
import { ACTIVITY_KINDS } from '@/core/project/activity';
import { APPROVAL_ANSWERS, APPROVAL_STATES, SUITABILITIES } from '@/core/project/approval';
import { COMMENT_KINDS, COMMENT_STATUSES, PRIORITIES } from '@/core/project/comment';
import { commentChangeSchema, commentDetails, commentsChangeSchema, dayOrNone } from '@/core/project/comment-schema';
import { viewStateSchema } from '@/core/view/view-state-schema';
import { id, nothing, time } from './described-values';
import type { Operation } from './description';

/** What programs may ask about what was said, decided, approved and done. */

const person = Joi.object({ id: Joi.string().required(), name: Joi.string().required() });

const attachment = Joi.object({ id: id.required(), name: Joi.string().required() }).unknown();

const comment = Joi.object({
  id: id.required(),
  guid: Joi.string().required().description('By which BCF files and other programs know it.'),
  number: Joi.number().integer().allow(null).required().description('Counted within the project; null for an answer.'),
  meetingId: id.allow(null).required(),
  replyTo: id.allow(null).required(),
  text: Joi.string().required(),
  author: Joi.string().required(),
  guest: Joi.boolean().required(),
  kind: Joi.string()
    .valid(...COMMENT_KINDS)
    .required(),
  status: Joi.string()
    .valid(...COMMENT_STATUSES)
    .required(),
  priority: Joi.string()
    .valid(...PRIORITIES)
    .required(),
  assignee: Joi.object().unknown().allow(null).required(),
  dueOn: dayOrNone.required(),
  anchor: Joi.object().unknown().allow(null).required().description('The element and the place, project, metres.'),
  elementName: Joi.string().allow('').required(),
  hasView: Joi.boolean().required(),
  hasPicture: Joi.boolean().required(),
  files: Joi.array().items(attachment).required(),
  viewpointId: id.allow(null).required().description('The viewpoint that a decision ends.'),
  confirmedBy: Joi.array().items(person).required(),
  conflict: Joi.object().unknown().allow(null).required().description('What a tracker says otherwise.'),
  isOwn: Joi.boolean().required(),
  editedAt: time.allow(null).required(),
  createdAt: time.required(),
});

const approval = Joi.object({
  id: id.required(),
  projectId: id.required(),
  revisionId: id.required(),
  revision: Joi.string().required(),
  note: Joi.string().allow('').required(),
  suitability: Joi.string()
    .valid(...SUITABILITIES)
    .allow(null)
    .required(),
  question: Joi.string().allow('').required(),
  dueOn: dayOrNone.required(),
  askedBy: Joi.string().required(),
  createdAt: time.required(),
  state: Joi.string()
    .valid(...APPROVAL_STATES)
    .required(),
  approvers: Joi.array()
    .items(
      person.keys({
        id: id.required(),
        isYou: Joi.boolean().required(),
        answer: Joi.string()
          .valid(...APPROVAL_ANSWERS)
          .allow(null)
          .required(),
        reasons: Joi.string().allow('').required(),
        answeredAt: time.allow(null).required(),
      }),
    )
    .required(),
});

const activity = Joi.object({
  id: id.required(),
  projectId: id.required(),
  project: Joi.string().required(),
  at: time.required(),
  by: Joi.object({ id: Joi.string().allow('').required(), name: Joi.string().required() }).required(),
  kind: Joi.string()
    .valid(...ACTIVITY_KINDS)
    .required(),
  subjectId: id.required(),
  text: Joi.string().allow('').required(),
});

export const feedQuerySchema = Joi.object<{
  project?: string;
  by?: string;
  kind?: (typeof ACTIVITY_KINDS)[number];
  before?: string;
}>({
  project: id,
  by: Joi.string().max(200),
  kind: Joi.string().valid(...ACTIVITY_KINDS),
  before: id.description('Of the last activity of the page before.'),
});

const chosen = Joi.object({ ids: Joi.string().description('Ids of comments, apart by commas; without it, all.') });
const comments = '/api/projects/{id}/comments';

export const FOLLOW_UP_OPERATIONS: Operation[] = [
  {
    method: 'get',
    path: comments,
    name: 'listComments',
    summary: 'What was said in a project, with its answers',
    answer: Joi.array().items(comment),
  },
  {
    method: 'post',
    path: comments,
    name: 'say',
    summary: 'Say something, or answer',
    body: Joi.object({
      text: commentTextSchema.extract('text'),
      replyTo: id,
      view: viewStateSchema.description('What is seen: camera, what shows, cuts, measures, marks.'),
      ...commentDetails,
    }),
    answer: Joi.object({ id: id.required() }),
  },
  {
    method: 'patch',
    path: comments,
    name: 'changeComments',
    summary: 'Change several comments in the same way; all of them or none',
    body: commentsChangeSchema,
    answer: nothing,
  },
  {
    method: 'patch',
    path: `${comments}/{comment}`,
    name: 'changeComment',
    summary: 'Change a comment, or delete it',
    body: commentChangeSchema,
    answer: nothing,
  },
  {
    method: 'get',
    path: `${comments}.csv`,
    name: 'commentsCsv',
    summary: 'All comments as a table',
    answer: { media: 'text/csv' },
  },
  {
    method: 'get',
    path: `${comments}.xlsx`,
    name: 'commentsWorkbook',
    summary: 'Comments, actions and decisions as a workbook',
    answer: { media: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet' },
  },
  {
    method: 'get',
    path: `${comments}.ics`,
    name: 'dueDates',
    summary: 'Days on which actions are due, as a calendar (RFC 5545)',
    answer: { media: 'text/calendar' },
  },
  {
    method: 'get',
    path: `${comments}.bcf`,
    name: 'commentsBcf',
    summary: 'Comments as a BCF 3.0 file',
    query: chosen,
    answer: { media: 'application/octet-stream' },
  },
  {
    method: 'get',
    path: '/api/projects/{id}/approvals',
    name: 'listApprovals',
    summary: 'What is or was put up for approval, newest first',
    answer: Joi.array().items(approval),
  },
  {
    method: 'get',
    path: '/api/meetings/{id}/minutes.pdf',
    name: 'readMinutes',
    summary: 'The minutes of a meeting',
    answer: { media: 'application/pdf' },
  },
  {
    method: 'get',
    path: '/api/feed',
    name: 'readFeed',
    summary: 'What was done in the account’s projects, newest first, a page at a time',
    query: feedQuerySchema,
    answer: Joi.array().items(activity),
  },
];
