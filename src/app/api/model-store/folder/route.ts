import Joi from 'joi';
import { browse } from '@/server/model-store/connections';
import { answering, readQuery } from '../../answering';

const schema = Joi.object<{ id: string }>({ id: Joi.string().max(200).default('root') });

/** A folder of the account's model store. */
export const GET = answering(({ request, actor }) => browse(actor, readQuery(request, schema).id));
