import type { Item, ItemDetail } from '../catalogue';
import { plainText } from '../copy';
import { decimalOf, divideHalfUp, divideUp, type Parsed, WHOLE } from '../money';
import { isDateLike, isShortened, readAmount, readGtin, readStock, readWeight, unwrapCell } from './cells';
import { LONGEST_SKU, stemOf } from './guess';
import { FIELD_WORDS, type FieldName, type Match } from './match';

/** Something wrong with one cell of a row. `taken` tells that the row was taken all the same, without it. */
export interface CellProblem {
  readonly column: string | null;
  readonly value: string;
  readonly reason: string;
  readonly taken: boolean;
}

export type RowRead =
  | {
      readonly ok: true;
      readonly item: Item;
      readonly detail: ItemDetail;
      readonly told: readonly CellProblem[];
    }
  | { readonly ok: false; readonly problem: CellProblem };

/** A row of a list of stock: which item, by SKU or barcode, and what of it is new. */
export type StockRead =
  | {
      readonly ok: true;
      readonly sku: string | null;
      readonly gtin: string | null;
      readonly stock: number | null;
      readonly cost: number | null;
    }
  | { readonly ok: false; readonly problem: CellProblem };

const MOST_TEXT = 50_000;
const MOST_OPTIONS = 6;
const NONE_TOLD: CellProblem[] = [];
const NONE_CHOSEN: Readonly<Record<string, string>> = {};
/** Texts that are kept because they may come again. */
const MOST_KEPT = 10_000;
const LONGEST_KEPT = 500;

/** A cell that is one link, or several beside each other. */
const LINK = /^https?:\/\/\S{4,1000}$/i;
const ONE_LINK = /^https?:\/\/[^\s|;,]{4,1000}$/i;
const LINK_ENDS = /[|;\s]+|,(?=https?:)/;

/** Choices of the first options of a row, and what further options make of them. */
interface Choice {
  readonly path: readonly string[];
  chosen: Readonly<Record<string, string>> | null;
  /** One of them looks like a date. */
  readonly dated: boolean;
  readonly next: Map<string, Choice>;
}

/** The places of each field's columns, found once for a list. */
function placesOf(match: Match) {
  const all = (field: FieldName) => match.fields.flatMap((f, i) => (f === field ? [i] : []));
  const one = (field: FieldName) => match.fields.indexOf(field);
  return { all, one };
}

/**
 * Amount net of tax and for one piece. Both divisions are named: tax half up, pack up, so that a cost is
 * never told too low.
 */
function netEach(minor: number, match: Match, pack: number): number {
  const net = match.taxInside ? divideHalfUp(minor * WHOLE, WHOLE + match.taxInside) : minor;
  return pack > 1 ? divideUp(net, pack) : net;
}

/** Works a text out once where the same ones come again and again: brands, categories, colours. */
function once<T>(work: (text: string) => T): (text: string) => T {
  const known = new Map<string, T>();
  return (text) => {
    let answer = known.get(text);
    if (answer === undefined) {
      answer = work(text);
      if (known.size < MOST_KEPT && text.length < LONGEST_KEPT) known.set(text, answer);
    }
    return answer;
  };
}

/** Why a SKU is not the item's own any more; null where it is. */
function lostSku(sku: string): string | null {
  if (sku.length > LONGEST_SKU)
    return `the SKU has ${sku.length} characters, at most ${LONGEST_SKU} are taken`;
  if (!/[\p{L}\p{N}]/u.test(sku)) return `“${sku}” has no letter or digit: it is no SKU`;
  if (isShortened(sku)) return `a spreadsheet turned the SKU into ${sku}, its last digits are lost`;
  return isDateLike(sku) ? `“${sku}” looks as if a spreadsheet turned the SKU into a date` : null;
}

/**
 * Whose row one is that cannot be taken: the SKU; null where it stands for an item that cannot be told; ''
 * where it stands for none (a heading, a sum).
 */
export function whoseRow(match: Match, cells: readonly string[]): string | null {
  const { one } = placesOf(match);
  const cell = (field: FieldName) => unwrapCell(cells[one(field)] ?? '').trim();
  const sku = cell('sku');
  if (sku) return lostSku(sku) ? null : sku;
  return cell('title') && cell('cost') ? null : '';
}

/**
 * Makes the reader of a list's rows: a row of cells becomes an item, or the first thing that is wrong with
 * it. Cost: about 2 µs a row of twelve columns.
 */
