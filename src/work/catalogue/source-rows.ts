import type { FacetName, FacetValue, Item, ItemDetail, SortColumn } from '../../core/catalogue';
import type { Problem } from '../../core/query';
import type { HistoryPoint, PlanRow } from '../../store';
import type { Quote } from '../quoting/solve';

/** A row of Source: one item of one supplier with what is expected of it. */
export interface SourceRow {
  readonly key: string;
  readonly supplier: string;
  readonly currency: string;
  readonly item: Item;
  readonly taken: boolean;
  readonly price: number | null;
  readonly profit: number | null;
  /** Why no price can be expected; null where one is, or where none is asked for. */
  readonly problem: string | null;
}

/** One item in full: with the parts of its price, its cold texts and what it was before. */
export interface SourceItem extends SourceRow {
  readonly quote: Quote | null;
  /** The plan that holds for it. */
  readonly plan: PlanRow | null;
  readonly detail: ItemDetail | null;
  readonly gone: boolean;
  readonly history: readonly HistoryPoint[];
}

export interface SourceSearch {
  readonly market: string | null;
  readonly query: string;
  readonly sort: SortColumn;
  readonly descending: boolean;
  readonly offset: number;
  readonly limit: number;
}

export interface SourceFound {
  readonly total: number;
  readonly matches: number;
  readonly rows: readonly SourceRow[];
  readonly problems: readonly Problem[];
  readonly facets: Readonly<Record<FacetName, readonly FacetValue[]>>;
  /**
   * The query without the word that was left out as the beginning of a field's name; what an action on all
   * matches means.
   */
  readonly used: string;
  /** That word, or null. */
  readonly begun: string | null;
  /** Time in the worker, in milliseconds. */
  readonly took: number;
}

/** Items meant by an action: marked ones by key, or all matches of a search but some. */
export type Meant =
  | { readonly keys: readonly string[] }
  | { readonly query: string; readonly except?: readonly string[] };

/** What taking would do, before it is done. */
export interface Weighed {
  readonly items: number;
  /** Variants that come along because one of their product is taken. */
  readonly along: number;
  readonly products: number;
  readonly taken: number;
  readonly noPrice: number;
  readonly noPicture: number;
  readonly noBarcode: number;
  readonly noStock: number;
  readonly suppliers: readonly { readonly name: string; readonly count: number }[];
}

/** The answer to one pasted line. */
export interface PastedLine {
  readonly line: number;
  readonly text: string;
  readonly state: 'found' | 'several' | 'taken' | 'unknown';
  readonly by: 'SKU' | 'barcode' | 'link' | null;
  readonly choices: readonly {
    readonly key: string;
    readonly title: string;
    readonly supplier: string;
    readonly cost: number;
    readonly currency: string;
  }[];
  readonly says: string;
}

export const keyOf = (supplier: string, sku: string) => `${supplier}:${sku}`;

export const splitKey = (key: string) => ({
  supplier: key.slice(0, key.indexOf(':')),
  sku: key.slice(key.indexOf(':') + 1),
});
