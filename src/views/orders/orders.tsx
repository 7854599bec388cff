'use client';
import Link from 'next/link';
import { useCallback, useMemo, useState } from 'react';
import { examplesOf } from '../../core/fields';
import { decimalOf, formatMinor, formatMoney, signOf } from '../../core/money';
import { isCancelled, isLate, marksOf, paidIn } from '../../core/orders';
import { narrowedBy } from '../../core/query';
import { countOf, formatCount, spanOf, whenOf } from '../../core/units';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { PageCommands } from '../../ui/commands';
import { WithDocket } from '../../ui/docket';
import { Goods } from '../../ui/goods';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { later } from '../../ui/later';
import { useList } from '../../ui/list';
import { Loading } from '../../ui/loading';
import { countAmong, MISREAD } from '../../ui/marked-count';
import { meantBy, useMarks } from '../../ui/marks';
import { Menu } from '../../ui/menu';
import { Passage } from '../../ui/passage';
import { say } from '../../ui/said';
import { Searched } from '../../ui/searched';
import { useShop } from '../../ui/shop';
import { StateMark } from '../../ui/state-mark';
import { type Column, Two } from '../../ui/table/column';
import { fieldColumns, textSorts } from '../../ui/table/field-columns';
import { DataTable } from '../../ui/table/table';
import { useOrdersVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import { type MeantOrders, ORDER_SORTS, type OrderLineRow } from '../../work/order-book/order-book';

import type { OrderGoods } from '../../work/order-book/order-goods';
import { marketsOf, suppliersOf } from '../../work/quoting/worth';

const OrderDocket = later(() => import('./order-docket').then((m) => m.OrderDocket));

import { failureInWords } from '../../work/context/failure';
import { buyerName, townOf } from './buyer-words';
import { OrderViews } from './order-views';
import { PackingSlips } from './packing-slips';
import { ReleaseMany } from './release-many';
import { heldAt, standsAt } from './standing';
import { SupplierFiles } from './supplier-files';
import { Unread } from './unread';

const FIELDS = examplesOf('order');

const TEXTS = textSorts('order');

const NO_GOODS: ReadonlyMap<string, OrderGoods> = new Map();
const NO_PICTURE = { supplier: '', path: undefined };

const keyOfRow = (row: OrderLineRow) => row.order.id;

const searchOrders = (q: Parameters<ReturnType<typeof theShop>['orders']>[0]) => theShop().orders(q);

export function Orders() {
  const shop = useShop();
  const now = useNow();
  const version = useOrdersVersion();
  const list = useList({ version, sorts: ORDER_SORTS, first: 'urgent', texts: TEXTS, search: searchOrders });
  const { found, row, asked, close } = list;
  const marks = useMarks(found?.matches ?? 0);
  const chosen = useAnswer(() => (row && version ? theShop().order(row) : null), [row, version]);
  const keysBetween = useCallback(
    (from: number, to: number) => theShop().ordersRange({ ...asked(), offset: from, limit: to - from + 1 }),
    [asked],
  );
  const shown = found?.rows.map((r) => r.order.id).join('\n') ?? '';
  // Asked once there are rows: what they need is read first.
  const goods = useAnswer(() => (shown ? theShop().goodsOfOrders(shown.split('\n')) : NO_GOODS), [shown], 60);
  const books = shop?.settings.currency ?? 'GBP';
  const many = (shop ? marketsOf(shop).length : 0) > 1;
  const zone = shop?.settings.zone ?? 'UTC';
  const minute = Math.floor(now / 60_000) * 60_000;
  const connections = shop?.connections;
  const columns = useMemo(() => {
    const nameOf = (id: string) => connections?.get(id)?.name ?? id;
    return columnsFor(books, many, minute, zone, nameOf, goods ?? NO_GOODS);
  }, [books, many, minute, zone, connections, goods]);
  const [busy, setBusy] = useState(false);
  const [releasing, setReleasing] = useState(false);
  if (!found || !shop) return <Loading name="Orders" />;

  const { total, open, need, ready } = found;
  const some: MeantOrders | null = meantBy(marks, found.query);
  const misread = found.problems.length > 0;
  /** Does something for many orders and says how it went. */
  const act = async (doing: () => Promise<string>) => {
    setBusy(true);
    try {
      await say(await doing());
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
    setBusy(false);
  };
  const forward = () =>
    act(async () => {
      const { left, stayed, why } = await theShop().forwardMeant(
        some ?? { query: narrowedBy(found.query, 'is:ready') },
      );
      return `${countOf(left, 'order')} on the way to the supplier${stayed ? `; ${stayed} not: ${why}` : ''}.`;
    });
  const tellNow = () =>
    some && act(async () => `${countOf(await theShop().tellMeantNow(some), 'parcel')} told now.`);
  const seen = () =>
    some &&
    act(async () => `${countOf(await theShop().cancelledSeenOf(some), 'cancelled order')} put away as seen.`);
  const aside = () =>
    some && act(async () => `${countOf(await theShop().asideMeant(some, true), 'order')} set aside.`);
  return (
    <WithDocket
      docket={
        chosen && (
          <OrderDocket found={chosen} shop={shop} now={now} version={String(version)} onClose={close} />
        )
      }
    >
      <section className="flex min-w-0 grow flex-col">
        <PageCommands
          commands={[
            !busy &&
              !misread &&
              found.readyAmong > 0 && {
                name: `Forward ${countAmong(found.readyAmong, ready)} ready`,
                run: forward,
              },
            { name: `Select all ${formatCount(found.matches)} orders`, run: marks.markAll },
          ]}
        />
        <Head
          name="Orders"
          state={
            <>
              {formatCount(open)} open
              {need > 0 && (
                <>
                  :{' '}
                  <NeedsYou onLook={() => list.setQuery('is:needing')}>{formatCount(need)} need you</NeedsYou>
                </>
              )}
              {`, ${formatCount(ready)} ready. Forwarded ${shop.settings.orders?.forwarding.some((r) => r.on) ? 'by your rules, otherwise ' : ''}${shop.settings.forward === 'at once' ? 'at once' : 'when you say so'}.`}
            </>
          }
        >
          <Link href="/orders/returns" className="text-[13px] text-river underline">
            Returns
          </Link>
          <Link href="/orders/proofs" className="text-[13px] text-river underline">
            Proofs
          </Link>
          <Link href="/orders/coming" className="text-[13px] text-river underline">
            Coming purchases
          </Link>
          <Link href="/orders/rules" className="text-[13px] text-river underline">
            Rules
          </Link>
          <Link href="/orders/new" className="text-[13px] text-river underline">
            New order
          </Link>
          <Link href="/orders/messages" className="text-[13px] text-river underline">
            Messages
          </Link>
          <Link href="/orders/mails" className="text-[13px] text-river underline">
            Mails
          </Link>
          {suppliersOf(shop).map((s) => {
            const file = found.byFile.find((f) => f.supplier === s.id);
            return file && <SupplierFiles key={s.id} supplier={s} waiting={file.waiting} />;
          })}
          {some && marks.size > 0 && !misread && (
            <>
              <PackingSlips meant={some} count={marks.size} words="Packing slips" />
              <Menu
                words="More for these"
                disabled={busy}
                items={[
                  { name: 'Release what is held…', run: () => setReleasing(true) },
                  { name: 'Notify of their parcels now', run: tellNow },
                  { name: 'Put away cancelled ones as seen', run: seen },
                  { name: 'Set aside', run: aside },
                ]}
              />
            </>
          )}
          <Button
            kind="main"
            disabled={busy || (some ? !marks.size : misread || !found.readyAmong)}
            title={misread ? MISREAD : undefined}
            onClick={forward}
          >
            Forward{' '}
            {some
              ? `what is ready of ${formatCount(marks.size)}`
              : `${countAmong(found.readyAmong, ready)} ready`}
          </Button>
        </Head>
        {releasing && some && (
          <ReleaseMany
            meant={some}
            version={String(version)}
            books={books}
            onDone={() => setReleasing(false)}
          />
        )}
        <Unread
          version={`${version} ${minute}`}
          now={now}
          zone={zone}
          nameOf={(id) => connections?.get(id)?.name ?? id}
        />
        {total === 0 ? (
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
            <OrderViews
              own={shop.settings.orderViews}
              version={`${version} ${minute}`}
              query={list.query}
              sort={list.order}
              onQuery={list.setQuery}
            />
            <Searched
              list={list}
              fields={FIELDS}
              placeholder="buyer, order, SKU, tracking number or field:value"
            >
              <DataTable
                id="orders"
                label="Orders"
                columns={columns}
                keyOf={keyOfRow}
                {...list.table}
                marks={marks}
                keysBetween={keysBetween}
              />
            </Searched>
          </>
        )}
      </section>
    </WithDocket>
  );
}

function columnsFor(
  books: string,
  many: boolean,
  now: number,
  zone: string,
  nameOf: (connection: string) => string,
  goods: ReadonlyMap<string, OrderGoods>,
): Column<OrderLineRow>[] {
  const own: Column<OrderLineRow>[] = [
    {
      id: 'placed',
      sort: true,
      value: ({ order: o }) => o.number,
      header: 'Order',
      size: 118,
      rank: 0,
      cell: ({ order: o }) => (
        <Two
          top={<span className="font-mono">{o.number}</span>}
          under={now ? whenOf(o.paidAt, now, zone) : ''}
        />
      ),
    },
    {
      id: 'buyer',
      value: ({ buyer }) => buyer.name,
      header: 'Buyer',
      size: 124,
      rank: 3,
      cell: ({ order: o, buyer, market }) => (
        <Two top={buyerName(buyer)} under={many ? market : townOf(o, buyer)} />
      ),
    },
    {
      id: 'town',
      header: 'Town',
      size: 120,
      sort: true,
      off: true,
      value: ({ order: o, buyer }) => townOf(o, buyer),
      cell: ({ order: o, buyer }) => townOf(o, buyer),
    },
    {
      id: 'goods',
      value: ({ order: o }) => o.lines.map((l) => l.title).join('; '),
      header: 'Goods',
      size: 160,
      grows: true,
      rank: 4,
      cell: ({ order: o }) => {
        const looks = goods.get(o.id);
        const options = looks?.options.filter(Boolean).join('; ');
        const words = o.lines.some((l) => l.personalisation !== null) ? 'personalised' : '';
        return (
          <Goods
            picture={looks?.picture ?? NO_PICTURE}
            title={o.lines.map((l) => (l.quantity > 1 ? `${l.quantity} × ${l.title}` : l.title)).join('; ')}
            under={[options, words].filter(Boolean).join(', ')}
          />
        );
      },
    },
    {
      id: 'paid',
      sort: true,
      value: ({ order: o }) => decimalOf(paidIn(o), o.currency),
      header: many ? 'Paid' : `Paid ${signOf(books)}`,
      size: 84,
      rank: 5,
      right: true,
      cell: ({ order: o }) =>
        many ? formatMoney({ minor: paidIn(o), currency: o.currency }) : formatMinor(paidIn(o), o.currency),
    },
    {
      id: 'profit',
      sort: true,
      value: ({ profit }) => profit && decimalOf(profit, books),
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
      size: 210,
      grows: true,
      rank: 0,
      cell: ({ order: o, buyer }) => {
        const { tone, says } = standsAt({ ...o, texts: buyer.texts }, now, zone, nameOf);
        return (
          <span title={says}>
            <StateMark tone={tone}>{says}</StateMark>
          </span>
        );
      },
    },
    {
      id: 'shipBy',
      sort: true,
      value: ({ order: o }) => new Date(o.shipBy).toISOString(),
      header: 'Ship by',
      size: 84,
      rank: 4,
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
  return [...own, ...fieldColumns('order', own)];
}
