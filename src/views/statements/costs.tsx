'use client';
import { useState } from 'react';
import { formatMinor, parseMinor } from '../../core/money';
import { addDays, dayOf, isDay, writtenDay } from '../../core/units';
import { useAddress } from '../../ui/address';
import { AmountField } from '../../ui/amount-field';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { DateField, DateRangeField } from '../../ui/date-field';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { CostRow } from '../../work/model';
import { marketsOf, type ShopTerms, suppliersOf } from '../../work/quoting/worth';
import type { TypedCost } from '../../work/statements/costs';

const LOOK = 'rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-sm text-ink';

/** What the shop costs besides its orders: typed, or from statements. */
export function CostsView({ shop, now, version }: { shop: ShopTerms; now: number; version: number }) {
  const { get, set } = useAddress();
  const today = now ? dayOf(now, shop.settings.zone) : '';
  const to = isDay(get('to')) ? get('to') : today;
  const from = isDay(get('from')) && get('from') <= to ? get('from') : to && addDays(to, -29);
  const books = shop.settings.currency;
  const [editing, setEditing] = useState<{ readonly id: string | null; readonly cost: TypedCost } | null>(
    null,
  );
  const found = useAnswer(
    () => (version && from && to ? theShop().costsOf(from, to) : undefined),
    [version, from, to],
  );
  const fresh: TypedCost = { name: '', day: today, minor: 0, currency: books, monthly: true, until: null };
  const remove = async (c: CostRow) => {
    const said = await theShop().removeCost(c.id);
    await say(said.ok ? `${c.name} is removed.` : said.reason, said.ok ? { undo: true } : { wrong: true });
  };
  if (!found) return <p className="text-[13.5px] text-muted">Counting …</p>;
  return (
    <>
      <div className="flex flex-wrap items-center gap-3 pb-2">
        <DateRangeField
          {...{ from, to }}
          max={addDays(today, 366)}
          onChange={(first, last) => set({ from: first, to: last })}
        />
        <Button onClick={() => setEditing({ id: null, cost: fresh })}>New cost</Button>
        <span className="text-[13.5px] text-muted">
          {formatMinor(found.sum, books)} falls on these days
          {found.unrated > 0 && `; ${found.unrated} without an exchange rate`}.
        </span>
      </div>
      {editing && <CostForm key={editing.id ?? ''} {...{ shop, editing }} onDone={() => setEditing(null)} />}
      {found.rows.length === 0 ? (
        <p className="max-w-prose text-[13.5px] text-muted">
          What the shop costs whatever it sells: fees of the month, software, rent. A monthly cost is spread
          over the days of its months, and Money takes it off the profit.
        </p>
      ) : (
        <table className="w-full max-w-4xl text-[13.5px]">
          <caption className="sr-only">Costs of the shop</caption>
          <thead className="text-xs text-muted">
            <tr>
              {['What', 'From', 'Until', 'Amount', 'Of these days', ''].map((name, k) => (
                <th
                  key={name}
                  scope="col"
                  className={`py-1 pr-3 font-normal ${k === 3 || k === 4 ? 'text-right' : 'text-left'}`}
                >
                  {name || <span className="sr-only">Acts</span>}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {found.rows.map((c) => (
              <tr key={c.id} className="border-t border-rule-soft">
                <th scope="row" className="py-1 pr-3 text-left font-normal">
                  {c.name}
                </th>
                <td className="pr-3 whitespace-nowrap">{writtenDay(c.day)}</td>
                <td className="pr-3 whitespace-nowrap">
                  {c.monthly ? (c.until ? writtenDay(c.until) : 'each month') : 'once'}
                </td>
                <td className="pr-3 text-right">{formatMinor(c.minor, c.currency)}</td>
                <td className="pr-3 text-right">
                  {c.inRange === null ? 'no rate' : formatMinor(c.inRange, books)}
                </td>
                <td className="text-right whitespace-nowrap">
                  {!c.stated && (
                    <Button
                      kind="text"
                      aria-label={`Change ${c.name}`}
                      onClick={() => setEditing({ id: c.id, cost: c })}
                    >
                      Change
                    </Button>
                  )}
                  <Button kind="text" aria-label={`Remove ${c.name}`} onClick={() => remove(c)}>
                    Remove
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}

function CostForm({
  shop,
  editing: { id, cost },
  onDone,
}: {
  shop: ShopTerms;
  editing: { readonly id: string | null; readonly cost: TypedCost };
  onDone: () => void;
}) {
  const [typed, setTyped] = useState(cost);
  const [busy, setBusy] = useState(false);
  const put = (part: Partial<TypedCost>) => setTyped({ ...typed, ...part });
  const currencies = [
    ...new Set([
      shop.settings.currency,
      ...marketsOf(shop).map((m) => m.site.currency),
      ...suppliersOf(shop).map((s) => s.currency),
    ]),
  ];
  const save = async () => {
    setBusy(true);
    const said = await theShop().keepCost(id, typed);
    setBusy(false);
    await say(said.ok ? `${typed.name} is kept.` : said.reason, said.ok ? { undo: true } : { wrong: true });
    if (said.ok) onDone();
  };
  return (
    <form
      className="mb-3 flex max-w-4xl flex-wrap items-end gap-3 rounded-sm border border-rule bg-surface p-3"
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      <label className="flex flex-col text-xs text-muted">
        What it is for
        <input
          className={`${LOOK} w-52`}
          maxLength={120}
          value={typed.name}
          onChange={(e) => put({ name: e.target.value })}
        />
      </label>
      <AmountField
        label="Amount"
        value={typed.minor || null}
        write={(n) => formatMinor(n, typed.currency)}
        parse={(text) => parseMinor(text, typed.currency)}
        onChange={(n) => put({ minor: n ?? 0 })}
      />
      <label className="flex flex-col text-xs text-muted">
        Currency
        <select className={LOOK} value={typed.currency} onChange={(e) => put({ currency: e.target.value })}>
          {currencies.map((c) => (
            <option key={c}>{c}</option>
          ))}
        </select>
      </label>
      <label className="flex flex-col text-xs text-muted">
        How often
        <select
          className={LOOK}
          value={typed.monthly ? 'monthly' : 'once'}
          onChange={(e) => put({ monthly: e.target.value === 'monthly' })}
        >
          <option value="monthly">each month</option>
          <option value="once">once</option>
        </select>
      </label>
      <DateField
        label={typed.monthly ? 'From' : 'On'}
        value={typed.day}
        onChange={(day) => day && put({ day })}
      />
      {typed.monthly && (
        <DateField
          label="Until"
          value={typed.until ?? ''}
          onChange={(until) => put({ until: until || null })}
        />
      )}
      <Button kind="main" type="submit" disabled={busy || !typed.name.trim() || !typed.minor}>
        Keep
      </Button>
      <Button kind="text" onClick={onDone}>
        Not now
      </Button>
    </form>
  );
}
