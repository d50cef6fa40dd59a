import Joi from 'joi';
import { typedText } from '@/core/forms/typed-text-schema';
import { changeNote, deleteNote, shareNote, type NoteChange } from '@/server/review/notes';
import { answering, readBody } from '../../../../answering';

const schema = Joi.object<NoteChange>({
  text: typedText(4000, 'the note').optional(),
  passedTo: Joi.array().items(Joi.string().max(64)).max(100),
  takenAlong: Joi.valid(true),
}).min(1);

export const PATCH = answering(async ({ request, actor, params }) => {
  await changeNote(actor, params.id!, params.note!, await readBody(request, schema));
});

export const DELETE = answering(({ actor, params }) => deleteNote(actor, params.id!, params.note!));

/** Makes a comment of it, which everybody sees. */
export const POST = answering(async ({ actor, params }) => ({
  comment: await shareNote(actor, params.id!, params.note!),
}));
