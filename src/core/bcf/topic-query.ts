/** A topic as the BCF-API hands it out, as far as one can ask for it. */
export type Queried = Record<string, unknown>;

/** What of a list is wanted, as OData writes it. */
export interface TopicQuery {
  $filter?: string;
  $orderby?: string;
  $top?: number;
  $skip?: number;
}

/** A query that is not understood; the message is for programmers. */
export class QueryError extends Error {
  override readonly name = 'QueryError';
}

const FIELDS = new Set([
  'guid',
  'topic_type',
  'topic_status',
  'title',
  'priority',
  'index',
  'creation_date',
  'creation_author',
  'modified_date',
  'modified_author',
  'assigned_to',
  'due_date',
]);

type Test = (topic: Queried) => boolean;

/**
 * Those topics that a query asks for, in its order. Of OData's filters comparisons with texts, numbers and times, joined by
 * `and`, `or`, `not` and brackets, and `contains`.
 *
 * @throws QueryError
 */
export function queryTopics<T extends Queried>(topics: readonly T[], query: TopicQuery): T[] {
  const test = query.$filter === undefined ? () => true : parseFilter(query.$filter);
  const found = topics.filter(test);
  if (query.$orderby) found.sort(parseOrder(query.$orderby));
  const from = query.$skip ?? 0;
  return found.slice(from, query.$top === undefined ? undefined : from + query.$top);
}

function parseOrder(text: string): (a: Queried, b: Queried) => number {
  const keys = text.split(',').map((part) => {
    const [name = '', direction = 'asc', ...rest] = part.trim().split(/\s+/);
    if (!FIELDS.has(name) || !/^(asc|desc)$/i.test(direction) || rest.length > 0)
      throw new QueryError(`$orderby is not understood at “${part.trim()}”.`);
    return { name, sign: direction.toLowerCase() === 'desc' ? -1 : 1 };
  });
  return (a, b) => {
    for (const { name, sign } of keys) {
      const order = compare(a[name], b[name]);
      if (order !== 0) return sign * order;
    }
    return 0;
  };
}

/** What is not there comes first. */
function compare(a: unknown, b: unknown): number {
  if (a == null || b == null) return a == null ? (b == null ? 0 : -1) : 1;
  if (typeof a === 'number' && typeof b === 'number') return a - b;
  return String(a).localeCompare(String(b));
}

const TOKEN =
  /\s*(?:(\(|\)|,)|'((?:[^']|'')*)'|(\d{4}-\d{2}-\d{2}(?:T[\d:.]+(?:Z|[+-]\d{2}:?\d{2})?)?)|(-?\d+(?:\.\d+)?)|([A-Za-z_]+))/y;

type Token = { kind: 'sign' | 'word'; text: string } | { kind: 'value'; value: string | number; isTime?: true };

function tokensOf(text: string): Token[] {
  const tokens: Token[] = [];
  TOKEN.lastIndex = 0;
  while (TOKEN.lastIndex < text.trimEnd().length) {
    const at = TOKEN.lastIndex;
    const match = TOKEN.exec(text);
    if (!match) throw new QueryError(`$filter is not understood at “${text.slice(at, at + 20)}”.`);
    const [, sign, quoted, time, number, word] = match;
    if (sign !== undefined) tokens.push({ kind: 'sign', text: sign });
    else if (quoted !== undefined) tokens.push({ kind: 'value', value: quoted.replaceAll("''", "'") });
    else if (time !== undefined) tokens.push({ kind: 'value', value: new Date(time).toISOString(), isTime: true });
    else if (number !== undefined) tokens.push({ kind: 'value', value: Number(number) });
    else tokens.push({ kind: 'word', text: word! });
  }
  return tokens;
}

/** As deep as brackets may be, so that a hostile filter fails alone. */
const DEEPEST = 50;

function parseFilter(text: string): Test {
  const tokens = tokensOf(text);
  let at = 0;
  let depth = 0;
  const isWord = (word: string) => {
    const token = tokens[at];
    return token?.kind === 'word' && token.text.toLowerCase() === word;
  };
  const isSign = (sign: string) => {
    const token = tokens[at];
    return token?.kind === 'sign' && token.text === sign;
  };
  const expect = (sign: string) => {
    if (!isSign(sign)) throw new QueryError(`$filter lacks a “${sign}”.`);
    at++;
  };
  const field = (): string => {
    const token = tokens[at++];
    if (token?.kind !== 'word' || !FIELDS.has(token.text))
      throw new QueryError(`$filter names a field that is not known: “${token?.kind === 'word' ? token.text : ''}”.`);
    return token.text;
  };
  const value = () => {
    const token = tokens[at++];
    if (token?.kind !== 'value') throw new QueryError('$filter lacks a value.');
    return token;
  };
  const or = (): Test => {
    let test = and();
    while (isWord('or')) {
      at++;
      const [left, right] = [test, and()];
      test = (topic) => left(topic) || right(topic);
    }
    return test;
  };
  const and = (): Test => {
    let test = one();
    while (isWord('and')) {
      at++;
      const [left, right] = [test, one()];
      test = (topic) => left(topic) && right(topic);
    }
    return test;
  };
  const one = (): Test => {
    if (++depth > DEEPEST) throw new QueryError('$filter is too deep.');
    try {
      if (isWord('not')) {
        at++;
        const inner = one();
        return (topic) => !inner(topic);
      }
      if (isSign('(')) {
        at++;
        const inner = or();
        expect(')');
        return inner;
      }
      if (isWord('contains')) {
        at++;
        expect('(');
        const name = field();
        expect(',');
        const part = String(value().value).toLowerCase();
        expect(')');
        return (topic) =>
          String(topic[name] ?? '')
            .toLowerCase()
            .includes(part);
      }
      return comparison();
    } finally {
      depth--;
    }
  };
  const comparison = (): Test => {
    const name = field();
    const operator = tokens[at++];
    const wanted = value();
    const order = (topic: Queried) => {
      const there = topic[name];
      return compare(wanted.isTime && typeof there === 'string' ? new Date(there).toISOString() : there, wanted.value);
    };
    switch (operator?.kind === 'word' ? operator.text.toLowerCase() : '') {
      case 'eq':
        return (topic) => topic[name] != null && order(topic) === 0;
      case 'ne':
        return (topic) => topic[name] == null || order(topic) !== 0;
      case 'gt':
        return (topic) => topic[name] != null && order(topic) > 0;
      case 'ge':
        return (topic) => topic[name] != null && order(topic) >= 0;
      case 'lt':
        return (topic) => topic[name] != null && order(topic) < 0;
      case 'le':
        return (topic) => topic[name] != null && order(topic) <= 0;
      default:
        throw new QueryError('$filter compares by eq, ne, gt, ge, lt or le.');
    }
  };
  const test = or();
  if (at < tokens.length) throw new QueryError('$filter goes on where it should end.');
  return test;
}