export function rowReader(match: Match): (cells: readonly string[]) => RowRead {
  const { all, one } = placesOf(match);
  const at = {
    sku: one('sku'),
    gtin: one('gtin'),
    title: one('title'),
    brand: one('brand'),
    cost: one('cost'),
    stock: one('stock'),
    weight: one('weight'),
    description: one('description'),
    msrp: one('msrp'),
    map: one('map'),
    parent: one('parent'),
    pack: one('pack'),
    shipsFrom: one('shipsFrom'),
    days: one('days'),
  };
  const categories = all('category');
  const options = all('option').map((i) => ({
    i,
    name: plainText(match.header[i] ?? '').slice(0, 40) || `Option ${i + 1}`,
  }));
  const pictures = all('picture');
  const { decimal, currency } = match;
  const path = once((text) =>
    plainText(text)
      .replace(/\s*[>/]\s*/g, ' > ')
      .slice(0, 200),
  );
  const name = once((text) => plainText(text).slice(0, 120));

  // Variants of one product mostly share their title.
  let lastWritten = '';
  let lastTitle = '';

  // The row at hand. The helpers below are made once, not for each of a million rows.
  let cells: readonly string[] = [];
  let told: CellProblem[] = NONE_TOLD;
  const cell = (i: number) => (i < 0 ? '' : unwrapCell(cells[i] ?? ''));
  const problem = (i: number, reason: string, taken: boolean): CellProblem => ({
    column: match.header[i] ?? null,
    value: (cells[i] ?? '').slice(0, 200),
    reason,
    taken,
  });
  const wrong = (i: number, reason: string): RowRead => ({ ok: false, problem: problem(i, reason, false) });
  const tell = (i: number, reason: string) => {
    if (told === NONE_TOLD) told = [];
    told.push(problem(i, reason, true));
  };
  const maybe = (i: number, read: (text: string) => Parsed<number>, word: string): number | null => {
    const text = cell(i);
    if (!text || text === '-') return null;
    const value = read(text);
    if (value.ok) return value.value;
    tell(i, `the ${word} ${value.reason}: left out`);
    return null;
  };
  const amount = (text: string) => readAmount(text, decimal, currency);
  const weight = (text: string) => readWeight(text, match.weightUnit);
  const days = (text: string) => readStock(/\d+/.exec(text)?.[0] ?? text, 0);
  const linksIn = (): string[] => {
    const links: string[] = [];
    for (const i of pictures) {
      const text = cell(i);
      if (ONE_LINK.test(text) && links.length < 24) links.push(text);
      else if (text)
        for (const link of text.split(LINK_ENDS)) if (links.length < 24 && LINK.test(link)) links.push(link);
    }
    return links;
  };
  const categoryOf = () =>
    categories.length === 1
      ? path(cell(categories[0]!))
      : categories
          .map((i) => path(cell(i)))
          .filter(Boolean)
          .join(' > ')
          .slice(0, 200);
  // The same choices come again and again: they are one object, which is laid out once, found by one option
  // after the other.
  const choices = new Map<string, Choice>();
  let kept = 0;
  const chosenBy = (path: Choice['path']): Readonly<Record<string, string>> =>
    Object.fromEntries(
      path
        .flatMap((text, o) => (name(text) ? [[options[o]!.name, name(text)] as const] : []))
        .slice(0, MOST_OPTIONS),
    );
  const choose = (): Readonly<Record<string, string>> => {
    let next = choices;
    let found: Choice | undefined;
    for (const { i } of options) {
      const text = cell(i);
      const before: Choice | undefined = found;
      found = next.get(text);
      if (!found) {
        found = {
          path: [...(before?.path ?? []), text],
          chosen: null,
          dated: before?.dated || isDateLike(text),
          next: new Map(),
        };
        if (kept < MOST_KEPT && text.length < LONGEST_KEPT) next.set(text, found);
        kept++;
      }
      next = found.next;
    }
    if (!found) return NONE_CHOSEN;
    found.chosen ??= chosenBy(found.path);
    if (found.dated)
      for (const { i } of options)
        if (isDateLike(cell(i))) tell(i, `“${cell(i)}” looks as if a spreadsheet turned it into a date`);
    return found.chosen;
  };
  const groupOf = (sku: string, title: string): string | null => {
    const { variants } = match;
    if (variants === 'parent') return cell(at.parent) || null;
    if (variants === 'pattern') return stemOf(sku);
    return variants === 'title' && options.some(({ i }) => cell(i)) ? title : null;
  };

  return (row) => {
    cells = row;
    told = NONE_TOLD;
    const sku = cell(at.sku);
    if (!sku) return wrong(at.sku, 'the SKU is empty');
    const lost = lostSku(sku);
    if (lost) return wrong(at.sku, lost);
    const written = cell(at.title);
    if (written !== lastWritten) {
      lastWritten = written;
      lastTitle = plainText(written).slice(0, 500);
    }
    const title = lastTitle;
    if (!title) return wrong(at.title, 'the title is empty');

    let pack = match.pack;
    const packed = cell(at.pack);
    if (packed) {
      const read = readStock(packed, 1);
      if (!read.ok || read.value < 1) return wrong(at.pack, `“${packed}” is not a number of pieces`);
      pack = read.value;
    }
    const cost = amount(cell(at.cost));
    if (!cost.ok) return wrong(at.cost, `the cost ${cost.reason}`);
    const each = netEach(cost.value, match, pack);
    if (each === 0) return wrong(at.cost, 'a cost of 0 cannot be right');

    let stock = at.stock < 0 ? match.someStock : 0;
    if (at.stock >= 0) {
      const read = readStock(cell(at.stock), match.someStock);
      if (read.ok) stock = read.value;
      else tell(at.stock, `the stock ${read.reason}: taken as 0`);
    }
    let gtin: string | null = null;
    if (at.gtin >= 0) {
      const read = readGtin(cell(at.gtin));
      if (read.ok) gtin = read.value;
      else tell(at.gtin, read.reason);
    }
    const chosen = choose();
    const links = linksIn();
    const item: Item = {
      sku,
      group: groupOf(sku, title)?.slice(0, 64) ?? null,
      title,
      brand: name(cell(at.brand)),
      category: categoryOf(),
      options: chosen,
      gtin,
      cost: each,
      map: maybe(at.map, amount, 'MAP'),
      msrp: maybe(at.msrp, amount, 'MSRP'),
      stock,
      grams: maybe(at.weight, weight, 'weight') ?? null,
      shipsFrom: name(cell(at.shipsFrom)),
      days: maybe(at.days, days, 'dispatch time'),
      pictures: links.length,
    };
    return {
      ok: true,
      item,
      detail: { sku, description: cell(at.description).slice(0, MOST_TEXT), pictures: links },
      told,
    };
  };
}

