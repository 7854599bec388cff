'use client';
import { useState } from 'react';
import { formatMinor, formatMoney } from '../../core/money';
import { mayDo, openLines } from '../../core/orders';
import type { Against } from '../../core/sourcing';
import { countOf, formatCount } from '../../core/units';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { Section } from '../../ui/head';
import { theShop } from '../../work/desk/client';
import type { Order } from '../../work/model';
import type { ShownSource, ShownSources } from '../../work/orders/ahead';
import { nameIn, type ShopTerms } from '../../work/quoting/worth';
import type { Act } from './order-acts';

function againstInWords(a: Against, units: number): string {
  switch (a.why) {
    case 'stock':
      return a.has ? `has ${a.has} of ${units}` : 'has none';
    case 'destination':
      return 'does not ship there';
    case 'address':
      return 'its carrier does not take this address';
    case 'stopped':
      return 'buying is stopped';
    case 'substitute':
      return 'other goods, only by your word';
    case 'refused':
      return 'refused this order';
    case 'cost':
      return 'its cost or shipping is not known';
    case 'not connected':
      return 'not connected';
  }
}

const BY = {
  preferred: 'The preferred source goes first.',
  cheapest: 'The cheapest with its shipping goes first.',
  fastest: 'The fastest promised goes first.',
  nearest: 'One in the buyer’s country goes first.',
} as const;

/** Of which sources the open units of an order can be bought: what each costs and earns, and why the first goes first. */
export function LineSources({
  order,
  shop,
  version,
  act,
}: {
  order: Order;
  shop: ShopTerms;
  version: string;
  act: Act;
}) {
  const open = openLines(order).length > 0 && !order.aside;
  const found = useAnswer(() => (open ? theShop().sourcesAhead(order.id) : null), [order.id, open, version]);
  if (!open || !found?.some((l) => l.candidates.length)) return null;
  const may = mayDo('release', order) || mayDo('forward', order);
  return (
    <Section title="Sources">
      {found.map((line) => {
        const title = order.lines.find((l) => l.id === line.line)?.title;
        return (
          <div key={line.line} className="mb-2">
            {found.length > 1 && <p className="text-[13.5px]">{title}</p>}
            <ul className="text-[13.5px]">
              {line.candidates.map((c) => (
                <li
                  key={`${c.supplier} ${c.item}`}
                  className="flex items-start gap-2 border-b border-rule-soft py-1"
                >
                  <span className="min-w-0 grow">
                    <span className={c.units ? 'font-semibold' : ''}>{nameIn(shop)(c.supplier)}</span>{' '}
                    <span className="font-mono text-xs">{c.item}</span>
                    {c.substitute && c.units > 0 && <span className="text-lamp"> in its place</span>}
                    {c.units > 0 && line.candidates.length > 1 && (
                      <span className="text-river"> {countOf(c.units, 'unit')}</span>
                    )}
                    <span className="block text-xs text-muted">
                      {factsOf(c, line.units, shop.settings.currency)}
                    </span>
                    {c.units > 0 && c.services.length > 0 && (
                      <ServiceChoice order={order} source={c} may={may} act={act} />
                    )}
                  </span>
                  {may && line.candidates.length > 1 && !c.units && (
                    <Button
                      kind="text"
                      onClick={() =>
                        act(
                          theShop().chooseLineSource(order.id, line.line, {
                            supplier: c.supplier,
                            item: c.item,
                          }),
                          `To be bought from ${nameIn(shop)(c.supplier)}.`,
                          true,
                        )
                      }
                    >
                      Choose
                    </Button>
                  )}
                </li>
              ))}
            </ul>
            {may && line.units > 1 && line.candidates.length > 1 && (
              <SplitByHand
                key={`${line.line} ${line.units}`}
                order={order}
                line={line}
                shop={shop}
                act={act}
              />
            )}
            {line.candidates.length > 1 && (
              <p className="mt-0.5 text-xs text-muted">
                {line.chosen || line.split ? (
                  <>
                    {line.split ? 'Split by you.' : 'Chosen by you.'}{' '}
                    <button
                      type="button"
                      className="text-river underline"
                      onClick={() =>
                        act(
                          line.split
                            ? theShop().splitLine(order.id, line.line, null)
                            : theShop().chooseLineSource(order.id, line.line, null),
                          'Bought by the sourcing rule again.',
                          true,
                        )
                      }
                    >
                      By the rule again
                    </button>
                  </>
                ) : (
                  BY[shop.settings.orders?.sourcing.by ?? 'preferred']
                )}
              </p>
            )}
          </div>
        );
      })}
    </Section>
  );
}

