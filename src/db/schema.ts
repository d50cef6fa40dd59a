import { sql } from 'drizzle-orm';
import {
  bigint,
  bigserial,
  boolean,
  customType,
  date,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import type { NoticeKind } from '@/core/jobs/notice';
import type { RevisionState } from '@/core/project/models';
import type { PublishReport } from '@/core/project/publish-report';
import type { PublishIntent } from '@/core/project/publish-settings';
import type { ActivityKind } from '@/core/project/activity';
import type { ApprovalAnswer, Suitability } from '@/core/project/approval';
import type { MinutesCorrections } from '@/core/meeting/minutes-corrections';
import type { SharedFields } from '@/core/exchange/shared-fields';
import type { CommentAnchor, CommentHistory, CommentKind, CommentStatus, Priority } from '@/core/project/comment';
import type { OptionChoice } from '@/core/options/option-set';
import type { PlacementChoice } from '@/core/placement/placement';
import type { LinkRight, TokenRight } from '@/core/rights';

const instant = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' });
const bytes = customType<{ data: Buffer }>({ dataType: () => 'bytea' });

// Accounts and sessions: the tables that better-auth keeps.

export const user = pgTable('user', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  email: text('email').notNull().unique(),
  emailVerified: boolean('email_verified').notNull().default(false),
  image: text('image'),
  createdAt: instant('created_at').notNull().defaultNow(),
  updatedAt: instant('updated_at').notNull().defaultNow(),
});

export const session = pgTable('session', {
  id: text('id').primaryKey(),
  expiresAt: instant('expires_at').notNull(),
  token: text('token').notNull().unique(),
  createdAt: instant('created_at').notNull().defaultNow(),
  updatedAt: instant('updated_at').notNull().defaultNow(),
  ipAddress: text('ip_address'),
  userAgent: text('user_agent'),
  userId: text('user_id')
    .notNull()
    .references(() => user.id, { onDelete: 'cascade' }),
});

export const account = pgTable('account', {
  id: text('id').primaryKey(),
  accountId: text('account_id').notNull(),
  providerId: text('provider_id').notNull(),
  userId: text('user_id')
    .notNull()
    .references(() => user.id, { onDelete: 'cascade' }),
  accessToken: text('access_token'),
  refreshToken: text('refresh_token'),
  idToken: text('id_token'),
  accessTokenExpiresAt: instant('access_token_expires_at'),
  refreshTokenExpiresAt: instant('refresh_token_expires_at'),
  scope: text('scope'),
  password: text('password'),
  createdAt: instant('created_at').notNull().defaultNow(),
  updatedAt: instant('updated_at').notNull().defaultNow(),
});

export const verification = pgTable('verification', {
  id: text('id').primaryKey(),
  identifier: text('identifier').notNull(),
  value: text('value').notNull(),
  expiresAt: instant('expires_at').notNull(),
  createdAt: instant('created_at').notNull().defaultNow(),
  updatedAt: instant('updated_at').notNull().defaultNow(),
});

/** With which programs act in an account's name. */
export const accessTokens = pgTable(
  'access_tokens',
  {
    id: uuid('id').primaryKey(),
    userId: text('user_id')
      .notNull()
      .references(() => user.id, { onDelete: 'cascade' }),
    label: text('label').notNull(),
    right: text('right').$type<TokenRight>().notNull(),
    tokenHash: text('token_hash').notNull().unique(),
    createdAt: instant('created_at').notNull().defaultNow(),
    expiresAt: instant('expires_at').notNull(),
    usedAt: instant('used_at'),
    revokedAt: instant('revoked_at'),
  },
  (table) => [index('access_tokens_user').on(table.userId)],
);

// Projects, models and their revisions.

export const projects = pgTable('projects', {
  id: uuid('id').primaryKey(),
  name: text('name').notNull(),
  place: text('place').notNull().default(''),
  /** Where it stands under the sun, as somebody has set it; null where its models say so. @see siteSchema */
  site: jsonb('site').$type<unknown>(),
  /** Whether the lead reads and corrects minutes before they are sent. */
  holdsMinutes: boolean('holds_minutes').notNull().default(false),
  createdAt: instant('created_at').notNull().defaultNow(),
});