/** The reader of a list of stock: SKU or barcode, stock, perhaps cost. */
export function stockReader(match: Match): (cells: readonly string[]) => StockRead {
  const { one } = placesOf(match);
  const [skuAt, gtinAt, stockAt, costAt, packAt] = [
    one('sku'),
    one('gtin'),
    one('stock'),
    one('cost'),
    one('pack'),
  ];
  return (cells) => {
    const cell = (i: number) => (i < 0 ? '' : unwrapCell(cells[i] ?? ''));
    const wrong = (i: number, reason: string): StockRead => ({
      ok: false,
      problem: {
        column: match.header[i] ?? null,
        value: (cells[i] ?? '').slice(0, 200),
        reason,
        taken: false,
      },
    });
    const sku = cell(skuAt) || null;
    const gtin = gtinAt < 0 ? { ok: true as const, value: null } : readGtin(cell(gtinAt));
    if (!sku && !gtin.ok) return wrong(gtinAt, gtin.reason);
    const barcode = gtin.ok ? gtin.value : null;
    if (!sku && !barcode) return wrong(skuAt < 0 ? gtinAt : skuAt, 'neither SKU nor barcode');
    const stock = stockAt < 0 ? null : readStock(cell(stockAt), match.someStock);
    if (stock && !stock.ok) return wrong(stockAt, `the stock ${stock.reason}`);
    const cost = costAt < 0 || !cell(costAt) ? null : readAmount(cell(costAt), match.decimal, match.currency);
    if (cost && !cost.ok) return wrong(costAt, `the cost ${cost.reason}`);
    const pack = Number(cell(packAt)) >= 1 ? Math.trunc(Number(cell(packAt))) : match.pack;
    const each = cost === null ? null : netEach(cost.value, match, pack);
    if (each === 0) return wrong(costAt, 'a cost of 0 cannot be right');
    return { ok: true, sku, gtin: barcode, stock: stock?.value ?? null, cost: each };
  };
}

