import { type Item, type ItemDetail, STOCK_STAYS } from '../catalogue';
import { plainText } from '../copy';
import type { Parsed } from '../money';
import { readAmount, readGtin, readStock, readWeight, unwrapCell } from './cells';
import { ChosenOptions } from './chosen-options';
import { stemOf } from './guess';
import type { FieldName, Match } from './match';
import { once } from './once';
import { type CellProblem, MOST_TEXT, netEach, placeOf, placesOf, Row, type RowRefusal } from './row';
import { lostSku, skuIn } from './sku-cell';

export type RowRead =
  | {
      readonly ok: true;
      readonly item: Item;
      readonly detail: ItemDetail;
      readonly told: readonly CellProblem[];
    }
  | RowRefusal;

const MOST_PICTURES = 24;

/** A cell that is one link, or several beside each other. */
const LINK = /^https?:\/\/\S{4,1000}$/i;
const ONE_LINK = /^https?:\/\/[^\s|;,]{4,1000}$/i;
const LINK_ENDS = /[|;\s]+|,(?=https?:)/;

/**
 * Whose row one is that cannot be taken: the SKU; null where it stands for an item that cannot be told; ''
 * where it stands for none (a heading, a sum).
 */
export function whoseRow(match: Match, cells: readonly string[]): string | null {
  const cell = (field: FieldName) => unwrapCell(cells[placeOf(match, field)] ?? '').trim();
  const sku = skuIn(cell('sku'));
  if (sku) return lostSku(sku) ? null : sku;
  return cell('title') && cell('cost') ? null : '';
}

/** Pieces in a pack, as a row says. */
function readPack(text: string): Parsed<number> {
  const read = readStock(text, 1);
  return read.ok && read.value >= 1 ? read : { ok: false, reason: `“${text}” is not a number of pieces` };
}

const readDays = (text: string): Parsed<number> => readStock(/\d+/.exec(text)?.[0] ?? text, 0);

/** Reads the rows of one list as items. */
class ItemRows {
  private readonly row: Row;
  private readonly options: ChosenOptions;
  private readonly at: Readonly<Record<'sku' | 'title' | 'pack' | 'cost' | 'stock' | 'gtin', number>>;
  private readonly more: Readonly<
    Record<'brand' | 'shipsFrom' | 'parent' | 'description' | 'map' | 'msrp' | 'weight' | 'days', number>
  >;
  private readonly categories: readonly number[];
  private readonly pictures: readonly number[];
  private readonly path = once((text) =>
    plainText(text)
      .replace(/\s*[>/]\s*/g, ' > ')
      .slice(0, 200),
  );
  private readonly name = once((text) => plainText(text).slice(0, 120));
  // Variants of one product mostly share their title.
  private written = '';
  private title = '';

  constructor(private readonly match: Match) {
    const at = (field: FieldName) => placeOf(match, field);
    this.row = new Row(match);
    this.options = new ChosenOptions(match, this.row);
    this.at = {
      sku: at('sku'),
      title: at('title'),
      pack: at('pack'),
      cost: at('cost'),
      stock: at('stock'),
      gtin: at('gtin'),
    };
    this.more = {
      brand: at('brand'),
      shipsFrom: at('shipsFrom'),
      parent: at('parent'),
      description: at('description'),
      map: at('map'),
      msrp: at('msrp'),
      weight: at('weight'),
      days: at('days'),
    };
    this.categories = placesOf(match, 'category');
    this.pictures = placesOf(match, 'picture');
  }