export const members = pgTable(
  'members',
  {
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    userId: text('user_id')
      .notNull()
      .references(() => user.id, { onDelete: 'cascade' }),
    role: text('role').$type<'lead' | 'designer'>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.userId] })],
);

export const models = pgTable('models', {
  id: uuid('id').primaryKey(),
  projectId: uuid('project_id')
    .notNull()
    .references(() => projects.id, { onDelete: 'cascade' }),
  name: text('name').notNull(),
  discipline: text('discipline').notNull(),
  /** Decided about its last published revision, for the next. */
  /** @see readPublishSettings */
  settings: jsonb('settings').$type<unknown>().notNull().default({}),
  placement: jsonb('placement').$type<PlacementChoice>().notNull().default({ by: 'file' }),
  createdAt: instant('created_at').notNull().defaultNow(),
});

export const optionSets = pgTable(
  'option_sets',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    /** @see readDesignOptions */
    options: jsonb('options').$type<unknown>().notNull(),
    createdAt: instant('created_at').notNull().defaultNow(),
  },
  (table) => [index('option_sets_project').on(table.projectId)],
);

export const revisions = pgTable(
  'revisions',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    modelId: uuid('model_id')
      .notNull()
      .references(() => models.id, { onDelete: 'cascade' }),
    /** 1 for P01; given at publication, so that a failed job leaves no hole. */
    number: integer('number'),
    state: text('state').$type<RevisionState>().notNull(),
    note: text('note').notNull().default(''),
    fileName: text('file_name').notNull(),
    fileBytes: doublePrecision('file_bytes').notNull(),
    authorId: text('author_id')
      .notNull()
      .references(() => user.id),
    phase: text('phase').notNull().default('waiting'),
    share: doublePrecision('share').notNull().default(0),
    error: text('error'),
    intent: text('intent').$type<PublishIntent>().notNull().default('publish'),
    /** @see readPublishSettings */
    settings: jsonb('settings').$type<unknown>().notNull().default({}),
    report: jsonb('report').$type<PublishReport>(),
    /**
     * Names the folder of its files: each conversion has its own, so that addresses never change their content. A revision
     * that was made the newest again shares the folder of the one that it repeats.
     */
    contentId: uuid('content_id'),
    createdAt: instant('created_at').notNull().defaultNow(),
    /** When it was last put into the queue. */
    queuedAt: instant('queued_at').notNull().defaultNow(),
    startedAt: instant('started_at'),
    /** When its present phase began. */
    phaseAt: instant('phase_at'),
    /** When reading its file ended, well or not. */
    endedAt: instant('ended_at'),
    /** Machine and process that worked on it last, as `name#123`. */
    worker: text('worker'),
    /** When a worker last said that it is still at it. */
    beatAt: instant('beat_at'),
    /** How often a worker has begun with it. */
    attempts: integer('attempts').notNull().default(0),
    publishedAt: instant('published_at'),
    withdrawnAt: instant('withdrawn_at'),
    withdrawnBy: text('withdrawn_by'),
  },
  (table) => [
    index('revisions_content').on(table.contentId),
    index('revisions_model').on(table.modelId),
    index('revisions_project').on(table.projectId, table.queuedAt),
    index('revisions_ended').on(table.endedAt),
    uniqueIndex('revisions_number').on(table.modelId, table.number),
  ],
);

/** With whose right files of the model store are read. */
export const storeConnections = pgTable('store_connections', {
  id: uuid('id').primaryKey(),
  userId: text('user_id')
    .notNull()
    .unique()
    .references(() => user.id, { onDelete: 'cascade' }),
  /** The person's name at the store. */
  account: text('account').notNull(),
  /** Sealed. */
  tokens: text('tokens').notNull(),
  trouble: text('trouble'),
  createdAt: instant('created_at').notNull().defaultNow(),
});

