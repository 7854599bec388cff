import { uniqueNames } from '../../core/lists';
import { decimalOf } from '../../core/money';
import { problemInWords, type SumLine, stepInWords } from '../../core/pricing';
import type { Assortment } from '../memory/assortment';
import { planFor } from '../quoting/plan-choice';
import { quoteListing } from '../quoting/quote';
import { marketOf, nameIn, supplierOf } from '../quoting/worth';

/** The parts of each listing’s price. */
interface PriceRow {
  readonly cells: Readonly<Record<string, string>>;
  /** Fees and tax by the name that they have in the sum. */
  readonly lines: readonly SumLine[];
  readonly currency: string;
}

const COLUMNS = [
  'SKU',
  'Marketplace',
  'Currency',
  'Plan',
  'Supplier',
  'Supplier item',
  'Supplier cost',
  'Supplier currency',
  'Supplier units to one',
  'One supplier unit of money is',
  'Weight in grams',
  'Category',
  'MAP',
  'MSRP',
  'Market price',
  'Own price',
  'How the price came to be',
  'Held because',
  'Price',
] as const;

const nameOf = ({ kind, name }: SumLine) => (name ? `less ${name}` : `less ${kind}`);

/**
 * Listings as a table in which each price can be worked out again: every input, then every line of the sum, whose amounts
 * taken from the price leave the profit.
 */
export function priceRows(assortment: Assortment, ids: readonly string[]): string[][] {
  const rows = ids.flatMap((id) => rowOf(assortment, id) ?? []);
  const names = [...new Set(rows.flatMap((r) => r.lines.map(nameOf)))];
  const table = rows.map(({ cells, lines, currency }) => [
    ...COLUMNS.map((c) => cells[c] ?? ''),
    ...names.map((name) => {
      const line = lines.find((l) => nameOf(l) === name);
      return line ? decimalOf(line.minor, currency) : '';
    }),
    cells.Profit ?? '',
  ]);
  return [uniqueNames([...COLUMNS, ...names, 'Profit']), ...table];
}

function rowOf(assortment: Assortment, id: string): PriceRow | null {
  const { shop } = assortment;
  const full = assortment.get(id);
  const market = full && marketOf(shop, full.listing.marketplace);
  if (!full || !market) return null;
  const { listing, source, item } = full;
  const { currency } = market.site;
  const supplier = source && supplierOf(shop, source.supplier);
  const plan = planFor(shop, full);
  const quote = quoteListing(full, shop, plan);
  const money = (minor: number | null | undefined) => (minor == null ? '' : decimalOf(minor, currency));
  const nameOf = nameIn(shop);
  const steps =
    quote?.answer?.ok && plan ? quote.answer.steps.map((s) => stepInWords(s, currency, nameOf)) : [];
  // Exact to twelve digits, as a spreadsheet has it.
  const rate = quote?.exchange ? Number((quote.exchange.num / quote.exchange.den).toPrecision(12)) : 1;
  const cells: Record<string, string> = {
    SKU: listing.sku,
    Marketplace: market.name,
    Currency: currency,
    Plan: listing.ownPrice === null ? (plan?.name ?? '') : 'own price',
    Supplier: supplier?.name ?? '',
    'Supplier item': source?.item ?? '',
    'Supplier cost': item && supplier ? decimalOf(item.cost, supplier.currency) : '',
    'Supplier currency': supplier?.currency ?? '',
    'Supplier units to one': String(source?.pack ?? ''),
    'One supplier unit of money is': String(rate),
    'Weight in grams': String(quote?.priced?.grams ?? ''),
    Category: market.site.categories.find((c) => c.id === quote?.category)?.name ?? '',
    MAP: money(quote?.map),
    MSRP: money(quote?.msrp),
    'Market price': money(listing.market?.minor),
    'Own price': money(listing.ownPrice),
    'How the price came to be': steps.join('; '),
    'Held because': quote?.problem ? problemInWords(quote.problem, currency, nameOf) : '',
    Price: money(quote?.price),
    Profit: money(quote?.sum?.profit),
  };
  return { cells, lines: quote?.sum?.lines ?? [], currency };
}
