import { BROKEN, STAMP_COLUMN, type Table, widthProblem } from '../../connect/files';
import { hashOf } from '../../core/catalogue';
import { fold } from '../../core/copy';
import { type ValueOf, valueFields, valueInCell } from '../../core/fields';
import { uniqueNames, type WrittenCell } from '../../core/lists';
import { digitsOf } from '../../core/money';
import type { Instant } from '../../core/units';
import type { Assortment } from '../memory/assortment';
import { currencyAt, listingReaders } from '../memory/listing-fields';
import { cellFieldsOf, type FieldId, type ListingField } from '../quoting/listing-cells';
import { marketOf } from '../quoting/worth';
import { type Cell, sameText } from './cells';

const SKU = 'SKU';
const MARKETPLACE = 'Marketplace';

/** A text as it is compared: what a spreadsheet does to a number is no edit. */
const comparable = (text: string, { number }: Pick<ListingField, 'number'>): string => {
  const same = sameText(text);
  return number && /^-?\d+(\.\d+)?$/.test(same) ? String(Number(same)) : same;
};

const stampOf = (text: string, field: ListingField): string => hashOf(comparable(text, field)).toString(36);

/** Fields that are told besides what can be edited. */
function toldBeside(fields: readonly ListingField[]) {
  const edited = new Set([SKU, MARKETPLACE, ...fields.map((f) => f.name)].map(fold));
  return valueFields('listing').filter(({ name }) => !edited.has(fold(name)));
}

/** The header row: no two columns have one name. */
const headerFor = (fields: readonly ListingField[]): string[] =>
  uniqueNames([
    SKU,
    MARKETPLACE,
    ...fields.map((f) => f.name),
    ...toldBeside(fields).map(({ name }) => `${name} (read-only)`),
    STAMP_COLUMN,
  ]);

/**
 * Listings as a table to be edited elsewhere: a header row, then a row for each, with every field that can be edited, and
 * what is told besides. Numbers are numbers. The last column says what stood in each cell.
 */
export function editRows(assortment: Assortment, ids: readonly string[], now: Instant): WrittenCell[][] {
  const { shop } = assortment;
  const fields = cellFieldsOf(shop);
  const beside = toldBeside(fields);
  const read = listingReaders(assortment, now);
  const rows = ids.flatMap((id) => {
    const full = assortment.get(id);
    if (!full) return [];
    const { listing } = full;
    const place = assortment.placeOf(id);
    const cells = fields.map((field) => field.read(full, shop));
    const market = marketOf(shop, listing.marketplace)?.name ?? listing.marketplace;
    const written = cells.map((text, k) =>
      fields[k]!.number && /^-?\d+(\.\d+)?$/.test(text) ? Number(text) : text,
    );
    const told = beside.map(({ id }) => cellAt(assortment, read, place, id));
    return [
      [listing.sku, market, ...written, ...told, cells.map((text, k) => stampOf(text, fields[k]!)).join('.')],
    ];
  });
  return [headerFor(fields), ...rows];
}

/** A value that is told, as a cell of a file has it. */
const cellAt = (
  assortment: Assortment,
  read: ReturnType<typeof listingReaders>,
  place: number,
  field: ValueOf<'listing'>,
) => valueInCell(field, read[field](place), digitsOf(currencyAt(assortment)(place, field)));

/** Fields whose text may have several lines. */
const SEVERAL_LINES: ReadonlySet<FieldId> = new Set(['description', 'pictures', 'tags']);

/** The edits in a file that was changed elsewhere. */
export interface EditedFile {
  readonly cells: readonly Cell[];
  /** Cells that are empty there and not here: they empty their fields only where that is said. */
  readonly emptied: readonly Cell[];
  /** Rows or cells that are not taken, with why. */
  readonly refused: readonly { readonly line: number; readonly sku: string; readonly reason: string }[];
  readonly rows: number;
  /** Whether it says what stood in each cell: without, what changed here since cannot be told. */
  readonly stamped: boolean;
  /** The line in which the file breaks off; null where it does not. */
  readonly brokenAt: number | null;
}

export type ReadEdits =
  | { readonly ok: true; readonly file: EditedFile }
  | { readonly ok: false; readonly reason: string };

const MOST_ROWS = 50_000;

/**
 * Compares a table with the shop as it is: only cells that were edited there are asked for. One that changed here as well
 * is refused; one that changed here alone is left as it is. Rows whose number of cells is not the header's are refused, as
 * their values may stand in wrong columns, and the row in which the file breaks off.
 */
export function readEdits(assortment: Assortment, { rows: table, brokenAt }: Table): ReadEdits {
  const [head, ...rows] = table;
  const header = head?.cells;
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
  const fields = cellFieldsOf(shop);
  const names = headerFor(fields).slice(2);
  const columns = fields.flatMap((field, k) => {
    const place = at(names[k]!);
    return place < 0 ? [] : [{ field, k, at: place }];
  });
  const twice = header.find(
    (h, i) => h.trim() && header.findIndex((o) => fold(o.trim()) === fold(h.trim())) !== i,
  );
  if (twice) return { ok: false, reason: `Two columns are called “${twice}”.` };
  if (!columns.length)
    return {
      ok: false,
      reason: `It has no column that can be edited: ${fields.map((f) => f.name).join(', ')}.`,
    };
  const marketIds = new Map<string, string>();
  for (const c of shop.connections.values()) if (c.role === 'marketplace') marketIds.set(fold(c.name), c.id);

  const cells: Cell[] = [];
  const emptied: Cell[] = [];
  const refused: EditedFile['refused'][number][] = [];
  const seen = new Set<string>();
  for (const { line, cells: row } of rows) {
    const sku = (row[skuAt] ?? '').trim();
    const market = (row[marketAt] ?? '').trim();
    const id = `${marketIds.get(fold(market)) ?? market}:${sku}`;
    const full = assortment.get(id);
    const refuse = (reason: string) => refused.push({ line, sku, reason });
    const shifted = line === brokenAt ? BROKEN : widthProblem(row, header);
    if (shifted) {
      refuse(shifted);
      continue;
    }
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
      if (/[\r\n]/.test(text.trim()) && !SEVERAL_LINES.has(column.field.id)) {
        refuse(`${column.field.name} has several lines: a quotation mark may be missing.`);
        continue;
      }
      const now = column.field.read(full, shop);
      if (comparable(text, column.field) === comparable(now, column.field)) continue;
      const stamp = stamps.length === fields.length ? stamps[column.k]! : null;
      // It was left there as it was written, and changed here since.
      if (stamp === stampOf(text, column.field)) continue;
      if (stamp !== null && stamp !== stampOf(now, column.field))
        refuse(
          `${column.field.name} changed here since it was written: “${short(now)}”. The file says “${short(text)}”.`,
        );
      else
        (text.trim() ? cells : emptied).push({
          listing: id,
          field: column.field.id,
          text: text.trim() ? text.replace(/\r\n?/g, '\n') : '',
        });
    }
  }
  return {
    ok: true,
    file: { cells, emptied, refused, rows: rows.length, stamped: stampAt >= 0, brokenAt },
  };
}

const short = (text: string) => (text.length > 60 ? `${text.slice(0, 60)}…` : text);