/** Files of the model store whose versions become revisions. */
export const storeSources = pgTable(
  'store_sources',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    connectionId: uuid('connection_id')
      .notNull()
      .references(() => storeConnections.id, { onDelete: 'cascade' }),
    fileId: text('file_id').notNull(),
    fileName: text('file_name').notNull(),
    path: jsonb('path').$type<string[]>().notNull(),
    /** Null until its first version became a model, and after that model was removed. */
    modelId: uuid('model_id').references(() => models.id, { onDelete: 'set null' }),
    modelName: text('model_name').notNull(),
    discipline: text('discipline').notNull(),
    follow: boolean('follow').notNull(),
    subscription: text('subscription'),
    /** Under which the store signs its notices; sealed. */
    secret: text('secret').notNull(),
    newestVersion: integer('newest_version').notNull(),
    takenVersion: integer('taken_version'),
    takenAt: instant('taken_at'),
    revisionId: uuid('revision_id').references(() => revisions.id, { onDelete: 'set null' }),
    trouble: text('trouble'),
    lookedAt: instant('looked_at').notNull().defaultNow(),
    createdAt: instant('created_at').notNull().defaultNow(),
  },
  (table) => [uniqueIndex('store_sources_file').on(table.projectId, table.fileId)],
);

/** What somebody is told about the end of a publication: under the bell, and by mail if they do not see it there. */
export const notices = pgTable(
  'notices',
  {
    id: uuid('id').primaryKey(),
    userId: text('user_id')
      .notNull()
      .references(() => user.id, { onDelete: 'cascade' }),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    revisionId: uuid('revision_id')
      .notNull()
      .references(() => revisions.id, { onDelete: 'cascade' }),
    kind: text('kind').$type<NoticeKind>().notNull(),
    /** Why, where it did not go well. */
    reason: text('reason'),
    createdAt: instant('created_at').notNull().defaultNow(),
    seenAt: instant('seen_at'),
    mailedAt: instant('mailed_at'),
  },
  (table) => [index('notices_user').on(table.userId, table.createdAt)],
);

export const elementProperties = pgTable(
  'element_properties',
  {
    revisionId: uuid('revision_id')
      .notNull()
      .references(() => revisions.id, { onDelete: 'cascade' }),
    element: integer('element').notNull(),
    guid: text('guid').notNull(),
    sets: jsonb('sets').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.revisionId, table.element] }),
    index('element_properties_guid').on(table.revisionId, table.guid),
  ],
);

export const viewpoints = pgTable(
  'viewpoints',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    /** Order in the running order; a card is moved by a value between its neighbours'. */
    position: doublePrecision('position').notNull(),
    /** A view, of whatever version stored it. @see readView */
    state: jsonb('state').$type<unknown>().notNull(),
    picture: bytes('picture'),
    /** When the picture was last taken. */
    pictureAt: instant('picture_at').notNull().defaultNow(),
    authorName: text('author_name').notNull(),
    /** Whose it is while it is not shared; empty of those that came with a file. */
    authorId: text('author_id').notNull().default(''),
    isShared: boolean('is_shared').notNull().default(true),
    /** Name of its group; empty where it is in none. */
    group: text('group').notNull().default(''),
    /** What is to be decided before it. */
    question: text('question').notNull().default(''),
    /** Minutes that it is given in a meeting. */
    minutes: integer('minutes'),
    /** The parts of the view that it brings back; null for all. */
    parts: jsonb('parts').$type<unknown>(),
    /** What the request that made it is known by, so that a repeated one makes nothing twice. */
    requestKey: text('request_key'),
    createdAt: instant('created_at').notNull().defaultNow(),
    deletedAt: instant('deleted_at'),
  },
  (table) => [
    index('viewpoints_project').on(table.projectId),
    uniqueIndex('viewpoints_request').on(table.projectId, table.requestKey),
  ],
);

/** Pictures of the model that were taken to be kept. */
export const snapshots = pgTable(
  'snapshots',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    group: text('group').notNull().default(''),
    /** PNG. */
    picture: bytes('picture').notNull(),
    width: integer('width').notNull(),
    height: integer('height').notNull(),
    authorName: text('author_name').notNull(),
    /** Account or guest; empty on pictures from before there was this column. */
    authorId: text('author_id').notNull().default(''),
    requestKey: text('request_key'),
    createdAt: instant('created_at').notNull().defaultNow(),
  },
  (table) => [
    index('snapshots_project').on(table.projectId, table.createdAt),
    uniqueIndex('snapshots_request').on(table.projectId, table.requestKey),
  ],
);

