import { fold } from '../copy';
import { type Condition, leafProblem, parseBounds } from '../query';
import { Bits } from './bits';
import type { Catalogue } from './catalogue';
import { listsOf, placesBeginning, titlesOf } from './postings';
import { NO_PRICE, type Prices } from './prices';
import { ITEM_FIELDS, LIST_OF, NUMBER_FIELDS, type NumberField, valuesAsked } from './terms';
import { wordsOf } from './words';

/** One supplier's catalogue with what is derived from it: expected prices and what is taken already. */
export interface Shelf {
  readonly supplier: string;
  readonly name: string;
  /** Digits of the currency after the point, as a power of ten. */
  readonly scale: number;
  readonly catalogue: Catalogue;
  readonly prices: Prices | null;
  readonly taken: Uint8Array;
}

/** Sets kept for terms: a next key mostly changes one term. 200,000 rows: 25 kB each. */
const KEPT = 24;

/**
 * Which rows of a shelf a term has, each found once and kept. Cost of one: a pass over one column in its
 * order, or the rows of a word.
 */
export class ShelfTerms {
  private readonly kept = new Map<string, Bits>();
  readonly offered: Bits;

  constructor(private readonly shelf: Shelf) {
    const { gone, length } = shelf.catalogue;
    this.offered = Bits.where(length, (row) => !gone[row]);
  }

  private known(key: string, make: () => Bits): Bits {
    const known = this.kept.get(key) ?? make();
    // Put behind the others: the first one is the one not asked for longest.
    this.kept.delete(key);
    this.kept.set(key, known);
    if (this.kept.size > KEPT) this.kept.delete(this.kept.keys().next().value!);
    return known;
  }

  /** Rows for which a condition holds; null where nothing of it is understood. The set is kept: it is not to be changed. */
  of(condition: Condition): Bits | null {
    const each = (parts: readonly Condition[]) => parts.flatMap((one) => this.of(one) ?? []);
    if ('all' in condition) {
      const [first, ...others] = each(condition.all);
      if (!first) return condition.all.length ? null : this.offered;
      return others.length ? others.reduce((rows, one) => rows.keep(one), first.copy()) : first;
    }
    if ('none' in condition) {
      const own = each(condition.none);
      if (!own.length) return condition.none.length ? null : this.offered;
      return own.reduce((rows, one) => rows.keep(one, true), this.offered.copy());
    }
    if ('any' in condition) {
      // Several values of one field are one pass over its column.
      const asked = valuesAsked(condition);
      if (asked) return this.field(asked.field, asked.values);
      const own = each(condition.any);
      if (!own.length) return condition.any.length ? null : new Bits(this.offered.length);
      return own.slice(1).reduce((rows, one) => rows.join(one), own[0]!.copy());
    }
    if ('word' in condition && leafProblem(condition, ITEM_FIELDS) === null)
      return this.word(fold(condition.word));
    const asked = valuesAsked(condition);
    return asked && this.field(asked.field, asked.values);
  }

  /** Rows with one of some values of a field, all of them understood. */
  field(field: string, values: readonly string[]): Bits {
    if (field in NUMBER_FIELDS) return this.numbers(field as NumberField, values);
    if (field in LIST_OF) return this.texts(field as keyof typeof LIST_OF, values.map(fold));
    if (field === 'supplier')
      return this.named(values.map(fold)) ? this.offered : new Bits(this.offered.length);
    if (field === 'sku') return this.withSku(this.offered, values);
    const [first, ...others] = values.map((flag) => this.flag(`${field}:${flag}`));
    return others.length ? others.reduce((rows, one) => rows.join(one), first!.copy()) : first!;
  }

  /** Rows with a number in one of the ranges; one that is not given, or not priced, is in none. */
  private numbers(field: NumberField, ranges: readonly string[]): Bits {
    return this.known(`${field}:${ranges.join(' ')}`, () => {
      const { catalogue: c, prices, scale: money } = this.shelf;
      const { of, scale } = NUMBER_FIELDS[field];
      const priced = of === 'price' || of === 'profit' || of === 'margin';
      const column = priced ? prices?.[of] : c.numbers[of];
      const rows = new Bits(c.length);
      if (!column) return rows;
      // What stands for “none given” lies under all numbers.
      const least = priced ? NO_PRICE + 1 : 0;
      for (const text of ranges) {
        const { min, max } = parseBounds(text, scale === 'money' ? money : scale)!;
        rows.join(Bits.between(c.length, column, Math.max(min, least), max));
      }
      return rows;
    });
  }

