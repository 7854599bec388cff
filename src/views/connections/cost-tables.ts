import { formatMinor, formatRate } from '../../core/money';
import type {
  Buyers,
  FeeRule,
  ImportRule,
  QuantityDiscount,
  QuantityPrice,
  ShippingZone,
} from '../../core/pricing';
import { filledRows, type Rows, type RowsColumn } from '../../ui/rows-table';

/** Rows with the same first cells, together and in their order; a row without them goes on with those of the row before. */
function together(rows: Rows, keys: number): { readonly key: readonly string[]; readonly rows: Rows }[] {
  const groups: { key: readonly string[]; rows: (readonly string[])[] }[] = [];
  for (const row of filledRows(rows)) {
    const key = row.slice(0, keys).map((cell) => cell.trim());
    const last = groups.at(-1);
    const goesOn = last && (key.every((cell) => !cell) || key.join('\u0000') === last.key.join('\u0000'));
    if (goesOn) last.rows.push(row);
    else groups.push({ key, rows: [row] });
  }
  return groups;
}

const countries = (cell: string) =>
  cell
    .split(/[\s,;]+/)
    .filter(Boolean)
    .join(', ');
const kilograms = (cell: string) => (/[a-z]/i.test(cell) ? cell : `${cell} kg`);
const percent = (cell: string) => (cell.trim().endsWith('%') ? cell.trim() : `${cell.trim()} %`);

export const ZONE_COLUMNS: readonly RowsColumn[] = [
  { name: 'Countries', example: 'DE FR' },
  { name: 'Service', example: 'any' },
  { name: 'Up to, kg', example: '2', right: true },
  { name: 'Costs', example: '9.50', right: true },
];

export const zoneRows = (zones: readonly ShippingZone[], currency: string): Rows =>
  zones.flatMap(({ countries: to, service, bands }) =>
    bands.map((b) => [to.join(' '), service, String(b.upToGrams / 1000), formatMinor(b.minor, currency)]),
  );

/** As the reader of zones has them: a line for each. */
export const zonesText = (rows: Rows): string =>
  together(rows, 2)
    .map(({ key: [to = '', service = ''], rows: bands }) => {
      const parts = bands.map(
        ([, , upTo = '', costs = '']) => `${kilograms(upTo.trim() || '30')}: ${costs.trim()}`,
      );
      return `${countries(to)}${service && ` ${service}`}: ${parts.join(', ')}`;
    })
    .join('\n');

export const IMPORT_COLUMNS: readonly RowsColumn[] = [
  { name: 'Countries', example: 'US' },
  { name: 'Duty, %', example: '4', right: true },
  { name: 'Import tax, %', example: '8', right: true },
  { name: 'Free up to', example: '800', right: true },
  {
    name: 'Tax comes back',
    example: '',
    choices: [
      ['no', 'no'],
      ['yes', 'yes'],
    ],
  },
];

export const importRows = (imports: readonly ImportRule[], currency: string): Rows =>
  imports.map((r) => [
    r.countries.join(' '),
    formatRate(r.duty).replace(' %', ''),
    formatRate(r.tax).replace(' %', ''),
    r.freeUpTo ? formatMinor(r.freeUpTo, currency) : '',
    r.reclaimed ? 'yes' : 'no',
  ]);

export const importsText = (rows: Rows): string =>
  filledRows(rows)
    .map(([to = '', duty = '', tax = '', free = '', back = '']) =>
      [
        `${countries(to)}: duty ${percent(duty || '0')}`,
        `tax ${percent(tax || '0')}`,
        free.trim() && `free up to ${free.trim()}`,
        back === 'yes' && 'reclaimed',
      ]
        .filter(Boolean)
        .join(', '),
    )
    .join('\n');

export const DISCOUNT_COLUMNS: readonly RowsColumn[] = [
  { name: 'From units', example: '10', right: true },
  { name: 'Less, %', example: '5', right: true },
];

export const discountRows = (discounts: readonly QuantityDiscount[]): Rows =>
  discounts.map(({ from, off }) => [String(from), formatRate(off).replace(' %', '')]);

export const discountsText = (rows: Rows): string =>
  filledRows(rows)
    .map(([from = '', off = '']) => `${from.trim()}: ${percent(off)}`)
    .join('\n');

export const ITEM_PRICE_COLUMNS: readonly RowsColumn[] = [
  { name: 'SKU', example: 'BW-010021' },
  { name: 'From units', example: '10', right: true },
  { name: 'Each', example: '3.20', right: true },
];

export const itemPriceRows = (
  items: Readonly<Record<string, readonly QuantityPrice[]>>,
  currency: string,
): Rows =>
  Object.entries(items).flatMap(([sku, prices]) =>
    prices.map(({ from, price }) => [sku, String(from), formatMinor(price, currency)]),
  );

export const itemPricesText = (rows: Rows): string =>
  together(rows, 1)
    .map(({ key: [sku = ''], rows: steps }) => {
      const parts = steps.map(([, from = '', each = '']) => `${from.trim()}: ${each.trim()}`);
      return `${sku}: ${parts.join(', ')}`;
    })
    .join('\n');

export const BUYER_COLUMNS: readonly RowsColumn[] = [
  { name: 'Country', example: 'GB' },
  { name: 'Share, %', example: '80', right: true },
];

export const buyerRows = (buyers: Buyers): Rows =>
  buyers.map(({ country, share }) => [country, formatRate(share).replace(' %', '')]);

export const buyersText = (rows: Rows): string =>
  filledRows(rows)
    .map(([country = '', share = '']) => `${country.trim()}${share.trim() && ` ${percent(share)}`}`)
    .join('\n');

/** Columns of a fee's shares. @param categories by name; none where the fee is the same for all */
export const shareColumns = (
  categories: readonly { readonly id: string; readonly name: string }[],
): readonly RowsColumn[] => [
  ...(categories.length
    ? [
        {
          name: 'Category',
          example: 'all others',
          choices: [
            ['elsewhere', 'all others'] as const,
            ...categories.map((c) => [c.name, c.name] as const),
          ],
        },
      ]
    : []),
  { name: 'Of the price up to', example: 'no end', right: true },
  { name: 'Share, %', example: '12', right: true },
];

export const shareRows = (
  { bands }: Pick<FeeRule, 'bands'>,
  currency: string,
  categories: readonly { readonly id: string; readonly name: string }[],
): Rows =>
  Object.entries(bands).flatMap(([id, own]) =>
    own.map((b) => [
      ...(categories.length
        ? [id === '*' ? 'elsewhere' : (categories.find((c) => c.id === id)?.name ?? id)]
        : []),
      b.upTo === null ? '' : formatMinor(b.upTo, currency),
      formatRate(b.rate).replace(' %', ''),
    ]),
  );

/** As the reader of shares has them: a line for each category. @param named whether the first column is the category */
export const sharesText = (rows: Rows, named: boolean): string =>
  together(named ? rows : rows.map((row) => ['', ...row]), 1)
    .map(({ key: [category = ''], rows: bands }) => {
      const parts = bands.map(([, upTo = '', share = '']) =>
        upTo.trim() ? `${percent(share)} to ${upTo.trim()}` : percent(share),
      );
      return `${category && `${category}: `}${parts.join(', ')}`;
    })
    .join('\n');