// Links, guests, meetings, comments.

export const links = pgTable('links', {
  id: uuid('id').primaryKey(),
  projectId: uuid('project_id')
    .notNull()
    .references(() => projects.id, { onDelete: 'cascade' }),
  tokenHash: text('token_hash').notNull().unique(),
  right: text('right').$type<LinkRight>().notNull(),
  label: text('label').notNull(),
  /** Options that whoever comes by this link cannot switch. */
  options: jsonb('options').$type<OptionChoice>().notNull().default({}),
  createdBy: text('created_by')
    .notNull()
    .references(() => user.id),
  createdAt: instant('created_at').notNull().defaultNow(),
  expiresAt: instant('expires_at').notNull(),
  revokedAt: instant('revoked_at'),
  /** Salted hash of the words that are asked for at the door; null where none are. */
  passphraseHash: text('passphrase_hash'),
  /** With what the Review opens. */
  viewpointId: uuid('viewpoint_id').references(() => viewpoints.id, { onDelete: 'set null' }),
  /** To whom it was sent. */
  sentTo: text('sent_to'),
  /** When its maker was told that it ends soon. */
  warnedAt: instant('warned_at'),
});

/** Who came by a link, and when. */
export const linkOpenings = pgTable(
  'link_openings',
  {
    id: uuid('id').primaryKey(),
    linkId: uuid('link_id')
      .notNull()
      .references(() => links.id, { onDelete: 'cascade' }),
    guestId: uuid('guest_id')
      .notNull()
      .references(() => guests.id, { onDelete: 'cascade' }),
    at: instant('at').notNull().defaultNow(),
  },
  (table) => [index('link_openings_link').on(table.linkId, table.at)],
);

export const meetings = pgTable(
  'meetings',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    title: text('title').notNull(),
    /** Keyed hash of the six digits; the digits themselves follow from the id, the salt and the server's secret. */
    codeHash: text('code_hash').notNull(),
    codeSalt: integer('code_salt').notNull(),
    right: text('right').$type<LinkRight>().notNull().default('comment'),
    startedBy: text('started_by')
      .notNull()
      .references(() => user.id),
    startedAt: instant('started_at').notNull().defaultNow(),
    endedAt: instant('ended_at'),
    /** When its minutes were handed over to be mailed. */
    minutesSentAt: instant('minutes_sent_at'),
    /** Whether its minutes wait until somebody has read them. */
    isHeld: boolean('is_held').notNull().default(false),
    /** What the lead has corrected of its minutes. */
    corrections: jsonb('corrections')
      .$type<MinutesCorrections>()
      .notNull()
      .default({ foreword: '', words: {}, left: [] }),
  },
  (table) => [
    index('meetings_code').on(table.codeHash),
    index('meetings_project').on(table.projectId),
    // One meeting goes on in a project at a time.
    uniqueIndex('meetings_running')
      .on(table.projectId)
      .where(sql`${table.endedAt} is null`),
  ],
);

export const guests = pgTable('guests', {
  id: uuid('id').primaryKey(),
  projectId: uuid('project_id')
    .notNull()
    .references(() => projects.id, { onDelete: 'cascade' }),
  linkId: uuid('link_id').references(() => links.id, { onDelete: 'cascade' }),
  meetingId: uuid('meeting_id').references(() => meetings.id, { onDelete: 'cascade' }),
  name: text('name').notNull(),
  /** Where minutes are sent; null of those who gave none. */
  email: text('email'),
  secretHash: text('secret_hash').notNull().unique(),
  createdAt: instant('created_at').notNull().defaultNow(),
});

export const meetingEvents = pgTable(
  'meeting_events',
  {
    meetingId: uuid('meeting_id')
      .notNull()
      .references(() => meetings.id, { onDelete: 'cascade' }),
    seq: integer('seq').notNull(),
    at: instant('at').notNull().defaultNow(),
    by: text('by'),
    /** An event, of whatever version stored it. @see readEvent */
    event: jsonb('event').$type<unknown>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.meetingId, table.seq] })],
);

