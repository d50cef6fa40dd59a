import { expect, it } from 'vitest';
import { ACTIONS, may, ROLES, type Action, type Role } from './rights';

/** Written out on purpose: a change of rights must be made twice, here as what is wanted. */
const WANTED: Record<Role, Record<Action, boolean>> = {
  lead: {
    'project.read': true,
    'model.publish': true,
    'model.take': true,
    'viewpoint.edit': true,
    'link.manage': true,
    'meeting.lead': true,
    'meeting.join': true,
    'comment.read': true,
    'comment.write': true,
    'comment.close': true,
    'minutes.read': true,
  },
  designer: {
    'project.read': true,
    'model.publish': true,
    'model.take': true,
    'viewpoint.edit': true,
    'link.manage': false,
    'meeting.lead': false,
    'meeting.join': true,
    'comment.read': true,
    'comment.write': true,
    'comment.close': true,
    'minutes.read': true,
  },
  'guest-edit': {
    'project.read': true,
    'model.publish': false,
    'model.take': false,
    'viewpoint.edit': true,
    'link.manage': false,
    'meeting.lead': false,
    'meeting.join': true,
    'comment.read': true,
    'comment.write': true,
    'comment.close': true,
    'minutes.read': true,
  },
  'guest-comment': {
    'project.read': true,
    'model.publish': false,
    'model.take': false,
    'viewpoint.edit': false,
    'link.manage': false,
    'meeting.lead': false,
    'meeting.join': true,
    'comment.read': true,
    'comment.write': true,
    'comment.close': false,
    'minutes.read': false,
  },
  'guest-look': {
    'project.read': true,
    'model.publish': false,
    'model.take': false,
    'viewpoint.edit': false,
    'link.manage': false,
    'meeting.lead': false,
    'meeting.join': true,
    'comment.read': true,
    'comment.write': false,
    'comment.close': false,
    'minutes.read': false,
  },
};

it.each(ROLES.flatMap((role) => ACTIONS.map((action) => [role, action] as const)))('%s, %s', (role, action) => {
  expect(may(role, action)).toBe(WANTED[role][action]);
});
