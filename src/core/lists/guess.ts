import { isGtin } from '../units';
import { hasWeightUnit, isShortened, isStockWord, readAmount, UNIT_WORDS } from './cells';
import {
  type FieldName,
  type Format,
  type ListKind,
  MANY,
  type Match,
  REASON_COLUMN,
  type Variants,
  type WeightUnit,
} from './match';
import { fieldByName, packByName, plainName, taxByName } from './words';

/** What the values of a column look like, as shares of its filled cells from 0 to 1. */
interface Look {
  readonly filled: number;
  readonly gtin: number;
  readonly amount: number;
  readonly whole: number;
  readonly stockWord: number;
  readonly weight: number;
  readonly address: number;
  readonly markup: number;
  readonly long: number;
  readonly words: number;
  readonly distinct: number;
  readonly path: number;
  /** Letters and figures without a blank: codes of items and groups. */
  readonly code: number;
}

/** A SKU has no more characters. */
export const LONGEST_SKU = 64;
/** Characters of a cell that are looked at: what it is shows in its first words. */
const LOOKED_AT = 300;

const share = (cells: readonly string[], is: (cell: string) => boolean) =>
  cells.length ? cells.filter(is).length / cells.length : 0;

function lookAt(values: readonly string[], decimal: '.' | ','): Look {
  const cells = values.map((v) => v.slice(0, LOOKED_AT).trim()).filter(Boolean);
  return {
    filled: values.length ? cells.length / values.length : 0,
    gtin: share(cells, (c) => isGtin(c.replace(/[\s-]/g, '')) || isShortened(c)),
    amount: share(cells, (c) => /[.,]\d{1,4}\D*$/.test(c) && readAmount(c, decimal, null).ok),
    whole: share(cells, (c) => /^\d{1,6}$/.test(c)),
    stockWord: share(cells, (c) => isStockWord(c) || /^(>\s*\d+|\d+\s*\+)$/.test(c)),
    weight: share(cells, hasWeightUnit),
    address: share(cells, (c) => /^https?:\/\/\S+$/i.test(c)),
    markup: share(cells, (c) => /<\/?\w+/.test(c)),
    long: share(cells, (c) => c.length > 60),
    words: share(cells, (c) => /\p{L}{3,}\s+\S+/u.test(c)),
    distinct: cells.length ? new Set(cells).size / cells.length : 0,
    code: share(cells, (c) => /^(?=.*\d)[\p{L}\d._/-]+$/u.test(c)),
    path: share(cells, (c) => /\S\s*[>/]\s*\S/.test(c) && !/^https?:/i.test(c)),
  };
}

/**
 * Which sign parts the decimals in a list's amounts: the one that stands more often before one, two or four
 * last digits.
 */
export function guessDecimal(cells: readonly string[]): '.' | ',' {
  let comma = 0;
  let point = 0;
  for (const cell of cells) {
    if (cell.length > 20 || /[a-z]{4}/i.test(cell)) continue;
    const match = /\d([.,])(\d{1,4})\D*$/.exec(cell.trim());
    if (!match) continue;
    // Three digits after the only mark may be thousands.
    if (match[2]!.length === 3 && (cell.match(/[.,]/g) ?? []).length === 1) continue;
    if (match[1] === ',') comma++;
    else point++;
  }
  return comma > point ? ',' : '.';
}

/** How well a column's values fit a field, whatever its name: from −9 for “cannot be” to about 5. */
function fitOf(field: FieldName, l: Look): number {
  if (l.filled === 0) return 0;
  const number = l.amount + l.whole;
  switch (field) {
    case 'gtin':
      return l.gtin > 0.6 ? 5 : l.gtin > 0.2 ? 2 : -3;
    case 'cost':
    case 'msrp':
    case 'map':
    case 'price':
      return l.gtin > 0.5 ? -5 : l.amount > 0.5 ? 2 : number > 0.5 ? 0 : -6;
    case 'stock':
      return l.gtin > 0.5 ? -5 : l.stockWord > 0.2 ? 4 : l.whole > 0.6 ? 1 : l.amount > 0.5 ? -3 : -4;
    case 'weight':
      return l.weight > 0.4 ? 5 : number > 0.6 && l.gtin < 0.5 ? 0 : -4;
    case 'picture':
      return l.address > 0.5 ? 3 : -4;
    case 'link':
      return l.address > 0.5 ? 1 : -6;
    case 'description':
      return l.markup > 0.3 ? 4 : l.long > 0.4 ? 2 : -1;
    case 'title':
      return l.address > 0.5 || number > 0.7
        ? -6
        : l.words > 0.5 && l.distinct > 0.3 && l.markup < 0.2
          ? 2
          : 0;
    case 'category':
      return l.path > 0.5 ? 3 : number > 0.8 || l.distinct > 0.9 ? -1 : 0;
    case 'sku':
      return l.distinct > 0.95 && l.words < 0.2 && l.address < 0.2 && l.gtin < 0.5 && l.amount < 0.5
        ? 2
        : l.words > 0.6 || l.amount > 0.5
          ? -4
          : -1;
    case 'brand':
    case 'option':
    case 'shipsFrom':
      return number > 0.9 && field !== 'option' ? -3 : l.long > 0.3 ? -4 : 0;
    case 'pack':
    case 'days':
      return number > 0.6 ? 0 : -2;
    default:
      return 0;
  }
}

