/** Who somebody is within one project. Guests have no account: their link or meeting code decides. */
export const ROLES = ['lead', 'designer', 'guest-edit', 'guest-comment', 'guest-look'] as const;
export type Role = (typeof ROLES)[number];

export const ACTIONS = [
  'project.read',
  'model.publish',
  // Take revisions back, place models, make options, follow files: what changes that stands already.
  'model.manage',
  'model.take',
  'viewpoint.edit',
  'link.manage',
  'meeting.lead',
  'approval.ask',
  'exchange.manage',
  'meeting.join',
  'comment.read',
  'comment.write',
  'comment.close',
  'minutes.read',
] as const;
export type Action = (typeof ACTIONS)[number];

const ALLOWED: Record<Role, readonly Action[]> = {
  lead: ACTIONS,
  designer: [
    'project.read',
    'model.publish',
    'model.manage',
    'model.take',
    'viewpoint.edit',
    'meeting.join',
    'comment.read',
    'comment.write',
    'comment.close',
    'minutes.read',
  ],
  'guest-edit': [
    'project.read',
    'viewpoint.edit',
    'meeting.join',
    'comment.read',
    'comment.write',
    'comment.close',
    'minutes.read',
  ],
  'guest-comment': ['project.read', 'meeting.join', 'comment.read', 'comment.write'],
  'guest-look': ['project.read', 'meeting.join', 'comment.read'],
};

/** Whether a role may do something: the one table that every check goes through. */
export function may(role: Role, action: Action): boolean {
  return ALLOWED[role].includes(action);
}

/** What a share link grants. */
export const LINK_RIGHTS = ['look', 'comment', 'edit'] as const;
export type LinkRight = (typeof LINK_RIGHTS)[number];

export function roleOfLink(right: LinkRight): Role {
  return `guest-${right}`;
}

/** What a personal access token lets a program do in its owner's name, within the owner's own rights. */
export const TOKEN_RIGHTS = ['read', 'comment', 'publish'] as const;
export type TokenRight = (typeof TOKEN_RIGHTS)[number];

const TOKEN_ALLOWED: Record<TokenRight, readonly Action[]> = {
  read: ['project.read', 'comment.read', 'minutes.read', 'model.take'],
  comment: ['project.read', 'comment.read', 'comment.write', 'comment.close', 'minutes.read', 'model.take'],
  publish: ['project.read', 'comment.read', 'minutes.read', 'model.publish', 'model.take'],
};

export function tokenMay(right: TokenRight, action: Action): boolean {
  return TOKEN_ALLOWED[right].includes(action);
}