  private flag(name: string): Bits {
    return this.known(name, () => {
      const { catalogue: c, taken } = this.shelf;
      const { stock, pictures, map, msrp } = c.numbers;
      const from = (column: Int32Array, min: number) =>
        Bits.between(c.length, column, min, Number.POSITIVE_INFINITY);
      switch (name) {
        case 'is:new':
          return Bits.where(c.length, (row) => !taken[row]);
        case 'is:taken':
          return Bits.where(c.length, (row) => taken[row] === 1);
        case 'is:variant': {
          const sold = new Set<string>();
          for (let row = 0; row < c.length; row++) {
            const group = taken[row] ? c.groupAt(row) : null;
            if (group) sold.add(group);
          }
          if (!sold.size) return new Bits(c.length);
          return Bits.where(c.length, (row) => {
            const group = taken[row] ? null : c.groupAt(row);
            return group !== null && sold.has(group);
          });
        }
        case 'is:stocked':
          return from(stock, 1);
        case 'has:barcode':
          return Bits.where(c.length, (row) => c.gtin[row]! > 0);
        case 'has:picture':
          return from(pictures, 1);
        case 'has:map':
          return from(map, 0);
        case 'has:msrp':
          return from(msrp, 0);
        default:
          throw new Error(`No item is told to be ${name}.`);
      }
    });
  }

  /** Rows whose text contains one of those wanted. */
  private texts(field: keyof typeof LIST_OF, wanted: readonly string[]): Bits {
    return this.known(JSON.stringify([field, wanted]), () => {
      const { catalogue: c } = this.shelf;
      const name = LIST_OF[field];
      const ok = Uint8Array.from(listsOf(c)[name].folded, (text) =>
        wanted.some((w) => text.includes(w)) ? 1 : 0,
      );
      return Bits.coded(c.length, c.codes[name], ok);
    });
  }

  /**
   * Rows that have a word: it begins a word of the title, brand, category or options, or is the SKU or
   * barcode.
   */
  private word(text: string): Bits {
    return this.known(`word ${text}`, () => {
      const { catalogue: c } = this.shelf;
      // A word such as red-light has several parts, and a row has them all.
      const rows =
        wordsOf(text)
          .map((part) => this.beginning(part))
          .reduce<Bits | null>((all, one) => all?.keep(one) ?? one, null) ?? new Bits(c.length);
      for (const sku of [text, text.toUpperCase()]) {
        const row = c.rowOf(sku);
        if (row >= 0) rows.add(row);
      }
      if (/^\d{8,14}$/.test(text)) for (const row of c.rowsOfGtin(Number(text))) rows.add(row);
      return rows;
    });
  }

  private beginning(part: string): Bits {
    const { catalogue: c } = this.shelf;
    const lists = listsOf(c);
    const rows = new Bits(c.length);
    rows.addAll(placesBeginning(titlesOf(c), part));
    for (const name of ['brand', 'category', 'options'] as const) {
      const found = placesBeginning(lists[name].postings, part);
      if (!found.length) continue;
      const ok = new Uint8Array(c.lists[name].length);
      for (let at = 0; at < found.length; at++) ok[found[at]!] = 1;
      rows.join(Bits.coded(c.length, c.codes[name], ok));
    }
    return rows;
  }

  /** Those of some rows whose SKU contains one of some texts. Not kept: it looks at each of the rows. */
  withSku(rows: Bits, wanted: readonly string[]): Bits {
    const { catalogue: c } = this.shelf;
    const folded = wanted.map(fold);
    return Bits.where(c.length, (row) => {
      if (!rows.has(row)) return false;
      const sku = fold(c.skuAt(row));
      return folded.some((text) => sku.includes(text));
    });
  }

  /** Whether the supplier's name contains one of those wanted. */
  private named(wanted: readonly string[]): boolean {
    const name = fold(this.shelf.name);
    return wanted.some((w) => name.includes(w));
  }
}