/** A listing as a shop's own export tells it. */
export interface ListingRow {
  readonly sku: string;
  readonly group: string | null;
  readonly title: string;
  readonly category: string;
  readonly brand: string;
  readonly gtin: string | null;
  readonly options: Readonly<Record<string, string>>;
  readonly price: number;
  readonly quantity: number;
  readonly state: 'live' | 'paused' | 'ended';
  readonly description: string;
  readonly pictures: readonly string[];
}

const ENDED =
  /^(ended|closed|sold|inactive|beendet|geschlossen|terminé|zakończona|finalizado|archived|removed)$/i;
const PAUSED = /^(paused|hidden|draft|pausiert|en pause|wstrzymana|pausado)$/i;

/** The reader of a shop's listings. */
export function listingReader(
  match: Match,
): (cells: readonly string[]) => { ok: true; listing: ListingRow } | { ok: false; problem: CellProblem } {
  const { one, all } = placesOf(match);
  const at = {
    sku: one('sku'),
    title: one('title'),
    price: one('price'),
    stock: one('stock'),
    state: one('state'),
    parent: one('parent'),
    gtin: one('gtin'),
    brand: one('brand'),
    category: one('category'),
    description: one('description'),
  };
  const options = all('option');
  const pictures = all('picture');
  return (cells) => {
    const cell = (i: number) => (i < 0 ? '' : unwrapCell(cells[i] ?? ''));
    const wrong = (i: number, reason: string) => ({
      ok: false as const,
      problem: {
        column: match.header[i] ?? null,
        value: (cells[i] ?? '').slice(0, 200),
        reason,
        taken: false,
      },
    });
    const sku = cell(at.sku);
    if (!sku || sku.length > 100)
      return wrong(at.sku, sku ? 'the SKU has more than 100 characters' : 'the SKU is empty');
    const title = plainText(cell(at.title)).slice(0, 500);
    if (!title) return wrong(at.title, 'the title is empty');
    const price = readAmount(cell(at.price), match.decimal, match.currency);
    if (!price.ok) return wrong(at.price, `the price ${price.reason}`);
    const quantity =
      at.stock < 0 ? { ok: true as const, value: 0 } : readStock(cell(at.stock) || '0', match.someStock);
    if (!quantity.ok) return wrong(at.stock, `the quantity ${quantity.reason}`);
    const gtin = readGtin(cell(at.gtin));
    const state = cell(at.state);
    return {
      ok: true,
      listing: {
        sku,
        group: cell(at.parent).slice(0, 64) || null,
        title,
        category: plainText(cell(at.category)).slice(0, 200),
        brand: plainText(cell(at.brand)).slice(0, 120),
        gtin: gtin.ok ? gtin.value : null,
        options: Object.fromEntries(
          options.flatMap((i) =>
            cell(i)
              ? [[plainText(match.header[i] ?? '').slice(0, 40), plainText(cell(i)).slice(0, 100)]]
              : [],
          ),
        ),
        price: price.value,
        quantity: quantity.value,
        state: ENDED.test(state) ? 'ended' : PAUSED.test(state) ? 'paused' : 'live',
        description: cell(at.description).slice(0, MOST_TEXT),
        pictures: pictures.map(cell).filter((p) => /^https?:\/\//i.test(p)),
      },
    };
  };
}

/**
 * Names what a field reads as, for the picture of the first rows: what a cell means under a match, or why it
 * cannot be read.
 */
export function cellInWords(
  match: Match,
  column: number,
  text: string,
): { ok: boolean; says: string } | null {
  const field = match.fields[column];
  const t = unwrapCell(text);
  if (!field || !t) return null;
  const answer = (p: Parsed<number>, write: (n: number) => string) =>
    p.ok ? { ok: true, says: write(p.value) } : { ok: false, says: p.reason };
  const money = (n: number) => `${decimalOf(n, match.currency)} ${match.currency}`;
  switch (field) {
    case 'cost':
      return answer(readAmount(t, match.decimal, match.currency), (n) =>
        money(netEach(n, match, match.pack)),
      );
    case 'msrp':
    case 'map':
    case 'price':
      return answer(readAmount(t, match.decimal, match.currency), money);
    case 'stock':
      return answer(readStock(t, match.someStock), (n) => `${n}`);
    case 'weight':
      return answer(readWeight(t, match.weightUnit), (n) => `${n} g`);
    case 'gtin': {
      const read = readGtin(t);
      return read.ok ? { ok: true, says: read.value ?? 'none' } : { ok: false, says: read.reason };
    }
    default:
      return { ok: true, says: FIELD_WORDS[field] };
  }
}
