import { ELEMENT_COLUMNS } from '../elements/element-columns';
import { compactSet, type Clause, type Condition, type ElementSet, type Where } from '../elements/element-set';
import { asRecord } from '../elements/read-element-set';

/**
 * What to reveal, as it was stored before sets of elements had one language: branches that are withheld, parts of two
 * branches at once that are withheld or revealed, and single elements. The narrower decision counted, and a part was revealed
 * against its own two branches only.
 */
export function readOldRule(stored: Record<string, unknown>): ElementSet {
  const branches = list(stored.withheld).flatMap(readBranch);
  const parts = list(stored.parts).flatMap((part) => {
    const { within, revealed } = asRecord(part);
    const where = list(within).flatMap(readBranch);
    return where.length === 2 ? [{ where, revealed: revealed === true }] : [];
  });
  const clauses: Clause[] = [{ also: [] }, ...branches.map((branch) => ({ except: [branch] }))];
  for (const { where } of parts.filter(({ revealed }) => revealed)) {
    const third = branches.filter(({ is }) => where.every((own) => own.is !== is));
    clauses.push({ also: where }, ...third.map((branch) => ({ except: [...where, branch] })));
  }
  clauses.push(...parts.filter(({ revealed }) => !revealed).map(({ where }) => ({ except: where })));
  clauses.push(...elements(stored.revealed).map((also) => ({ also })));
  clauses.push(...elements(stored.elements).map((except) => ({ except })));
  return compactSet(clauses);
}

function readBranch(stored: unknown): Condition[] {
  const { column, value } = asRecord(stored);
  const is = ELEMENT_COLUMNS.find((one) => one === column);
  return is && typeof value === 'string' ? [{ is, value }] : [];
}

function elements(stored: unknown): Where[] {
  const guids = list(stored).map(String);
  return guids.length > 0 ? [[{ is: 'element', guids }]] : [];
}

function list(value: unknown): unknown[] {
  return Array.isArray(value) ? value : [];
}
