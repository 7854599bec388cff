'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import Link from 'next/link';
import { useCallback, useMemo } from 'react';
import { fold } from '../../core/copy';
import { formatMinor, signOf } from '../../core/money';
import { isLate, marksOf } from '../../core/orders';
import { compile, type Fields, parseQuery } from '../../core/query';
import { countOf, formatCount, spanOf, whenOf } from '../../core/units';
import { db, type Order } from '../../store';
import { useAddress, useTyped } from '../../ui/address';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { useMarks } from '../../ui/marks';
import { Passage } from '../../ui/passage';
import { say } from '../../ui/said';
import { SearchLine } from '../../ui/search-line';
import { marketsOf, useShop } from '../../ui/shop';
import { StateMark } from '../../ui/state-mark';
import { type Column, column, DataTable, Two } from '../../ui/table';
import { work } from '../../work/browser';
import { actualOf, forwardOrder, setForwarding, standingFor } from '../../work/orders/decide';
import { OrderDocket } from './order-docket';
import { heldAt, paidFor, profitOf, standsAt } from './standing';

const FIELDS = [
  { example: 'is:open', means: 'something to do or await' },
  { example: 'is:held', means: 'needs you' },
  { example: 'is:ready', means: 'waits to be forwarded' },
  { example: 'is:late', means: 'no parcel near ship-by' },
  { example: 'is:cancelled', means: 'cancelled' },
  { example: 'profit:<0', means: 'loses money' },
  { example: 'town:York', means: 'a town' },
];

const fieldsAt = (now: number): Fields<Order> => ({
  is: {
    kind: 'flags',
    flags: ['open', 'held', 'ready', 'late', 'shipped', 'delivered', 'cancelled', 'personalised'],
    hint: '',
    get: (o, flag) => {
      if (flag === 'open') return o.open === 1;
      if (flag === 'late') return isLate(o.facts, o.shipBy, now);
      if (flag === 'personalised') return o.lines.some((l) => l.personalisation !== null);
      if (flag === 'shipped') return o.facts.shippedAt !== null;
      return standingFor(o) === flag || (flag === 'held' && o.refusal !== null && o.open === 1);
    },
  },
  profit: { kind: 'number', scale: 100, hint: '', get: (o) => profitOf(o) },
  paid: { kind: 'number', scale: 100, hint: '', get: paidFor },
  town: { kind: 'text', hint: '', get: (o) => o.address.town },
});

/** Orders drawn at most without a search: what is open, and the newest of the rest. */
const LATEST = 500;

export function Orders() {
  const shop = useShop();
  const now = useNow();
  const { get, set } = useAddress();
  const orders = useLiveQuery(async () => {
    const [open, latest] = await Promise.all([
      db.orders.where('open').equals(1).toArray(),
      db.orders.orderBy('facts.paidAt').reverse().limit(LATEST).toArray(),
    ]);
    return [...new Map([...open, ...latest].map((o) => [o.id, o])).values()];
  });
  const linked = useLiveQuery(async () => new Map((await db.listings.toArray()).map((l) => [l.id, l])), []);
  const [query, setQuery] = useTyped('q');
  const minute = Math.floor(now / 60_000) * 60_000;
  const { test, problems } = useMemo(
    () =>
      compile(parseQuery(query), fieldsAt(minute), (o) =>
        fold(
          `${o.number} ${o.buyer.name} ${o.address.town} ${o.supplierNumber ?? ''} ${o.parcels.map((p) => p.tracking).join(' ')} ${o.lines.map((l) => `${l.title} ${l.sku}`).join(' ')}`,
        ),
      ),
    [query, minute],
  );
  const found = useMemo(() => {
    const rank = (o: Order) =>
      o.open === 0
        ? 3
        : standingFor(o) === 'held' || o.refusal
          ? 0
          : isLate(o.facts, o.shipBy, minute)
            ? 1
            : 2;
    return (orders?.filter(test) ?? []).sort(
      (a, b) => rank(a) - rank(b) || (rank(a) === 0 ? a.shipBy - b.shipBy : b.facts.paidAt - a.facts.paidAt),
    );
  }, [orders, test, minute]);
  const marks = useMarks(found.length);
  const choose = useCallback((row: string) => set({ row }), [set]);
  const currency = (shop && marketsOf(shop)[0]?.site.currency) ?? 'GBP';
  const zone = shop?.settings.zone ?? 'UTC';
  const columns = useMemo(() => columnsFor(currency, now, zone), [currency, now, zone]);
  if (!orders || !shop || !linked) return null;

  const open = orders.filter((o) => o.open === 1);
  const need = open.filter(
    (o) => standingFor(o) === 'held' || o.refusal !== null || isLate(o.facts, o.shipBy, now),
  ).length;
  const marked = marks.all ? found : found.filter((o) => marks.has(o.id));
  const ready = (marked.length ? marked : open).filter((o) => standingFor(o) === 'ready');
  const chosen = orders.find((o) => o.id === get('row'));
  const forward = async () => {
    const results = await Promise.all(ready.map((o) => forwardOrder(work, o.id)));
    marks.clear();
    const wrong = results.filter((r) => !r.ok);
    await say(
      `${countOf(results.length - wrong.length, 'order')} on the way to the supplier${wrong.length ? `; ${wrong.length} not: ${wrong[0]!.ok ? '' : wrong[0]!.reason}` : ''}.`,
    );
  };
  return (
    <>
      <section className="flex min-w-0 grow flex-col">
        <Head
          name="Orders"
          state={
            <>
              {formatCount(open.length)} open
              {need > 0 && (
                <>
                  : <NeedsYou>{formatCount(need)} need you</NeedsYou>
                </>
              )}
              {`, ${formatCount(open.filter((o) => standingFor(o) === 'ready').length)} ready. Forwarded ${shop.settings.forward}.`}
            </>
          }
        >
          <label className="text-[13px] text-muted">
            Forward{' '}
            <select
              value={shop.settings.forward}
              onChange={(e) => setForwarding(work, e.target.value === 'by hand' ? 'by hand' : 'at once')}
              className="rounded-sm border border-edge bg-surface px-1 py-0.5 text-ink"
            >
              <option>at once</option>
              <option>by hand</option>
            </select>
          </label>
          <Button kind="main" disabled={!ready.length} onClick={forward}>
            Forward {formatCount(ready.length)} ready
          </Button>
        </Head>
        {orders.length === 0 ? (
          <Empty title="No orders yet">
            <p>
              Orders come in from your marketplaces by themselves. Each is checked before money is spent:
              linked, in stock, profit at today’s cost, address. What passes goes to the supplier once.
            </p>
            <Link href="/connections" className="font-semibold text-river underline">
              See when orders are read next
            </Link>
          </Empty>
        ) : (
          <>
            <SearchLine
              value={query}
              onChange={setQuery}
              placeholder="buyer, order, SKU, tracking number or field:value"
              fields={FIELDS}
              matches={found.length}
              problems={problems}
            />
            {found.length === 0 ? (
              <Empty title="Nothing matches">
                <Button onClick={() => setQuery('')}>Empty the search</Button>
              </Empty>
            ) : (
              <DataTable
                label="Orders"
                columns={columns}
                count={found.length}
                rowAt={(i) => found[i]}
                keyOf={(o) => o.id}
                chosen={get('row')}
                onChoose={choose}
                marks={marks}
              />
            )}
          </>
        )}
      </section>
      {chosen && (
        <OrderDocket
          order={chosen}
          shop={shop}
          listings={linked}
          now={now}
          onClose={() => set({ row: '' })}
        />
      )}
    </>
  );
}