export const comments = pgTable(
  'comments',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    /** By which other programs know it: the same in every project that a file brings it to. */
    guid: uuid('guid').notNull(),
    meetingId: uuid('meeting_id').references(() => meetings.id, { onDelete: 'set null' }),
    /** Which viewpoint a decision ends. */
    viewpointId: uuid('viewpoint_id').references(() => viewpoints.id, { onDelete: 'set null' }),
    /** Counts the project's comments from 1; replies have none. */
    number: integer('number'),
    replyTo: uuid('reply_to'),
    text: text('text').notNull(),
    authorName: text('author_name').notNull(),
    authorId: text('author_id').notNull(),
    guest: boolean('guest').notNull(),
    anchor: jsonb('anchor').$type<CommentAnchor>(),
    elementName: text('element_name').notNull().default(''),
    /** @see readView */
    view: jsonb('view').$type<unknown>(),
    picture: bytes('picture'),
    status: text('status').$type<CommentStatus>().notNull().default('open'),
    kind: text('kind').$type<CommentKind>().notNull().default('remark'),
    /** Who is to do it: an account, or an address. */
    assigneeId: text('assignee_id').references(() => user.id, { onDelete: 'set null' }),
    assigneeName: text('assignee_name').notNull().default(''),
    assigneeEmail: text('assignee_email'),
    dueOn: date('due_on', { mode: 'string' }),
    priority: text('priority').$type<Priority>().notNull().default('normal'),
    /** When whoever is to do it was reminded. */
    remindedAt: instant('reminded_at'),
    editedAt: instant('edited_at'),
    /** Kept, so that numbers and minutes stay whole. */
    deletedAt: instant('deleted_at'),
    /** What the request that made it is known by, so that a repeated one says nothing twice. */
    requestKey: text('request_key'),
    createdAt: instant('created_at').notNull().defaultNow(),
  },
  (table) => [
    index('comments_project').on(table.projectId),
    uniqueIndex('comments_number').on(table.projectId, table.number),
    uniqueIndex('comments_guid').on(table.projectId, table.guid),
    uniqueIndex('comments_request').on(table.projectId, table.requestKey),
    index('comments_assignee').on(table.assigneeId),
  ],
);

/** Every change of a comment. */
export const commentChanges = pgTable(
  'comment_changes',
  {
    id: uuid('id').primaryKey(),
    commentId: uuid('comment_id')
      .notNull()
      .references(() => comments.id, { onDelete: 'cascade' }),
    byName: text('by_name').notNull(),
    byId: text('by_id').notNull(),
    changes: jsonb('changes').$type<CommentHistory['changes']>().notNull(),
    at: instant('at').notNull().defaultNow(),
  },
  (table) => [index('comment_changes_comment').on(table.commentId)],
);

/** Who said in the meeting that a decision stands as it is written. */
export const confirmations = pgTable(
  'confirmations',
  {
    commentId: uuid('comment_id')
      .notNull()
      .references(() => comments.id, { onDelete: 'cascade' }),
    /** Account or guest. */
    byId: text('by_id').notNull(),
    byName: text('by_name').notNull(),
    at: instant('at').notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.commentId, table.byId] })],
);

/** Pictures and files that go with a comment or an answer. */
export const attachments = pgTable(
  'attachments',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    commentId: uuid('comment_id')
      .notNull()
      .references(() => comments.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    /** Media type as the content says it, not as somebody called it. */
    type: text('type').notNull(),
    content: bytes('content').notNull(),
    size: integer('size').notNull(),
    /** Of a picture. */
    width: integer('width'),
    height: integer('height'),
    byId: text('by_id').notNull(),
    createdAt: instant('created_at').notNull().defaultNow(),
  },
  (table) => [index('attachments_comment').on(table.commentId), index('attachments_project').on(table.projectId)],
);

