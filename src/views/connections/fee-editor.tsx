'use client';
import { useState } from 'react';
import { formatMinor, type Parsed, parseMinor } from '../../core/money';
import { type FeeRule, parseFeeShares, ruleInWords } from '../../core/pricing';
import { countOf, formatCount } from '../../core/units';
import { useAhead } from '../../ui/ahead';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { type Rows, type RowsColumn, RowsTable } from '../../ui/rows-table';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { MarketConnection } from '../../work/model';
import { shareColumns, shareRows, sharesText } from './cost-tables';

/** A fee as it is typed. */
interface Typed {
  readonly rule: FeeRule;
  readonly name: string;
  readonly shares: Rows;
  readonly fixed: string;
  readonly least: string;
  readonly most: string;
}

const KINDS: Readonly<Record<FeeRule['kind'], string>> = {
  sale: 'sale fee',
  payment: 'payment fee',
  advertising: 'advertising',
  listing: 'listing fee',
};
const PER: Readonly<Record<FeeRule['per'], string>> = {
  item: 'of each item',
  order: 'once per order',
  listing: 'to relist each item',
};

const EMPTY: Omit<FeeRule, 'id'> = {
  name: 'Another fee',
  kind: 'sale',
  per: 'item',
  bands: {},
  fixed: 0,
  least: null,
  most: null,
  onShipping: false,
  onTax: true,
  optional: false,
};

const LOOK = 'mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink';

/** The categories that a fee can differ by; none of a fee per order. */
const categoriesFor = (rule: Pick<FeeRule, 'per'>, { site }: Pick<MarketConnection, 'site'>) =>
  rule.per === 'order' ? [] : site.categories;

/** A typed fee as a rule, or why it is none. */
function ruleOf(typed: Typed, { site }: MarketConnection): Parsed<FeeRule> {
  const money = (text: string, none: number | null): Parsed<number | null> => {
    if (!text.trim()) return { ok: true, value: none };
    const got = parseMinor(text, site.currency);
    return got.ok && got.value < 0 ? { ok: false, reason: `“${text}” is below zero.` } : got;
  };
  const named = categoriesFor(typed.rule, { site }).length > 0;
  const shares = parseFeeShares(sharesText(typed.shares, named), site.currency, site.categories);
  if (!shares.ok) return shares;
  if (typed.rule.per === 'order' && Object.keys(shares.value).some((id) => id !== '*'))
    return { ok: false, reason: 'A fee per order cannot differ by category.' };
  const [fixed, least, most] = [money(typed.fixed, 0), money(typed.least, null), money(typed.most, null)];
  for (const amount of [fixed, least, most]) if (!amount.ok) return amount;
  if (!typed.name.trim()) return { ok: false, reason: 'Give the fee a name.' };
  const value = (amount: Parsed<number | null>) => (amount.ok ? amount.value : null);
  return {
    ok: true,
    value: {
      ...typed.rule,
      name: typed.name.trim().slice(0, 80),
      bands: shares.value,
      fixed: value(fixed) ?? 0,
      least: value(least),
      most: value(most),
    },
  };
}

