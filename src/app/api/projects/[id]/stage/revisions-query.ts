import Joi from 'joi';

const MOST = 200;

/** Ids of revisions, apart by commas. */
export const revisionsQuery = Joi.object<{ revision?: string }>({
  revision: Joi.string()
    .pattern(/^[0-9a-f-]{36}(,[0-9a-f-]{36})*$/)
    .max(37 * MOST),
});