/** What somebody notes for themselves; nobody else sees it until they pass it on. */
export const notes = pgTable(
  'notes',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    ownerId: text('owner_id')
      .notNull()
      .references(() => user.id, { onDelete: 'cascade' }),
    text: text('text').notNull(),
    anchor: jsonb('anchor').$type<CommentAnchor>(),
    elementName: text('element_name').notNull().default(''),
    /** @see readView */
    view: jsonb('view').$type<unknown>(),
    picture: bytes('picture'),
    /** Accounts of single colleagues who see it. */
    passedTo: jsonb('passed_to').$type<string[]>().notNull().default([]),
    /** What was published when it was written or taken along last: revision by model. */
    revisions: jsonb('revisions').$type<Record<string, string>>().notNull().default({}),
    /** The comment that it has become. */
    commentId: uuid('comment_id').references(() => comments.id, { onDelete: 'set null' }),
    requestKey: text('request_key'),
    createdAt: instant('created_at').notNull().defaultNow(),
  },
  (table) => [
    index('notes_owner').on(table.projectId, table.ownerId),
    uniqueIndex('notes_request').on(table.projectId, table.requestKey),
  ],
);

// Approval of revisions.

/** A revision that named people are asked to approve. */
export const approvals = pgTable(
  'approvals',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    revisionId: uuid('revision_id')
      .notNull()
      .references(() => revisions.id, { onDelete: 'cascade' }),
    /** For what it is put up, as ISO 19650 codes it; null where the project does not use them. */
    suitability: text('suitability').$type<Suitability>(),
    question: text('question').notNull().default(''),
    dueOn: date('due_on', { mode: 'string' }),
    askedById: text('asked_by_id').notNull(),
    askedByName: text('asked_by_name').notNull(),
    createdAt: instant('created_at').notNull().defaultNow(),
    /** When whoever asked took it back. */
    endedAt: instant('ended_at'),
  },
  (table) => [index('approvals_project').on(table.projectId, table.createdAt)],
);

/** One of those who are asked, and what they answered. */
export const approvers = pgTable(
  'approvers',
  {
    id: uuid('id').primaryKey(),
    approvalId: uuid('approval_id')
      .notNull()
      .references(() => approvals.id, { onDelete: 'cascade' }),
    /** Account; null of somebody who is asked by their address. */
    userId: text('user_id').references(() => user.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    email: text('email').notNull(),
    /** What they came by, who have no account. */
    linkId: uuid('link_id').references(() => links.id, { onDelete: 'set null' }),
    answer: text('answer').$type<ApprovalAnswer>(),
    reasons: text('reasons').notNull().default(''),
    answeredAt: instant('answered_at'),
  },
  (table) => [uniqueIndex('approvers_email').on(table.approvalId, table.email)],
);

/** Everything that was done in a project, in order: what the feed, daily mails and other programs are told. */
export const activities = pgTable(
  'activities',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    at: instant('at').notNull().defaultNow(),
    byId: text('by_id').notNull(),
    byName: text('by_name').notNull(),
    kind: text('kind').$type<ActivityKind>().notNull(),
    /** Id of what it was done to: a comment, a revision, a meeting, an approval. */
    subjectId: uuid('subject_id').notNull(),
    /** What was said, published, decided, as far as one line shows it. */
    text: text('text').notNull().default(''),
  },
  (table) => [index('activities_project').on(table.projectId, table.at)],
);

/** Who gets a mail a day about what was done. */
export const dailyMails = pgTable('daily_mails', {
  userId: text('user_id')
    .primaryKey()
    .references(() => user.id, { onDelete: 'cascade' }),
  /** Up to when they have been told. */
  toldUntil: instant('told_until').notNull().defaultNow(),
});

// Other programs.

/** Programs that are told what was done, by signed requests. */
export const webhooks = pgTable(
  'webhooks',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    url: text('url').notNull(),
    /** Sealed. @see seal */
    secret: text('secret').notNull(),
    kinds: jsonb('kinds').$type<ActivityKind[]>().notNull(),
    createdBy: text('created_by').notNull(),
    createdAt: instant('created_at').notNull().defaultNow(),
  },
  (table) => [index('webhooks_project').on(table.projectId)],
);