/** How many units of a line are bought of which source. */
function SplitByHand({
  order,
  line,
  shop,
  act,
}: {
  order: Order;
  line: ShownSources;
  shop: ShopTerms;
  act: Act;
}) {
  const [units, setUnits] = useState<readonly string[] | null>(null);
  if (!units)
    return (
      <Button
        kind="text"
        className="py-0"
        onClick={() => setUnits(line.candidates.map((c) => String(c.units)))}
      >
        Split by hand…
      </Button>
    );
  const numbers = units.map((text) => (/^\d{1,5}$/.test(text.trim()) ? Number(text) : Number.NaN));
  const sum = numbers.reduce((a, b) => a + b, 0);
  return (
    <form
      className="mt-1 space-y-1 text-[13px]"
      onSubmit={(e) => {
        e.preventDefault();
        const shares = line.candidates.map(({ supplier, item }, k) => ({
          supplier,
          item,
          units: numbers[k]!,
        }));
        act(theShop().splitLine(order.id, line.line, shares), 'Split as you said.', true);
        setUnits(null);
      }}
    >
      {line.candidates.map((c, k) => (
        <label key={`${c.supplier} ${c.item}`} className="flex items-center gap-2">
          <input
            inputMode="numeric"
            value={units[k]}
            aria-invalid={Number.isNaN(numbers[k])}
            onChange={(e) => setUnits(units.map((u, at) => (at === k ? e.target.value : u)))}
            className="w-14 rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-right"
          />
          of {nameIn(shop)(c.supplier)} <span className="font-mono text-xs">{c.item}</span>
        </label>
      ))}
      <p aria-live="polite" className={sum === line.units ? 'text-muted' : 'text-loss'}>
        {Number.isNaN(sum) ? 'Units are whole numbers.' : `${sum} of ${countOf(line.units, 'unit')}`}
      </p>
      <div className="flex gap-2">
        <Button type="submit" kind="main" disabled={sum !== line.units}>
          Split like this
        </Button>
        <Button onClick={() => setUnits(null)}>Discard</Button>
      </div>
    </form>
  );
}

/** How the supplier ships it: by the rule, or as a person chose. */
function ServiceChoice({
  order,
  source: { supplier, service, services, currency },
  may,
  act,
}: {
  order: Order;
  source: ShownSource;
  may: boolean;
  act: Act;
}) {
  const chosen = order.services?.[supplier];
  const money = (minor: number) => formatMoney({ minor, currency }, true);
  const byRule = service ? service.name : 'the usual one';
  return (
    <label className="mt-0.5 block text-xs text-muted">
      Shipping{' '}
      <select
        value={chosen ?? '*'}
        disabled={!may}
        onChange={(e) => {
          const to = e.target.value === '*' ? null : e.target.value;
          act(theShop().chooseService(order.id, supplier, to), 'Shipping changed, and checked again.', true);
        }}
        className="rounded-sm border border-edge bg-surface px-1 py-0.5 text-[13px] text-ink"
      >
        <option value="*">{chosen === undefined ? `by your rules: ${byRule}` : 'by your rules'}</option>
        <option value="">the usual one</option>
        {services.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}, {countOf(s.days, 'day')}, {money(s.extra)}
          </option>
        ))}
      </select>
    </label>
  );
}

function daysOf({ days, promised, real, service, from, sites }: ShownSource): string {
  if (days === null) return '';
  const [site, backup] = sites;
  if (site && !service)
    return `printed in ${site.site.name}${backup ? ` (else in ${backup.site.name})` : ''}, ${countOf(days, 'day')}`;
  const by = service ? ` by “${service.name}”` : '';
  const learned =
    !service && real
      ? ` (promised ${promised ?? 'nothing'}; of ${formatCount(real.parcels)} parcels half took up to ${real.median}, nine in ten up to ${real.most})`
      : '';
  return `${countOf(days, 'day')}${by}${from ? ` from ${from}` : ''}${learned}`;
}

function factsOf(c: ShownSource, units: number, books: string): string {
  const money = (minor: number) => formatMoney({ minor, currency: c.currency });
  const cost =
    c.goods === null || c.shipping === null
      ? ''
      : `${money(c.goods + c.shipping)} with ${money(c.shipping)} shipping`;
  const earns = c.profit === null ? '' : `earns ${formatMinor(c.profit, books, true)} ${books}`;
  return [cost, daysOf(c), earns, ...c.against.map((a) => againstInWords(a, units))]
    .filter(Boolean)
    .join(', ');
}
