import { STAMP_COLUMN } from '../../connect/files';
import { hashOf } from '../../core/catalogue';
import { fold } from '../../core/copy';
import type { Assortment } from '../assortment/assortment';
import { marketOf } from '../shop/quote';
import { type Cell, sameText } from './cells';
import { fieldsOf } from './fields';

const SKU = 'SKU';
const MARKETPLACE = 'Marketplace';

const stampOf = (text: string): string => hashOf(sameText(text)).toString(36);

/**
 * Listings as a table to be edited elsewhere: a header row, then a row for each, with every field that can be edited. The
 * last column says what stood in each cell.
 */
export function editRows(assortment: Assortment, ids: readonly string[]): string[][] {
  const { shop } = assortment;
  const fields = fieldsOf(shop);
  const rows = ids.flatMap((id) => {
    const full = assortment.get(id);
    if (!full) return [];
    const { listing } = full;
    const cells = fields.map((field) => field.read(full, shop));
    const market = marketOf(shop, listing.marketplace)?.name ?? listing.marketplace;
    return [[listing.sku, market, ...cells, cells.map(stampOf).join('.')]];
  });
  return [[SKU, MARKETPLACE, ...fields.map((f) => f.name), STAMP_COLUMN], ...rows];
}

/** What a file that was edited elsewhere asks for. */
export interface EditedFile {
  readonly cells: readonly Cell[];
  /** Rows or cells that are not taken, with why. */
  readonly refused: readonly { readonly line: number; readonly sku: string; readonly reason: string }[];
  readonly rows: number;
  /** Whether it says what stood in each cell: without, what changed here since cannot be told. */
  readonly stamped: boolean;
}

export type ReadEdits =
  | { readonly ok: true; readonly file: EditedFile }
  | { readonly ok: false; readonly reason: string };

const MOST_ROWS = 50_000;

/**
 * Compares a table with the shop as it is: only cells that were edited there are asked for. One that changed here as well
 * is refused; one that changed here alone is left as it is.
 */
export function readEdits(assortment: Assortment, table: readonly (readonly string[])[]): ReadEdits {
  const [header, ...rows] = table;
  if (!header || !rows.length) return { ok: false, reason: 'It has no rows under its header row.' };
  if (rows.length > MOST_ROWS) return { ok: false, reason: `It has more than ${MOST_ROWS} rows. Split it.` };
  const at = (name: string) => header.findIndex((h) => fold(h.trim()) === fold(name));
  const [skuAt, marketAt, stampAt] = [at(SKU), at(MARKETPLACE), at(STAMP_COLUMN)];
  if (skuAt < 0 || marketAt < 0)
    return {
      ok: false,
      reason: `The header row lacks ${[SKU, MARKETPLACE].filter((n) => at(n) < 0).join(' and ')}.`,
    };
  const { shop } = assortment;
  const fields = fieldsOf(shop);
  const columns = fields.flatMap((field, k) =>
    at(field.name) < 0 ? [] : [{ field, k, at: at(field.name) }],
  );
  if (!columns.length)
    return {
      ok: false,
      reason: `It has no column that can be edited: ${fields.map((f) => f.name).join(', ')}.`,
    };
  const marketIds = new Map<string, string>();
  for (const c of shop.connections.values()) if (c.role === 'marketplace') marketIds.set(fold(c.name), c.id);

  const cells: Cell[] = [];
  const refused: EditedFile['refused'][number][] = [];
  const seen = new Set<string>();
  for (const [i, row] of rows.entries()) {
    const line = i + 2;
    const sku = (row[skuAt] ?? '').trim();
    const market = (row[marketAt] ?? '').trim();
    const id = `${marketIds.get(fold(market)) ?? market}:${sku}`;
    const full = assortment.get(id);
    const refuse = (reason: string) => refused.push({ line, sku, reason });
    if (!full) {
      refuse(sku ? `There is no listing ${sku} on ${market || 'no marketplace'}.` : 'It has no SKU.');
      continue;
    }
    if (seen.has(id)) {
      refuse('A row before is about the same listing.');
      continue;
    }
    seen.add(id);
    const stamps = stampAt < 0 ? [] : (row[stampAt] ?? '').split('.');
    for (const column of columns) {
      const text = row[column.at] ?? '';
      const now = column.field.read(full, shop);
      if (sameText(text) === sameText(now)) continue;
      const stamp = stamps.length === fields.length ? stamps[column.k]! : null;
      // It was left there as it was written, and changed here since.
      if (stamp === stampOf(text)) continue;
      if (stamp !== null && stamp !== stampOf(now))
        refuse(
          `${column.field.name} changed here since it was written: “${short(now)}”. The file says “${short(text)}”.`,
        );
      else cells.push({ listing: id, field: column.field.id, text: text.replace(/\r\n?/g, '\n') });
    }
  }
  return { ok: true, file: { cells, refused, rows: rows.length, stamped: stampAt >= 0 } };
}

const short = (text: string) => (text.length > 60 ? `${text.slice(0, 60)}…` : text);
