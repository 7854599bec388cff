'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import Link from 'next/link';
import { useCallback, useMemo } from 'react';
import { fold } from '../../core/copy';
import { formatMinor, formatMoney, signOf } from '../../core/money';
import { isCancelled, isLate, marksOf, standingOf } from '../../core/orders';
import { compile, type Fields, parseQuery } from '../../core/query';
import { countOf, formatCount, spanOf, whenOf } from '../../core/units';
import { db, type Order } from '../../store';
import { useAddress, useTyped } from '../../ui/address';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { type Column, Two } from '../../ui/column';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { useMarks } from '../../ui/marks';
import { Passage } from '../../ui/passage';
import { say } from '../../ui/said';
import { SearchLine } from '../../ui/search-line';
import { marketsOf, suppliersOf, useShop } from '../../ui/shop';
import { StateMark } from '../../ui/state-mark';
import { DataTable } from '../../ui/table';
import { theShop } from '../../work/clients';
import { actualOf, expectedOf, ledgersOf } from '../../work/orders/accounts';
import { toPlace } from '../../work/orders/decide';
import { forFile } from '../../work/orders/outside-service';
import { OrderDocket } from './order-docket';
import { heldAt, paidFor, standsAt } from './standing';
import { SupplierFiles } from './supplier-files';

const FIELDS = [
  { example: 'is:open', means: 'something to do or await' },
  { example: 'is:held', means: 'needs you' },
  { example: 'is:ready', means: 'waits to be forwarded' },
  { example: 'is:late', means: 'no parcel near ship-by' },
  { example: 'is:cancelled', means: 'cancelled' },
  { example: 'profit:<0', means: 'loses money' },
  { example: 'town:York', means: 'a town' },
  { example: 'is:place', means: 'to order by hand or by file' },
  { example: 'on:Loomhall', means: 'a marketplace' },
];

const fieldsAt = (now: number): Fields<OrderRow> => ({
  is: {
    kind: 'flags',
    flags: ['open', 'held', 'ready', 'late', 'shipped', 'delivered', 'cancelled', 'personalised', 'place'],

    get: ({ order: o }, flag) => {
      if (flag === 'open') return o.open === 1;
      if (flag === 'late') return isLate(o, o.shipBy, now);
      if (flag === 'personalised') return o.lines.some((l) => l.personalisation !== null);
      if (flag === 'shipped') return marksOf(o)[3] !== null;
      if (flag === 'place') return toPlace(o).length > 0;
      return standingOf(o) === flag || (flag === 'held' && o.notice !== null && o.open === 1);
    },
  },
  profit: { kind: 'number', scale: 100, get: (r) => r.profit },
  paid: { kind: 'number', scale: 100, get: (r) => paidFor(r.order) },
  town: { kind: 'text', get: (r) => r.order.address.town },
  on: { kind: 'text', get: (r) => r.market },
});

/** An order with what it brings, in the currency of the books. */
interface OrderRow {
  readonly order: Order;
  readonly market: string;
  readonly profit: number | null;
  readonly actual: boolean;
}

/** Orders drawn at most without a search: what is open, and the newest of the rest. */
const LATEST = 500;

