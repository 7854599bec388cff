'use client';
import { useId, useState } from 'react';
import { formatMinor, formatRate, type Parsed, parseMinor, parseRate } from '../../core/money';
import {
  type CostRules,
  discountsInWords,
  NO_COST_RULES,
  parseDiscounts,
  parseImports,
  parseItemPrices,
  parseZones,
  shippingInWords,
} from '../../core/pricing';
import { countOf } from '../../core/units';
import { useAhead } from '../../ui/ahead';
import { Button } from '../../ui/button';
import { type Rows, RowsTable } from '../../ui/rows-table';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { LeapRule, SupplierConnection } from '../../work/model';
import { leapRuleOf } from '../../work/quoting/pricing-terms';
import {
  DISCOUNT_COLUMNS,
  discountRows,
  discountsText,
  IMPORT_COLUMNS,
  ITEM_PRICE_COLUMNS,
  importRows,
  importsText,
  itemPriceRows,
  itemPricesText,
  ZONE_COLUMNS,
  zoneRows,
  zonesText,
} from './cost-tables';

const FIELDS = {
  extraItem: { label: 'Each further item in a parcel', hint: 'empty: weighed together' },
  volumetric: {
    label: 'cm³ that count as 1 kg',
    hint: 'such as 5000; empty: size is no matter',
  },
  perOrder: { label: 'Handling per order', hint: '' },
  perItem: { label: 'Handling per item', hint: '' },
  payingRate: {
    label: 'Paying the supplier costs',
    hint: 'share of what is paid, such as 1.5 %',
  },
  payingFixed: { label: 'and each time', hint: '' },
  cashback: { label: 'Cashback on goods', hint: '' },
} as const;
type Field = keyof typeof FIELDS;
type Texts = Readonly<Record<Field, string>>;

/** What is a table: its columns, and how its rows are read. */
const TABLES = {
  zones: { label: 'Shipping elsewhere', columns: ZONE_COLUMNS, textOf: zonesText },
  imports: { label: 'Duty and import tax', columns: IMPORT_COLUMNS, textOf: importsText },
  discounts: { label: 'Discount by quantity', columns: DISCOUNT_COLUMNS, textOf: discountsText },
  itemPrices: {
    label: 'Prices of single items by quantity',
    columns: ITEM_PRICE_COLUMNS,
    textOf: itemPricesText,
  },
} as const;
type TableName = keyof typeof TABLES;
type Tables = Readonly<Record<TableName, Rows>>;

const tablesOf = (rules: CostRules, currency: string): Tables => ({
  zones: zoneRows(rules.zones, currency),
  imports: importRows(rules.imports, currency),
  discounts: discountRows(rules.discounts),
  itemPrices: itemPriceRows(rules.itemPrices, currency),
});

function textsOf(rules: CostRules, currency: string): Texts {
  const money = (minor: number) => (minor ? formatMinor(minor, currency) : '');
  const rate = (ppm: number) => (ppm ? formatRate(ppm) : '');
  return {
    extraItem: rules.extraItem === null ? '' : formatMinor(rules.extraItem, currency),
    volumetric: rules.volumetric === null ? '' : String(rules.volumetric),
    perOrder: money(rules.handling.order),
    perItem: money(rules.handling.item),
    payingRate: rate(rules.paying.rate),
    payingFixed: money(rules.paying.fixed),
    cashback: rate(rules.cashback.rate),
  };
}

