'use client';
import { useId, useState } from 'react';
import { formatMinor, formatRate, type Parsed, parseMinor, parseRate } from '../../core/money';
import {
  type CostRules,
  discountsInWords,
  importsInWords,
  itemPricesInWords,
  NO_COST_RULES,
  parseDiscounts,
  parseImports,
  parseItemPrices,
  parseZones,
  shippingInWords,
  zonesInWords,
} from '../../core/pricing';
import { countOf } from '../../core/units';
import { useAhead } from '../../ui/ahead';
import { Button } from '../../ui/button';
import { say } from '../../ui/said';
import { theShop } from '../../work/clients';
import type { LeapRule, SupplierConnection } from '../../work/model';
import { leapRuleOf } from '../../work/shop/quote';

const FIELDS = {
  zones: {
    label: 'Shipping elsewhere, a line for each zone',
    hint: 'DE, FR: 2 kg: 9.50, 30 kg: 24.00. Of several services to a country the cheapest counts',
    area: true,
  },
  imports: {
    label: 'Duty and import tax, a line for each border',
    hint: 'US: duty 4 %, tax 8 %, free up to 800. Add “reclaimed” where the tax comes back',
    area: true,
  },
  discounts: {
    label: 'Discount by quantity',
    hint: '10: 5 %, 50: 8 %; packs of so many have it',
    area: false,
  },
  itemPrices: {
    label: 'Prices of single items by quantity, a line for each SKU',
    hint: 'BW-010021: 10: 3.20, 50: 2.90. They hold in place of the discount',
    area: true,
  },
  extraItem: { label: 'Each further item in a parcel', hint: 'empty: weighed together', area: false },
  volumetric: {
    label: 'cm³ that count as 1 kg',
    hint: 'such as 5000; empty: size is no matter',
    area: false,
  },
  perOrder: { label: 'Handling per order', hint: '', area: false },
  perItem: { label: 'Handling per item', hint: '', area: false },
  payingRate: {
    label: 'Paying the supplier costs',
    hint: 'share of what is paid, such as 1.5 %',
    area: false,
  },
  payingFixed: { label: 'and each time', hint: '', area: false },
  cashback: { label: 'Cashback on goods', hint: '', area: false },
} as const;
type Field = keyof typeof FIELDS;
type Texts = Readonly<Record<Field, string>>;

function textsOf(rules: CostRules, currency: string): Texts {
  const money = (minor: number) => (minor ? formatMinor(minor, currency) : '');
  const rate = (ppm: number) => (ppm ? formatRate(ppm) : '');
  return {
    zones: zonesInWords(rules.zones, currency),
    imports: importsInWords(rules.imports, currency),
    discounts: discountsInWords(rules.discounts),
    itemPrices: itemPricesInWords(rules.itemPrices, currency),
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
  counted: boolean,
  currency: string,
): { rules: CostRules | null; wrong: Partial<Record<Field, string>> } {
  const wrong: Partial<Record<Field, string>> = {};
  const take = <T,>(field: Field, parse: (text: string) => Parsed<T>, none: T): T => {
    const text = texts[field].trim();
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

/** What buying from a supplier costs besides its prices and its usual shipping; what that does while it is typed. */
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
  const [counted, setCounted] = useState(known.cashback.counted);
  const leap = leapRuleOf(supplier);
  const [times, setTimes] = useState(String(leap.times));
  const [meanwhile, setMeanwhile] = useState(leap.meanwhile);
  const id = useId();
  const { rules, wrong } = read(texts, counted, currency);
  const factor = /^\d{1,3}$/.test(times.trim()) && Number(times) >= 2 ? Number(times) : null;
  const leapNow: LeapRule | null = factor === null ? null : { times: factor, meanwhile };
  const changedLeap = JSON.stringify(leapNow) !== JSON.stringify(leap);
  const changed = JSON.stringify(rules) !== JSON.stringify(known);
  const ahead = useAhead(
    rules && leapNow && (changed || changedLeap)
      ? { connection: { id: supplier.id, terms: { costs: rules, leap: leapNow } } }
      : null,
  );
  const field = (name: Field) => {
    const { label, hint, area } = FIELDS[name];
    const props = {
      id: `${id}-${name}`,
      value: texts[name],
      'aria-invalid': wrong[name] !== undefined,
      'aria-describedby': `${id}-${name}-hint`,
      onChange: (e: { target: { value: string } }) => setTexts({ ...texts, [name]: e.target.value }),
      className: 'mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink',
    };
    return (
      <div className={`text-xs text-muted ${area ? 'sm:col-span-2' : ''}`}>
        <label htmlFor={props.id}>{label}</label>
        {area ? <textarea rows={2} {...props} /> : <input {...props} />}
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
      {field('zones')}
      {field('imports')}
      {field('perOrder')}
      {field('perItem')}
      {field('extraItem')}
      {field('volumetric')}
      {field('payingRate')}
      {field('payingFixed')}
      {field('discounts')}
      <div>
        {field('cashback')}
        <label className="mt-1 flex items-center gap-1.5 text-xs text-muted">
          <input type="checkbox" checked={counted} onChange={(e) => setCounted(e.target.checked)} />
          counts in prices, not only for me
        </label>
      </div>
      {field('itemPrices')}
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
        <Button kind="main" type="submit" disabled={!ahead.ready}>
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