export function Orders() {
  const shop = useShop();
  const now = useNow();
  const { get, set } = useAddress();
  const pointed = get('row');
  const read = useLiveQuery(async () => {
    const [open, latest, one] = await Promise.all([
      db.orders.where('open').equals(1).toArray(),
      db.orders.orderBy('paidAt').reverse().limit(LATEST).toArray(),
      // One that is pointed at is shown however old it is.
      db.orders.get(pointed),
    ]);
    const all = [...open, ...latest, ...(one ? [one] : [])];
    const orders = [...new Map(all.map((o) => [o.id, o])).values()];
    return { orders, ledgers: await ledgersOf({ db }, orders) };
  }, [pointed]);
  const rows = useMemo(
    () =>
      shop &&
      read?.orders.map((order): OrderRow => {
        const { currency } = shop.settings;
        const actual = actualOf(order, read.ledgers.get(order.id), currency);
        const market = shop.connections.get(order.marketplace)?.name ?? order.marketplace;
        return {
          order,
          market,
          profit: (actual ?? expectedOf(order, currency))?.profit ?? null,
          actual: actual !== null,
        };
      }),
    [read, shop],
  );
  const [query, setQuery] = useTyped('q');
  const minute = Math.floor(now / 60_000) * 60_000;
  const { test, problems } = useMemo(
    () =>
      compile(parseQuery(query), fieldsAt(minute), ({ order: o }) => {
        const bought = o.purchases.map(
          (p) => `${p.number ?? ''} ${p.reference} ${p.parcels.map((one) => one.tracking).join(' ')}`,
        );
        const sold = o.lines.map((l) => `${l.title} ${l.sku}`);
        return fold(`${o.number} ${o.buyer.name} ${o.address.town} ${bought.join(' ')} ${sold.join(' ')}`);
      }),
    [query, minute],
  );
  const found = useMemo(() => {
    const rank = ({ order: o }: OrderRow) =>
      o.open === 0 ? 3 : standingOf(o) === 'held' || o.notice ? 0 : isLate(o, o.shipBy, minute) ? 1 : 2;
    return (rows?.filter(test) ?? []).sort(
      (a, b) =>
        rank(a) - rank(b) ||
        (rank(a) === 0 ? a.order.shipBy - b.order.shipBy : b.order.paidAt - a.order.paidAt),
    );
  }, [rows, test, minute]);
  const marks = useMarks(found.length);
  const choose = useCallback((row: string) => set({ row }), [set]);
  const books = shop?.settings.currency ?? 'GBP';
  const many = (shop ? marketsOf(shop).length : 0) > 1;
  const zone = shop?.settings.zone ?? 'UTC';
  const columns = useMemo(() => columnsFor(books, many, now, zone), [books, many, now, zone]);
  if (!rows || !shop) return null;

  const orders = rows.map((r) => r.order);
  const open = orders.filter((o) => o.open === 1);
  const need = open.filter(
    (o) => standingOf(o) === 'held' || o.notice !== null || isLate(o, o.shipBy, now) || toPlace(o).length > 0,
  ).length;
  const marked = marks.size ? found.filter((r) => marks.has(r.order.id)).map((r) => r.order) : [];
  const ready = (marked.length ? marked : open).filter((o) => standingOf(o) === 'ready');
  const chosen = rows.find((r) => r.order.id === pointed);
  // Only where there is something to write or to wait for.
  const filed = new Set(
    open.flatMap((o) => o.purchases.flatMap((p) => (p.lane === 'file' ? [p.supplier] : []))),
  );
  const byFile = suppliersOf(shop).filter((s) => filed.has(s.id));
  const forward = async () => {
    const results = await Promise.all(ready.map((o) => theShop().forwardOrder(o.id)));
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
              {`, ${formatCount(open.filter((o) => standingOf(o) === 'ready').length)} ready. Forwarded ${shop.settings.forward === 'at once' ? 'at once' : 'when you say so'}.`}
            </>
          }
        >
          <label className="text-[13px] text-muted">
            Forward{' '}
            <select
              value={shop.settings.forward}
              onChange={(e) => theShop().setForwarding(e.target.value === 'at once' ? 'at once' : 'by hand')}
              className="rounded-sm border border-edge bg-surface px-1 py-0.5 text-ink"
            >
              <option value="at once">at once</option>
              <option value="by hand">when I say so</option>
            </select>
          </label>
          {byFile.map((s) => (
            <SupplierFiles key={s.id} supplier={s} waiting={forFile(open, s.id).length} />
          ))}
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
                id="orders"
                label="Orders"
                columns={columns}
                count={found.length}
                rowAt={(i) => found[i]}
                keyOf={(r) => r.order.id}
                chosen={get('row')}
                onChoose={choose}
                marks={marks}
              />
            )}
          </>
        )}
      </section>
      {chosen && <OrderDocket order={chosen.order} shop={shop} now={now} onClose={() => set({ row: '' })} />}
    </>
  );
}

function columnsFor(books: string, many: boolean, now: number, zone: string): Column<OrderRow>[] {
  return [
    {
      id: 'number',
      header: 'Order',
      size: 118,
      rank: 1,
      cell: ({ order: o }) => (
        <Two
          top={<span className="font-mono">{o.number}</span>}
          under={now ? whenOf(o.paidAt, now, zone) : ''}
        />
      ),
    },
    {
      id: 'buyer',
      header: 'Buyer',
      size: 124,
      rank: 1,
      cell: ({ order: o, market }) => <Two top={o.buyer.name} under={many ? market : o.address.town} />,
    },
    {
      id: 'goods',
      header: 'Goods',
      size: 120,
      grows: true,
      rank: 0,
      cell: ({ order: o }) =>
        o.lines.map((l) => (l.quantity > 1 ? `${l.quantity} × ${l.title}` : l.title)).join('; '),
    },
    {
      id: 'paid',
      header: many ? 'Paid' : `Paid ${signOf(books)}`,
      size: 78,
      rank: 5,
      right: true,
      cell: ({ order: o }) =>
        many ? formatMoney({ minor: paidFor(o), currency: o.currency }) : formatMinor(paidFor(o), o.currency),
    },
    {
      id: 'profit',
      header: `Profit ${signOf(books)}`,
      size: 78,
      rank: 2,
      right: true,
      cell: ({ profit, actual }) =>
        profit === null ? (
          <span className="text-muted">–</span>
        ) : (
          <Two
            top={
              <span className={profit < 0 ? 'font-semibold text-loss' : 'text-river'}>
                {formatMinor(profit, books, true)}
              </span>
            }
            under={actual ? 'actual' : 'expected'}
          />
        ),
    },
    {
      id: 'passage',
      header: 'Passage',
      size: 164,
      rank: 2,
      cell: ({ order: o }) => (
        <Passage
          marks={marksOf(o)}
          heldAt={heldAt(o)}
          late={isLate(o, o.shipBy, now)}
          cancelled={isCancelled(o)}
          shipBy={o.shipBy}
          now={now}
          zone={zone}
        />
      ),
    },
    {
      id: 'stands',
      header: 'Stands at',
      size: 140,
      grows: true,
      rank: 0,
      cell: ({ order: o }) => {
        const { tone, says } = standsAt(o, now, zone);
        return (
          <span title={says}>
            <StateMark tone={tone}>{says}</StateMark>
          </span>
        );
      },
    },
    {
      id: 'shipby',
      header: 'Ship by',
      size: 76,
      rank: 5,
      right: true,
      cell: ({ order: o }) =>
        marksOf(o)[3] !== null || isCancelled(o) || !now ? (
          <span className="text-muted">–</span>
        ) : (
          <span className={isLate(o, o.shipBy, now) ? 'font-semibold text-loss' : ''}>
            {o.shipBy < now ? `−${spanOf(now - o.shipBy)}` : spanOf(o.shipBy - now)}
          </span>
        ),
    },
  ];
}