/** Texts as rules, or what is wrong by field. */
function read(
  texts: Texts,
  tables: Tables,
  counted: boolean,
  currency: string,
): { rules: CostRules | null; wrong: Partial<Record<Field | TableName, string>> } {
  const wrong: Partial<Record<Field | TableName, string>> = {};
  const take = <T,>(field: Field | TableName, parse: (text: string) => Parsed<T>, none: T): T => {
    const text = (
      field in TABLES ? TABLES[field as TableName].textOf(tables[field as TableName]) : texts[field as Field]
    ).trim();
    if (!text) return none;
    const got = parse(text);
    if (got.ok) return got.value;
    wrong[field] = got.reason;
    return none;
  };
  const money = (text: string): Parsed<number> => {
    const got = parseMinor(text, currency);
    return got.ok && got.value < 0 ? { ok: false, reason: `“${text}” is below zero.` } : got;
  };
  const rate = (text: string): Parsed<number> => {
    const got = parseRate(text);
    return got.ok && (got.value < 0 || got.value >= 1_000_000)
      ? { ok: false, reason: `“${text}” is no share from 0 to 100 %.` }
      : got;
  };
  const whole = (text: string): Parsed<number> =>
    /^\d{3,6}$/.test(text)
      ? { ok: true, value: Number(text) }
      : { ok: false, reason: `“${text}” is no number of cm³, such as 5000.` };
  const rules: CostRules = {
    zones: take('zones', (text) => parseZones(text, currency), []),
    imports: take('imports', (text) => parseImports(text, currency), []),
    discounts: take('discounts', parseDiscounts, []),
    itemPrices: take('itemPrices', (text) => parseItemPrices(text, currency), {}),
    extraItem: take<number | null>('extraItem', money, null),
    volumetric: take<number | null>('volumetric', whole, null),
    handling: { order: take('perOrder', money, 0), item: take('perItem', money, 0) },
    paying: { rate: take('payingRate', rate, 0), fixed: take('payingFixed', money, 0) },
    cashback: { rate: take('cashback', rate, 0), counted },
  };
  return { rules: Object.keys(wrong).length ? null : rules, wrong };
}