/** Fields told by values alone, without a name that helps. */
const BY_VALUE: readonly FieldName[] = ['gtin', 'stock', 'weight', 'description', 'cost', 'picture'];

/**
 * The row among the first ones that looks most like names of columns; null where the first row is data
 * already.
 */
export function guessHeaderRow(rows: readonly (readonly string[])[]): number | null {
  let best: number | null = null;
  let most = 0;
  for (const [i, row] of rows.slice(0, 15).entries()) {
    const known = row.slice(0, LOOKED_AT).filter((c) => c.trim() && c.length < 50 && fieldByName(c)).length;
    if (known > most && known >= Math.min(2, row.length)) {
      most = known;
      best = i;
    }
  }
  if (best !== null) return best;
  const width = Math.max(...rows.map((r) => r.filter((c) => c.trim()).length), 0);
  const first = rows.findIndex((r) => r.filter((c) => c.trim()).length >= Math.max(2, width * 0.8));
  if (first < 0) return null;
  const texts = rows[first]!.filter((c) => c.trim());
  // Names have no figures, data below them mostly have.
  return texts.every((c) => !/\d/.test(c)) && rows.slice(first + 1).some((r) => r.some((c) => /\d/.test(c)))
    ? first
    : null;
}

function guessVariants(
  fields: readonly (FieldName | null)[],
  rows: readonly (readonly string[])[],
): Variants {
  if (fields.includes('parent')) return 'parent';
  const titleAt = fields.indexOf('title');
  const skuAt = fields.indexOf('sku');
  const titles = rows.map((r) => r[titleAt] ?? '');
  const repeated = titles.length > 1 && new Set(titles).size < titles.length * 0.9;
  if (fields.includes('option') && repeated) return 'title';
  const first = new Map<string, string>();
  let [stems, alike, others] = [0, 0, 0];
  for (const [k, r] of rows.entries()) {
    const stem = stemOf(r[skuAt] ?? '');
    if (stem === null) continue;
    stems++;
    const title = first.get(stem);
    if (title === undefined) first.set(stem, titles[k]!);
    else if (haveMuchInCommon(title, titles[k]!)) alike++;
    else others++;
  }
  // Many number all their goods as TW-100, TW-101: only what is called alike is one product.
  return stems > rows.length * 0.5 && first.size < stems * 0.7 && others < alike * 0.2 ? 'pattern' : 'none';
}

const wordSet = (title: string) => new Set(title.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []);

/** Whether two titles share at least half of the words of the shorter one. */
function haveMuchInCommon(a: string, b: string): boolean {
  const [x, y] = [wordSet(a), wordSet(b)];
  const shared = [...x].filter((word) => y.has(word)).length;
  return shared > 0 && shared * 2 >= Math.min(x.size, y.size);
}

/** The first part of a SKU before its last mark: `TS-100-RED` → `TS-100`; null where it has no such part. */
export function stemOf(sku: string): string | null {
  const match = sku.length > LONGEST_SKU ? null : /^(.*[A-Za-z0-9].*)[-_/.][A-Za-z0-9]{1,8}$/.exec(sku);
  return match?.[1] ?? null;
}

/**
 * Guesses how a list is to be read from the names of its columns and its first rows.
 * @param rows first rows of data, below the header
 * @param kind what the list tells, where that is known; guessed from the columns otherwise
 */