/** The fees of a marketplace, rule by rule, checked against what it charged for orders while they are typed. */
export function FeeEditor({ market: c, onDone }: { market: MarketConnection; onDone: () => void }) {
  const { site } = c;
  const money = (minor: number | null) => (minor ? formatMinor(minor, site.currency) : '');
  const typedOf = (rule: FeeRule): Typed => ({
    rule,
    name: rule.name,
    shares: shareRows(rule, site.currency, categoriesFor(rule, c)),
    fixed: money(rule.fixed),
    least: money(rule.least),
    most: money(rule.most),
  });
  const [fees, setFees] = useState<readonly Typed[]>(() => site.fees.rules.map(typedOf));
  const read = fees.map((fee) => ruleOf(fee, c));
  const rules = read.every((r) => r.ok) ? read.flatMap((r) => (r.ok ? [r.value] : [])) : null;
  const changed = rules !== null && JSON.stringify(rules) !== JSON.stringify(site.fees.rules);
  const ahead = useAhead(
    changed
      ? { connection: { id: c.id, terms: { site: { ...site, fees: { ...site.fees, rules } } } } }
      : null,
  );
  const put = (at: number, set: Partial<Typed>) =>
    setFees(fees.map((fee, k) => (k === at ? { ...fee, ...set } : fee)));
  const save = async (own: readonly FeeRule[] | null) => {
    const n = await theShop().saveFees(c.id, own);
    await say(
      `${own ? 'Your fees' : `The fees that ${c.name} says`} count now. ${n ? `${countOf(n, 'listing')} on the way to ${c.name}.` : 'No live listing had to change.'}`,
      { undo: true },
    );
    onDone();
  };
  return (
    <form
      className="mt-2 rounded-sm border border-rule p-3"
      aria-label={`Fees of ${c.name}`}
      onSubmit={async (e) => {
        e.preventDefault();
        if (rules && ahead.ready) await save(rules);
      }}
    >
      {fees.map((fee, at) => {
        const got = read[at]!;
        return (
          <fieldset key={fee.rule.id} className="border-b border-rule-soft pb-3 not-first:pt-3">
            <legend className="sr-only">{fee.name}</legend>
            <FeeFields
              fee={fee}
              columns={shareColumns(categoriesFor(fee.rule, c))}
              onChange={(set) => put(at, set)}
              onRemove={() => setFees(fees.filter((_, k) => k !== at))}
            />
            <p role="status" className={`mt-1 text-[13px] ${got.ok ? 'text-muted' : 'text-loss'}`}>
              {got.ok
                ? ruleInWords(
                    got.value,
                    site.fees.tax,
                    site.currency,
                    (id) => site.categories.find((k) => k.id === id)?.name ?? id,
                  )
                : got.reason}
            </p>
          </fieldset>
        );
      })}
      <FeeCheckLine market={c} rules={rules} />
      {ahead.view}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button kind="main" type="submit" {...ahead.save}>
          {ahead.saves}
        </Button>
        <Button
          onClick={() => setFees([...fees, typedOf({ ...EMPTY, id: `own-${Date.now().toString(36)}` })])}
        >
          Add a fee
        </Button>
        {c.theirFees && <Button onClick={() => save(null)}>Use those of {c.name}</Button>}
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}

function FeeFields({
  fee,
  columns,
  onChange,
  onRemove,
}: {
  fee: Typed;
  columns: readonly RowsColumn[];
  onChange: (set: Partial<Typed>) => void;
  onRemove: () => void;
}) {
  const { rule } = fee;
  const set = (change: Partial<FeeRule>) => onChange({ rule: { ...rule, ...change } });
  const text = (name: 'name' | 'fixed' | 'least' | 'most', label: string, width = '') => (
    <label className={`text-xs text-muted ${width}`}>
      {label}
      <input value={fee[name]} onChange={(e) => onChange({ [name]: e.target.value })} className={LOOK} />
    </label>
  );
  const check = (name: 'onTax' | 'onShipping' | 'optional', label: string) => (
    <label className="flex items-center gap-1.5 text-xs text-muted">
      <input type="checkbox" checked={rule[name]} onChange={(e) => set({ [name]: e.target.checked })} />
      {label}
    </label>
  );
  return (
    <>
      <div className="flex flex-wrap items-end gap-2">
        {text('name', 'Fee', 'w-36')}
        <label className="text-xs text-muted">
          Kind
          <select
            value={rule.kind}
            onChange={(e) => set({ kind: e.target.value as FeeRule['kind'] })}
            className={LOOK}
          >
            {Object.entries(KINDS).map(([kind, words]) => (
              <option key={kind} value={kind}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <label className="text-xs text-muted">
          Taken
          <select
            value={rule.per}
            onChange={(e) => {
              const per = e.target.value as FeeRule['per'];
              // A fee per order has no column for categories: its rows lose, or gain, the first cell.
              const was = rule.per === 'order';
              const is = per === 'order';
              const shares =
                was === is ? fee.shares : fee.shares.map((row) => (is ? row.slice(-2) : ['', ...row]));
              onChange({ rule: { ...rule, per }, shares });
            }}
            className={LOOK}
          >
            {Object.entries(PER).map(([per, words]) => (
              <option key={per} value={per}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <Button kind="text" aria-label={`Remove ${fee.name}`} onClick={onRemove}>
          Remove
        </Button>
      </div>
      <div className="mt-2 flex flex-wrap items-start gap-2">
        <div className="grow">
          <RowsTable
            label="Share of the price"
            columns={columns}
            rows={fee.shares}
            wrong={null}
            onChange={(shares) => onChange({ shares })}
          />
        </div>
        {text('fixed', 'Plus', 'w-20')}
        {text('least', 'At least', 'w-20')}
        {text('most', 'At most', 'w-20')}
      </div>
      <div className="mt-1.5 flex flex-wrap gap-4">
        {check('onTax', 'of the price with tax')}
        {check('onShipping', 'and of the buyer’s shipping')}
        {check('optional', 'only where I opted in')}
      </div>
    </>
  );
}

/** The fees that a table would have charged for past orders, beside the fees that were charged. */
export function FeeCheckLine({
  market: c,
  rules,
}: {
  market: MarketConnection;
  rules: readonly FeeRule[] | null;
}) {
  const key = JSON.stringify(rules);
  const check = useAnswer(
    async () => (rules ? await theShop().feeCheck(c.id, { ...c.site.fees, rules }) : null),
    [c.id, key],
    200,
  );
  if (!rules || !check) return null;
  if (!check.orders)
    return <p className="mt-2 text-[13px] text-muted">No order was charged yet to check the fees against.</p>;
  const m = (minor: number) => formatMinor(minor, c.site.currency);
  return (
    <div className="mt-2 text-[13px]">
      <p role="status">
        Of {countOf(check.orders, 'order')} that {c.name} charged, {formatCount(check.agree)}{' '}
        {check.agree === 1 ? 'was' : 'were'} charged as this table says:{' '}
        {check.charged === check.expected
          ? `${m(check.charged)} together`
          : `it makes ${m(check.expected)}, ${m(check.charged)} was charged`}
        .
      </p>
      {check.differences.length > 0 && (
        <details>
          <summary className="cursor-default text-lamp">
            {countOf(check.differences.length, 'difference')}
          </summary>
          <ul className="mt-1 max-h-40 list-disc overflow-auto pl-5">
            {check.differences.map((d) => (
              <li key={`${d.order} ${d.kind}`}>
                {d.number}: this table would have charged {m(d.expected)} {d.kind}, {c.name} charged{' '}
                {m(d.charged)}.
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
