import { BROKEN, tableOfText, widthProblem } from '../../connect/files';
import { fieldKey, plainText } from '../../core/copy';
import { asWritten, isShortForm } from '../../core/lists';
import { countOf } from '../../core/units';
import { applyChange, type Product, type RowChange } from '../../store';
import { nowOf, type Work } from '../context/work';
import { queueChanges } from '../listings/publish';
import { type Assortment, caughtUp } from '../memory/assortment';
import { productTitle } from '../quoting/copy';
import { isOnBench } from '../quoting/listing-standing';

/** A keyword sheet: a row for each product, found by SKU or barcode; each other column is a field of copy templates. */
export interface Sheet {
  readonly columns: readonly string[];
  /** Products of which something would change. */
  readonly changes: readonly {
    readonly product: string;
    readonly title: string;
    readonly keywords: Product['keywords'];
    /** Columns that change, with the value before and after. */
    readonly cells: readonly (readonly [column: string, before: string, after: string])[];
  }[];
  readonly unchanged: number;
  readonly refused: readonly { readonly line: number; readonly key: string; readonly reason: string }[];
}

export type ReadSheet =
  | { readonly ok: true; readonly sheet: Sheet }
  | { readonly ok: false; readonly reason: string };

const MOST_ROWS = 20_000;
const MOST_COLUMNS = 40;
const LONGEST_CELL = 400;
const MOST_CHARACTERS = 5_000_000;

/** Columns by which a row may be found. */
const KEYS = ['sku', 'barcode', 'gtin', 'ean', 'supplier sku', 'item'];

/**
 * Reads a sheet as it is pasted from a spreadsheet or lies in a CSV file: tabs, commas or semicolons, a header row. Nothing is
 * changed. @param emptying whether an empty cell empties its field; else it says nothing of it
 */
export function readSheet(assortment: Assortment, text: string, emptying = false): ReadSheet {
  if (text.length > MOST_CHARACTERS) return { ok: false, reason: 'It is larger than 5 MB. Split it.' };
  const { rows: all, brokenAt } = tableOfText(text);
  const [head, ...rows] = all;
  const header = head?.cells;
  if (!header || !rows.length)
    return {
      ok: false,
      reason: 'It needs a header row, such as SKU and Keyword, and a row for each product.',
    };
  if (rows.length > MOST_ROWS) return { ok: false, reason: `It has more than ${MOST_ROWS} rows.` };
  if (header.length > MOST_COLUMNS) return { ok: false, reason: `It has more than ${MOST_COLUMNS} columns.` };
  const names = header.map((h) => fieldKey(plainText(h)));
  const keyAt = Math.max(
    0,
    names.findIndex((n) => KEYS.includes(n)),
  );
  const columns = names.flatMap((name, at) => (name && at !== keyAt ? [{ name, at }] : []));
  if (!columns.length)
    return {
      ok: false,
      reason: 'It has one column alone. The first is the SKU, the others are fields, such as Keyword.',
    };
  const twice = columns.find((c, i) => columns.findIndex((other) => other.name === c.name) !== i);
  if (twice) return { ok: false, reason: `Two columns are called “${twice.name}”.` };

  const productOf = keysOf(assortment);
  const said = new Map<string, Map<string, string>>();
  const refused: Sheet['refused'][number][] = [];
  for (const { line, cells } of rows) {
    const key = plainText(asWritten(cells[keyAt] ?? ''));
    const wrong = line === brokenAt ? BROKEN : widthProblem(cells, header);
    if (wrong) {
      refused.push({ line, key, reason: wrong });
      continue;
    }
    const found = productOf.get(key.toLowerCase());
    if (!key) refused.push({ line, key, reason: 'It has no SKU.' });
    else if (isShortForm(key))
      refused.push({ line, key, reason: 'A spreadsheet shortened the barcode. Format the column as text.' });
    else if (found === undefined) refused.push({ line, key, reason: 'No product has this SKU or barcode.' });
    else if (found === null)
      refused.push({ line, key, reason: 'Several products have this SKU or barcode.' });
    else {
      const own = said.get(found) ?? new Map<string, string>();
      for (const { name, at } of columns) {
        const value = plainText(asWritten(cells[at] ?? '')).slice(0, LONGEST_CELL);
        if (!value && !emptying) continue;
        const other = own.get(name);
        if (other !== undefined && other !== value)
          refused.push({ line, key, reason: `“${name}”: a row before says “${other}” of the same product.` });
        else own.set(name, value);
      }
      said.set(found, own);
    }
  }
  const changes: Sheet['changes'][number][] = [];
  for (const [id, own] of said) {
    const { product } = assortment.rowsAt(assortment.ofProducts([id]))[0]!;
    const cells = [...own].flatMap(([name, after]) => {
      const before = product.keywords[name] ?? '';
      return before === after ? [] : [[name, before, after] as const];
    });
    if (!cells.length) continue;
    const keywords = Object.fromEntries(
      [...new Map([...Object.entries(product.keywords), ...own])].filter(([, value]) => value),
    );
    changes.push({ product: id, title: productTitle(product), keywords, cells });
  }
  return {
    ok: true,
    sheet: { columns: columns.map((c) => c.name), changes, unchanged: said.size - changes.length, refused },
  };
}

