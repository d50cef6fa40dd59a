import type { Comment } from '../project/comment';

/** What is said in tests of BCF; what a test does not say of it is as here. */
export function testComment(change: Partial<Comment>): Comment {
  return {
    id: '01a22739-823a-77ba-9951-ee53235171c1',
    guid: '01a22739-823a-77ba-9951-ee53235171c1',
    number: 7,
    meetingId: null,
    replyTo: null,
    text: 'Lower the sill\nto 600 mm',
    author: 'Ines',
    guest: false,
    anchor: { element: { model: 'm', guid: 'g' }, point: [1, 2, 3] },
    elementName: 'Window 3',
    hasView: true,
    hasPicture: false,
    files: [],
    viewpointId: null,
    confirmedBy: [],
    conflict: null,
    isOwn: false,
    kind: 'action',
    status: 'in-work',
    assignee: { id: 'm', name: 'Mikko', email: 'mikko@karras.example' },
    dueOn: '2026-12-24',
    priority: 'high',
    editedAt: null,
    createdAt: '2026-11-01T10:00:00.000Z',
    ...change,
  };
}