/** The costs of buying from a supplier besides its prices and usual shipping, with their effect shown while they are typed. */
export function SupplierCostsForm({
  supplier,
  onDone,
}: {
  supplier: SupplierConnection;
  onDone: () => void;
}) {
  const { currency } = supplier;
  const known = supplier.costs ?? NO_COST_RULES;
  const [texts, setTexts] = useState(() => textsOf(known, currency));
  const [tables, setTables] = useState(() => tablesOf(known, currency));
  const [counted, setCounted] = useState(known.cashback.counted);
  const leap = leapRuleOf(supplier);
  const [times, setTimes] = useState(String(leap.times));
  const [meanwhile, setMeanwhile] = useState(leap.meanwhile);
  const id = useId();
  const { rules, wrong } = read(texts, tables, counted, currency);
  const factor = /^\d{1,3}$/.test(times.trim()) && Number(times) >= 2 ? Number(times) : null;
  const leapNow: LeapRule | null = factor === null ? null : { times: factor, meanwhile };
  const changedLeap = JSON.stringify(leapNow) !== JSON.stringify(leap);
  const changed = JSON.stringify(rules) !== JSON.stringify(known);
  const ahead = useAhead(
    rules && leapNow && (changed || changedLeap)
      ? { connection: { id: supplier.id, terms: { costs: rules, leap: leapNow } } }
      : null,
  );
  const table = (name: TableName) => (
    <div className="sm:col-span-2">
      <RowsTable
        label={TABLES[name].label}
        columns={TABLES[name].columns}
        rows={tables[name]}
        wrong={wrong[name] ?? null}
        onChange={(rows) => setTables({ ...tables, [name]: rows })}
      />
    </div>
  );
  const field = (name: Field) => {
    const { label, hint } = FIELDS[name];
    const props = {
      id: `${id}-${name}`,
      value: texts[name],
      'aria-invalid': wrong[name] !== undefined,
      'aria-describedby': `${id}-${name}-hint`,
      onChange: (e: { target: { value: string } }) => setTexts({ ...texts, [name]: e.target.value }),
      className: 'mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink',
    };
    return (
      <div className="text-xs text-muted">
        <label htmlFor={props.id}>{label}</label>
        <input {...props} />
        <span
          id={`${id}-${name}-hint`}
          role={wrong[name] ? 'alert' : undefined}
          className={wrong[name] ? 'text-loss' : ''}
        >
          {wrong[name] ?? hint}
        </span>
      </div>
    );
  };
  return (
    <form
      className="mt-3 grid gap-3 rounded-sm border border-rule p-3 sm:grid-cols-2"
      aria-label={`Costs of ${supplier.name}`}
      onSubmit={async (e) => {
        e.preventDefault();
        if (!rules || !leapNow || !ahead.ready) return;
        const n = await theShop().saveSupplierCosts(supplier.id, rules, leapNow);
        await say(
          `Costs of ${supplier.name} are saved. ${n ? `${countOf(n, 'listing')} on the way to the marketplaces.` : 'No price had to change.'}`,
          { undo: true },
        );
        onDone();
      }}
    >
      <p className="text-[13px] text-muted sm:col-span-2">
        Usual shipping: {shippingInWords(supplier.shipping, currency) || 'none'}, in {currency}.
      </p>
      {table('zones')}
      {table('imports')}
      {field('perOrder')}
      {field('perItem')}
      {field('extraItem')}
      {field('volumetric')}
      {field('payingRate')}
      {field('payingFixed')}
      {table('discounts')}
      <div>
        {field('cashback')}
        <label className="mt-1 flex items-center gap-1.5 text-xs text-muted">
          <input type="checkbox" checked={counted} onChange={(e) => setCounted(e.target.checked)} />
          counts in prices, not only for me
        </label>
      </div>
      {table('itemPrices')}
      <p className="text-[13px] text-muted sm:col-span-2">
        A cost that moves by more than{' '}
        <input
          aria-label="Times that a cost moves before it waits"
          inputMode="numeric"
          value={times}
          aria-invalid={factor === null}
          onChange={(e) => setTimes(e.target.value)}
          className={`w-12 rounded-sm border bg-surface px-1 py-0.5 text-right text-ink ${factor === null ? 'border-loss' : 'border-edge'}`}
        />{' '}
        times waits for me; meanwhile{' '}
        <select
          aria-label="While a cost waits"
          value={meanwhile}
          onChange={(e) => setMeanwhile(e.target.value as LeapRule['meanwhile'])}
          className="rounded-sm border border-edge bg-surface px-1 py-0.5 text-ink"
        >
          <option value="keep">the old price is kept</option>
          <option value="show none">none are shown</option>
        </select>
        {factor === null && <span className="text-loss"> A whole number from 2 to 999.</span>}
      </p>
      <div className="sm:col-span-2">{ahead.view}</div>
      <div className="flex gap-2 sm:col-span-2">
        <Button kind="main" type="submit" {...ahead.save}>
          {ahead.saves}
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}

/** What is said of a supplier's costs, in short; '' for nothing. */
export function costsInWords({ costs, currency }: SupplierConnection): string {
  if (!costs) return '';
  const money = (minor: number) => formatMinor(minor, currency);
  const { zones, imports, discounts, itemPrices, handling, paying, cashback, extraItem, volumetric } = costs;
  return [
    zones.length ? countOf(zones.length, 'shipping zone') : '',
    imports.length ? `duty and tax at ${countOf(imports.length, 'border')}` : '',
    handling.order || handling.item
      ? `handling ${[handling.order ? `${money(handling.order)} per order` : '', handling.item ? `${money(handling.item)} per item` : ''].filter(Boolean).join(' and ')}`
      : '',
    extraItem === null ? '' : `further items ${money(extraItem)}`,
    volumetric === null ? '' : `${volumetric} cm³ count as 1 kg`,
    discounts.length ? `discount ${discountsInWords(discounts)}` : '',
    Object.keys(itemPrices).length
      ? `prices by quantity of ${countOf(Object.keys(itemPrices).length, 'item')}`
      : '',
    paying.rate || paying.fixed
      ? `paying ${[paying.rate ? formatRate(paying.rate) : '', paying.fixed ? money(paying.fixed) : ''].filter(Boolean).join(' + ')}`
      : '',
    cashback.rate ? `cashback ${formatRate(cashback.rate)}${cashback.counted ? '' : ', not counted'}` : '',
  ]
    .filter(Boolean)
    .join(', ');
}
