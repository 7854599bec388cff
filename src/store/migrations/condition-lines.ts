import { fold } from '../../core/copy';
import { KINDS } from '../../core/fields';
import { type Condition, type FieldKinds, readCondition } from '../../core/query';

/** A search line that had neither `or` nor brackets, as a line of today that means the same. */
const ofToday = (line: string): string =>
  line
    .split('"')
    .map((part, k) =>
      k % 2 ? part : part.replace(/(^|\s)(-?)\(+/g, '$1$2').replace(/(^|\s)(-?)(or)(?=\s|$)/gi, '$1$2"$3"'),
    )
    .join('"');

/** A condition with some of its leaves as others. */
const mapped = (condition: Condition, to: (leaf: Condition) => Condition): Condition =>
  'all' in condition
    ? { all: condition.all.map((one) => mapped(one, to)) }
    : 'any' in condition
      ? { any: condition.any.map((one) => mapped(one, to)) }
      : 'none' in condition
        ? { none: condition.none.map((one) => mapped(one, to)) }
        : to(condition);

/** A connection, as far as it is known by its name. */
export interface Named {
  readonly id: string;
  readonly name?: string;
  readonly role: string;
}

/**
 * Goods that were found by a search line, as a condition. Listings' suppliers were looked for by their ids, now by their
 * names: where these find others, the names of those that were meant stand there.
 */
export function goodsOfLine(line: string, connections: readonly Named[]): Condition {
  const suppliers = connections.filter((c) => c.role === 'supplier');
  return mapped(readCondition(ofToday(line), KINDS.goods), (leaf) => {
    if (!('field' in leaf) || leaf.field !== 'supplier') return leaf;
    const wanted = fold(leaf.is);
    const meant = suppliers.filter((s) => fold(s.id).includes(wanted));
    const found = suppliers.filter((s) => fold(s.name ?? s.id).includes(wanted));
    if (meant.length === found.length && meant.every((s) => found.includes(s))) return leaf;
    return { any: meant.map((s) => ({ field: 'supplier', is: s.name ?? s.id })) };
  });
}

/** Several SKUs side by side had to hold together. */
const { sku: _, ...ITEM_WITHOUT_SKU } = KINDS.item as FieldKinds & { sku: unknown };

export const itemsOfLine = (line: string): Condition => readCondition(ofToday(line), ITEM_WITHOUT_SKU);

/** The parts of rows that were search lines, in rows and in what can be taken back. */
export interface WithLines {
  filter?: unknown;
  query?: unknown;
  keptOff?: unknown;
  presets?: unknown;
}

/** Puts conditions in place of the search lines of a plan, a marketplace or a saved search. */
export function readLines(row: WithLines, connections: readonly Named[]): void {
  const goods = (line: unknown) => (typeof line === 'string' ? goodsOfLine(line, connections) : line);
  if ('filter' in row) row.filter = goods(row.filter);
  if (typeof row.query === 'string') row.query = itemsOfLine(row.query);
  if (Array.isArray(row.keptOff)) row.keptOff = row.keptOff.map(goods);
  if (Array.isArray(row.presets))
    row.presets = row.presets.map((p: { filter: unknown }) => ({ ...p, filter: goods(p.filter) }));
}
