import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import Joi from 'joi';

export interface Note {
  key: string;
  text: string;
  author: string;
  at: string;
}

export interface Issue {
  id: string;
  version: number;
  /** Place of its last change among all changes. */
  seq: number;
  body: string;
  type: string;
  state: string;
  owner: string;
  due: string;
  urgency: string;
  deleted: boolean;
  link: string;
  notes: Note[];
}

interface Kept {
  seq: number;
  issues: Issue[];
  /** By Idempotency-Key the issue that it made. */
  keys: Record<string, string>;
}

export const TYPES = ['note', 'question', 'decision', 'task'];
export const STATES = ['todo', 'doing', 'review', 'done', 'again'];
export const URGENCIES = ['low', 'normal', 'high'];

const fields = {
  body: Joi.string().min(1).max(20_000),
  type: Joi.valid(...TYPES),
  state: Joi.valid(...STATES),
  owner: Joi.string().allow('').max(200),
  due: Joi.string()
    .allow('')
    .pattern(/^\d{4}-\d{2}-\d{2}$/),
  urgency: Joi.valid(...URGENCIES),
  deleted: Joi.boolean(),
  link: Joi.string().allow('').max(2000),
};
const draft = Joi.object(fields).fork('body', (body) => body.required());
const change = Joi.object(fields).min(1);
const note = Joi.object({
  key: Joi.string().uuid(),
  text: Joi.string().min(1).max(20_000).required(),
  author: Joi.string().allow('').max(200).default(''),
  at: Joi.string().isoDate(),
});

/** What a request asks for that cannot be done, with the status that says so. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** All issues, kept in one file of a folder. */
export class Issues {
  private constructor(
    private readonly path: string,
    private readonly kept: Kept,
  ) {}

  static async open(folder: string): Promise<Issues> {
    const path = join(folder, 'issues.json');
    const kept = existsSync(path)
      ? (JSON.parse(await readFile(path, 'utf8')) as Kept)
      : { seq: 0, issues: [], keys: {} };
    return new Issues(path, kept);
  }

  get all(): readonly Issue[] {
    return this.kept.issues;
  }

  changedSince(cursor: string): { cursor: string; issues: Issue[] } {
    const since = Number(cursor) || 0;
    return {
      cursor: String(this.kept.seq),
      issues: this.kept.issues.filter(({ seq }) => seq > since).sort((a, b) => a.seq - b.seq),
    };
  }

  async make(body: unknown, key: string | undefined): Promise<Issue> {
    const known = key && this.kept.keys[key];
    if (known) return this.find(known);
    const values = checked(draft, body);
    const issue: Issue = {
      id: String(this.kept.issues.length + 1),
      version: 0,
      seq: 0,
      body: '',
      type: 'note',
      state: 'todo',
      owner: '',
      due: '',
      urgency: 'normal',
      deleted: false,
      link: '',
      notes: [],
      ...values,
    };
    this.kept.issues.push(issue);
    if (key) this.kept.keys[key] = issue.id;
    return this.keep(issue);
  }

  async change(id: string, body: unknown, version: string | undefined): Promise<Issue> {
    const issue = this.find(id);
    if (version !== undefined && version !== String(issue.version))
      throw new Refused(412, 'Somebody else has changed it.');
    return this.keep(Object.assign(issue, checked(change, body)));
  }

  async addNote(id: string, body: unknown): Promise<Issue> {
    const issue = this.find(id);
    const values = checked(note, body) as Partial<Note> & { text: string; author: string };
    if (issue.notes.some(({ key }) => key === values.key)) return issue;
    issue.notes.push({ key: randomUUID(), at: new Date().toISOString(), ...values });
    return this.keep(issue);
  }

  private find(id: string): Issue {
    const issue = this.kept.issues.find((one) => one.id === id);
    if (!issue) throw new Refused(404, 'There is no such issue.');
    return issue;
  }

  private async keep(issue: Issue): Promise<Issue> {
    issue.version++;
    issue.seq = ++this.kept.seq;
    // Under another name until it is whole.
    await writeFile(`${this.path}.part`, JSON.stringify(this.kept));
    await rename(`${this.path}.part`, this.path);
    return issue;
  }
}

function checked(schema: Joi.ObjectSchema, body: unknown): Record<string, unknown> {
  const { error, value } = schema.validate(body) as { error?: Error; value: Record<string, unknown> };
  if (error) throw new Refused(400, error.message);
  return value;
}