export function guessMatch(
  format: Format,
  header: readonly string[],
  rows: readonly (readonly string[])[],
  currency: string,
  kind?: ListKind,
): Match {
  const decimal = guessDecimal(rows.flat());
  const columns = header.map((name, i) => ({
    name,
    i,
    look: lookAt(
      rows.map((r) => r[i] ?? ''),
      decimal,
    ),
    named: name === REASON_COLUMN ? null : fieldByName(name),
  }));
  const claims: { i: number; field: FieldName; score: number }[] = [];
  for (const { name, i, look, named } of columns) {
    if (name === REASON_COLUMN) continue;
    if (named) {
      const score = named.sure * 4 + fitOf(named.field, look);
      if (score > 1) claims.push({ i, field: named.field, score });
      // A description may stand where the title is meant, a group where the parent is, a price where the
      // selling price is.
      if (named.field === 'description' && look.long < 0.3 && look.markup < 0.1)
        claims.push({ i, field: 'title', score: 3 + fitOf('title', look) });
      // A group is a category where its values are words, and a product's where they are codes.
      if (named.field === 'category' && look.words < 0.1 && look.path < 0.1 && look.code > 0.8)
        claims.push({ i, field: 'parent', score: score + 2 });
      if (named.field === 'cost' && kind === 'listings') claims.push({ i, field: 'price', score: score + 1 });
    }
    if (!named || named.sure < 2) {
      for (const field of BY_VALUE) {
        const score = fitOf(field, look);
        if (score >= (field === 'cost' ? 2 : 3))
          claims.push({ i, field, score: score - (field === 'cost' ? 1 : 0) });
      }
      if (/^(column \d+)?$/.test(plainName(name)))
        for (const field of ['sku', 'title'] as const)
          if (fitOf(field, look) >= 2) claims.push({ i, field, score: 1.5 });
    }
  }
  const fields: (FieldName | null)[] = header.map(() => null);
  for (const claim of claims.sort((a, b) => b.score - a.score || a.i - b.i)) {
    if (fields[claim.i] !== null || claim.score <= 0) continue;
    if (!MANY.includes(claim.field) && fields.includes(claim.field)) continue;
    fields[claim.i] = claim.field;
  }
  // Many lists call their title a description: where nothing else is the title and it is short, that is what
  // it is.
  const about = fields.indexOf('description');
  if (
    !fields.includes('title') &&
    about >= 0 &&
    columns[about]!.look.long < 0.5 &&
    columns[about]!.look.markup < 0.1
  )
    fields[about] = 'title';
  const costName = header[fields.indexOf('cost')] ?? '';
  const has = (f: FieldName) => fields.includes(f);
  const told =
    kind ??
    (has('price') && has('state') ? 'listings' : !has('title') && has('stock') ? 'stock' : 'catalogue');
  const packed = has('pack') && packByName(costName);
  return {
    kind: told,
    format,
    header: [...header],
    fields: packed ? fields : fields.map((f) => (f === 'pack' ? null : f)),
    decimal,
    currency: currencyIn([...header, ...rows.slice(0, 20).flat()]) ?? currency,
    taxInside: taxByName(costName) ? 200_000 : 0,
    pack: 1,
    weightUnit:
      unitBeside(header, rows, fields.indexOf('weight')) ??
      guessUnit(
        header[fields.indexOf('weight')] ?? '',
        rows.map((r) => r[fields.indexOf('weight')] ?? ''),
      ),
    variants: guessVariants(fields, rows),
    someStock: 10,
    whole: told === 'catalogue' && !header.includes(REASON_COLUMN),
  };
}

/**
 * The unit that stands in a column of its own, such as an attribute of the weight; null where there is none,
 * or several.
 */
function unitBeside(
  header: readonly string[],
  rows: readonly (readonly string[])[],
  weight: number,
): WeightUnit | null {
  if (weight < 0) return null;
  const named = header.flatMap((name, i) =>
    i !== weight && (name.startsWith(`${header[weight]}/@`) || / unit /.test(` ${plainName(name)} `))
      ? [i]
      : [],
  );
  for (const i of named) {
    const units = new Set(
      rows.flatMap((r) => (r[i]?.trim() ? [UNIT_WORDS[r[i]!.trim().toLowerCase()]] : [])),
    );
    const [unit] = units;
    if (units.size === 1 && unit) return unit;
  }
  return null;
}

function guessUnit(name: string, cells: readonly string[]): WeightUnit {
  const named = / (kg|g|gr|grams?|oz|lbs?) /.exec(` ${plainName(name)} `)?.[1];
  if (named) return named.startsWith('g') ? 'g' : named === 'lbs' ? 'lb' : (named as WeightUnit);
  const numbers = cells.map((c) => Number(c.replace(',', '.'))).filter((n) => n > 0);
  return numbers.length > 0 && numbers.filter((n) => n < 40 && n % 1 !== 0).length > numbers.length * 0.3
    ? 'kg'
    : 'g';
}

const SIGNS: Readonly<Record<string, string>> = { '£': 'GBP', '€': 'EUR', $: 'USD', zł: 'PLN' };

/** The currency that names and cells speak of, if they speak of one alone. */
function currencyIn(cells: readonly string[]): string | null {
  const found = new Set<string>();
  for (const cell of cells) {
    if (cell.length > 60) continue;
    const code = /(?:^|[\s(/_,-])(GBP|EUR|USD|PLN|CHF|SEK|NOK|DKK|CZK)(?:$|[\s)/_,-])/.exec(cell)?.[1];
    if (code) found.add(code);
    for (const [sign, c] of Object.entries(SIGNS))
      if (cell.includes(sign) && (/\d/.test(cell) || cell.length < 40)) found.add(c);
  }
  return found.size === 1 ? [...found][0]! : null;
}