/** What a program was told, or is to be told again. */
export const webhookDeliveries = pgTable(
  'webhook_deliveries',
  {
    webhookId: uuid('webhook_id')
      .notNull()
      .references(() => webhooks.id, { onDelete: 'cascade' }),
    activityId: uuid('activity_id')
      .notNull()
      .references(() => activities.id, { onDelete: 'cascade' }),
    tries: integer('tries').notNull().default(0),
    /** What it answered last; null where it did not. */
    status: integer('status'),
    trouble: text('trouble').notNull().default(''),
    nextAt: instant('next_at').notNull().defaultNow(),
    doneAt: instant('done_at'),
  },
  (table) => [
    primaryKey({ columns: [table.webhookId, table.activityId] }),
    index('webhook_deliveries_next').on(table.doneAt, table.nextAt),
  ],
);

/** The issue tracker that a project's comments go to and come back from. */
export const trackers = pgTable('trackers', {
  projectId: uuid('project_id')
    .primaryKey()
    .references(() => projects.id, { onDelete: 'cascade' }),
  url: text('url').notNull(),
  /** Sealed. @see seal */
  token: text('token').notNull(),
  /** The tracker's mark of up to where its changes were read. */
  cursor: text('cursor').notNull().default(''),
  /** What went wrong last; empty while it goes well. */
  trouble: text('trouble').notNull().default(''),
  syncedAt: instant('synced_at'),
  /** How many things were done in the project when everything here was last told to the tracker. */
  toldCount: integer('told_count').notNull().default(-1),
  /** Until when a process is at it; others leave it alone until then. */
  leasedUntil: instant('leased_until'),
});

/** A comment and the issue that it is in the tracker. */
export const trackedIssues = pgTable(
  'tracked_issues',
  {
    commentId: uuid('comment_id')
      .primaryKey()
      .references(() => comments.id, { onDelete: 'cascade' }),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    issueId: text('issue_id').notNull(),
    /** What both sides agreed on last. */
    agreed: jsonb('agreed').$type<SharedFields>().notNull(),
    /** The other side's revision that was agreed on. */
    version: integer('version').notNull(),
    /** Answers that the other side has been told, by GUID. */
    notes: jsonb('notes').$type<string[]>().notNull().default([]),
    /** What the other side says where both have changed the same; null without a conflict. */
    conflict: jsonb('conflict').$type<Partial<SharedFields>>(),
  },
  (table) => [uniqueIndex('tracked_issues_issue').on(table.projectId, table.issueId)],
);

/** Keys in the store that no revision holds: what is being stored just now, and what is to be removed. */
export const storeLeftovers = pgTable('store_leftovers', {
  key: text('key').primaryKey(),
  /** From when on it may be removed. */
  dueAt: instant('due_at').notNull(),
  /** No revision will hold it any more. */
  isGivenUp: boolean('is_given_up').notNull().default(false),
});

/** Where the Socket.IO cluster adapter keeps messages that are too long for a notification. */
export const socketAttachments = pgTable('socket_io_attachments', {
  id: bigserial('id', { mode: 'bigint' }).primaryKey(),
  createdAt: instant('created_at').defaultNow(),
  payload: bytes('payload'),
});

/** Requests that were answered, by the key that came with them: asked again, they are answered the same. */
export const answeredRequests = pgTable(
  'answered_requests',
  {
    key: text('key').primaryKey(),
    about: text('about').notNull(),
    /** Null while it is being done. */
    status: integer('status'),
    body: jsonb('body').$type<unknown>(),
    at: instant('at').notNull(),
  },
  (table) => [index('answered_requests_at').on(table.at)],
);

/** Tries at the doors, as the limits of the library count them. */
export const doorTries = pgTable('door_tries', {
  key: text('key').primaryKey(),
  points: integer('points').notNull().default(0),
  /** Milliseconds since 1970; null for ever. */
  expire: bigint('expire', { mode: 'number' }),
});

/** Who is connected to which web node, in a meeting; a node says it again and again. */
export const meetingPresence = pgTable(
  'meeting_presence',
  {
    meetingId: uuid('meeting_id')
      .notNull()
      .references(() => meetings.id, { onDelete: 'cascade' }),
    participant: text('participant').notNull(),
    node: uuid('node').notNull(),
    seenAt: instant('seen_at').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.meetingId, table.participant, table.node] }),
    index('meeting_presence_node').on(table.node),
  ],
);