/** The keywords that products have, as a sheet of their own. @param most rows; of more `left` says how many */
export function keptSheet(
  assortment: Assortment,
  most: number,
): {
  readonly header: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly left: number;
} {
  const products = new Map<string, readonly [sku: string, keywords: Product['keywords']]>();
  for (const [, { product, variant }] of assortment.all())
    if (!products.has(product.id) && Object.keys(product.keywords).length)
      products.set(product.id, [variant.sku, product.keywords]);
  const names = [...new Set([...products.values()].flatMap(([, keywords]) => Object.keys(keywords)))].sort();
  const all = [...products.values()].sort(([a], [b]) => (a < b ? -1 : 1));
  return {
    header: ['SKU', ...names],
    rows: all.slice(0, most).map(([sku, keywords]) => [sku, ...names.map((name) => keywords[name] ?? '')]),
    left: Math.max(0, all.length - most),
  };
}

/** Products by all that a row may be found by; null where several have it. */
function keysOf(assortment: Assortment): Map<string, string | null> {
  const keys = new Map<string, string | null>();
  const add = (key: string | null | undefined, product: string) => {
    if (!key) return;
    const known = keys.get(key.toLowerCase());
    keys.set(key.toLowerCase(), known === undefined || known === product ? product : null);
  };
  for (const [, { listing, product, variant, source }] of assortment.all()) {
    add(listing.sku, product.id);
    add(variant.sku, product.id);
    add(variant.gtin, product.id);
    add(source?.item, product.id);
    add(product.group, product.id);
  }
  return keys;
}

/** Takes a sheet over, as one change: its columns are fields of its products from now on. @returns products that changed */
export async function takeSheet(
  work: Work,
  text: string,
  emptying = false,
): Promise<{ changed: number; sent: number }> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const read = readSheet(assortment, text, emptying);
    if (!read.ok) throw new Error(read.reason);
    const { changes } = read.sheet;
    const listings = assortment
      .rowsAt(assortment.ofProducts(changes.map((c) => c.product)))
      .filter((f) => f.template)
      .map((f) => f.listing);
    const rows: RowChange[] = [
      ...changes.map(
        ({ product, keywords, cells }) =>
          ({
            table: 'products',
            id: product,
            set: { keywords },
            says: `${cells.map(([name, , after]) => `${name}: ${after || 'nothing'}`).join(', ')}.`,
          }) as const,
      ),
      ...listings.flatMap((l) =>
        isOnBench(l) && l.approvedAt !== null
          ? [{ table: 'listings', id: l.id, set: { approvedAt: null }, says: 'Keywords changed.' } as const]
          : [],
      ),
    ];
    const name = `Keyword sheet for ${countOf(changes.length, 'product')}`;
    await applyChange(db, { by: 'person', name }, rows, nowOf(work));
    const { sent } = await queueChanges(
      work,
      listings.map((l) => l.id),
    );
    return { changed: changes.length, sent };
  });
}