function columnsFor(currency: string, now: number, zone: string): Column<Order>[] {
  const sign = signOf(currency);
  return [
    column<Order>('number', 'Order', '92px', (o) => (
      <Two
        top={<span className="font-mono">{o.number}</span>}
        under={now ? whenOf(o.facts.paidAt, now, zone) : ''}
      />
    )),
    column<Order>('buyer', 'Buyer', '124px', (o) => <Two top={o.buyer.name} under={o.address.town} />),
    column<Order>(
      'goods',
      'Goods',
      'minmax(120px,1fr)',
      (o) => o.lines.map((l) => (l.quantity > 1 ? `${l.quantity} × ${l.title}` : l.title)).join('; '),
      { from: 600 },
    ),
    column<Order>('paid', `Paid ${sign}`, '72px', (o) => formatMinor(paidFor(o), currency), {
      right: true,
      from: 1000,
    }),
    column<Order>(
      'profit',
      `Profit ${sign}`,
      '78px',
      (o) => {
        const profit = profitOf(o);
        return profit === null ? (
          <span className="text-muted">–</span>
        ) : (
          <Two
            top={
              <span className={profit < 0 ? 'font-semibold text-loss' : 'text-river'}>
                {formatMinor(profit, currency, true)}
              </span>
            }
            under={actualOf(o) ? 'actual' : 'expected'}
          />
        );
      },
      { right: true, from: 600 },
    ),
    column<Order>(
      'passage',
      'Passage',
      '164px',
      (o) => (
        <Passage
          marks={marksOf(o.facts)}
          heldAt={heldAt(o)}
          late={isLate(o.facts, o.shipBy, now)}
          cancelled={o.facts.cancelledAt !== null}
          shipBy={o.shipBy}
          now={now}
          zone={zone}
        />
      ),
      { from: 600 },
    ),
    column<Order>('stands', 'Stands at', 'minmax(140px,1fr)', (o) => {
      const { tone, says } = standsAt(o, now, zone);
      return (
        <span title={says}>
          <StateMark tone={tone}>{says}</StateMark>
        </span>
      );
    }),
    column<Order>(
      'shipby',
      'Ship by',
      '76px',
      (o) =>
        o.facts.shippedAt || o.facts.cancelledAt || !now ? (
          <span className="text-muted">–</span>
        ) : (
          <span className={isLate(o.facts, o.shipBy, now) ? 'font-semibold text-loss' : ''}>
            {o.shipBy < now ? `−${spanOf(now - o.shipBy)}` : spanOf(o.shipBy - now)}
          </span>
        ),
      { right: true, from: 1000 },
    ),
  ];
}