  read(cells: readonly string[]): RowRead {
    const { row, at, more } = this;
    row.take(cells);
    const sku = skuIn(row.text(at.sku));
    const lost = sku ? lostSku(sku) : 'the SKU is empty';
    if (lost) return row.wrong(at.sku, lost);
    const title = this.readTitle();
    if (!title) return row.wrong(at.title, 'the title is empty');
    const packed = row.text(at.pack);
    const pack: Parsed<number> = packed ? readPack(packed) : { ok: true, value: this.match.pack };
    if (!pack.ok) return row.wrong(at.pack, pack.reason);
    const amount = this.amount(row.text(at.cost));
    if (!amount.ok) return row.wrong(at.cost, `the cost ${amount.reason}`);
    const cost = netEach(amount.value, this.match, pack.value);
    if (cost === 0) return row.wrong(at.cost, 'a cost of 0 cannot be right');

    const stock = this.readStock();
    const gtin = this.readGtin();
    const options = this.options.read();
    const pictures = this.readPictures();
    const item: Item = {
      sku,
      group: this.groupOf(sku, title)?.slice(0, 64) ?? null,
      title,
      brand: this.name(row.text(more.brand)),
      category: this.readCategory(),
      options,
      gtin,
      cost,
      map: this.maybe(more.map, 'MAP', this.amount),
      msrp: this.maybe(more.msrp, 'MSRP', this.amount),
      stock,
      grams: this.maybe(more.weight, 'weight', this.weight),
      shipsFrom: this.name(row.text(more.shipsFrom)),
      days: this.maybe(more.days, 'dispatch time', readDays),
      pictures: pictures.length,
    };
    const description = row.text(more.description).slice(0, MOST_TEXT);
    return { ok: true, item, detail: { sku, description, pictures }, told: row.told };
  }

  private readonly amount = (text: string) => readAmount(text, this.match.decimal, this.match.currency);
  private readonly weight = (text: string) => readWeight(text, this.match.weightUnit);

  private readTitle(): string {
    const written = this.row.text(this.at.title);
    if (written !== this.written) {
      this.written = written;
      this.title = plainText(written).slice(0, 500);
    }
    return this.title;
  }

  private readStock(): number {
    const place = this.at.stock;
    if (place < 0) return this.match.someStock;
    const read = readStock(this.row.text(place), this.match.someStock);
    if (read.ok) return read.value;
    this.row.tell(place, `the stock ${read.reason}: it stays as it was`);
    return STOCK_STAYS;
  }

  private readGtin(): string | null {
    const place = this.at.gtin;
    if (place < 0) return null;
    const read = readGtin(this.row.text(place));
    if (read.ok) return read.value;
    this.row.tell(place, read.reason);
    return null;
  }

  private readPictures(): string[] {
    const links: string[] = [];
    for (const place of this.pictures) {
      const text = this.row.text(place);
      if (ONE_LINK.test(text)) links.push(text);
      else if (text) links.push(...text.split(LINK_ENDS).filter((link) => LINK.test(link)));
    }
    return links.slice(0, MOST_PICTURES);
  }

  private readCategory(): string {
    const [only = -1] = this.categories;
    if (this.categories.length <= 1) return this.path(this.row.text(only));
    const parts = this.categories.map((place) => this.path(this.row.text(place)));
    return parts.filter(Boolean).join(' > ').slice(0, 200);
  }

  private groupOf(sku: string, title: string): string | null {
    switch (this.match.variants) {
      case 'parent':
        return this.row.text(this.more.parent) || null;
      case 'pattern':
        return stemOf(sku);
      case 'title':
        return this.options.some() ? title : null;
      default:
        return null;
    }
  }

  /** A number that a row may do without: one that cannot be read is left out, and told. */
  private maybe(place: number, word: string, read: (text: string) => Parsed<number>): number | null {
    const text = this.row.text(place);
    if (!text || text === '-') return null;
    const value = read(text);
    if (value.ok) return value.value;
    this.row.tell(place, `the ${word} ${value.reason}: left out`);
    return null;
  }
}

/**
 * Makes the reader of a list's rows: a row of cells becomes an item, or the first thing that is wrong with
 * it. Cost: about 4 µs a row of sixteen columns.
 */
export function rowReader(match: Match): (cells: readonly string[]) => RowRead {
  const rows = new ItemRows(match);
  return (cells) => rows.read(cells);
}
