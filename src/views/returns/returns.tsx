'use client';
import Link from 'next/link';
import { useState } from 'react';
import { formatMinor } from '../../core/money';
import { reasonById, USUAL_RETURN_RULES } from '../../core/returns';
import { countOf, formatCount, spanOf, whenOf } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { WithDocket } from '../../ui/docket';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { useShop } from '../../ui/shop';
import { Tabs } from '../../ui/tabs';
import { useOrdersVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import type { ReturnRow, ReturnsFound } from '../../work/order-book/returns';
import { nameIn, type ShopTerms } from '../../work/quoting/worth';
import { ReturnDocket } from './return-docket';
import { ReturnRates } from './return-rates';
import { ReturnRulesDocket } from './return-rules';
import { awaited, KIND, STEP } from './words';

const TABS = ['open', 'closed', 'reasons'] as const;
type Shown = (typeof TABS)[number];

/** Rows at first, and more of them at each wish. */
const ROWS = 100;

/** All that comes back: what waits for an answer first, what it cost, and for what reasons. */
export function ReturnsPage() {
  const shop = useShop();
  const now = useNow();
  const version = useOrdersVersion();
  const { get, set } = useAddress();
  const shown: Shown = TABS.find((t) => t === get('show')) ?? 'open';
  const key = get('row');
  const [rows, setRows] = useState(ROWS);
  const [rules, setRules] = useState(false);
  const found = useAnswer(
    () =>
      version
        ? theShop().returns({ which: shown === 'closed' ? 'closed' : 'open', offset: 0, limit: rows })
        : null,
    [version, shown === 'closed', rows],
  );
  const chosen = useAnswer(() => (key && version ? theShop().returnInFull(key) : null), [key, version]);
  if (!shop || !found) return <Loading name="Returns" />;
  const close = () => set({ row: '' });
  return (
    <WithDocket
      docket={
        rules ? (
          <ReturnRulesDocket shop={shop} onClose={() => setRules(false)} />
        ) : (
          key && chosen && <ReturnDocket key={key} found={chosen} shop={shop} now={now} onClose={close} />
        )
      }
    >
      <section className="flex min-w-0 grow flex-col overflow-auto">
        <Head
          name="Returns"
          state={
            <>
              {formatCount(found.open)} open
              {found.needing > 0 && (
                <>
                  , <NeedsYou>{formatCount(found.needing)} need you</NeedsYou>
                </>
              )}
              .
            </>
          }
        >
          <Button kind="text" aria-pressed={rules} onClick={() => setRules(!rules)}>
            Rules
          </Button>
          <Link href="/orders" className="text-[13px] text-river underline">
            Orders
          </Link>
        </Head>
        <Tabs<Shown>
          label="Returns"
          tabs={[
            { id: 'open', name: 'Open' },
            { id: 'closed', name: 'Closed' },
            { id: 'reasons', name: 'Rates and reasons' },
          ]}
          chosen={shown}
          onChoose={(id) => {
            setRows(ROWS);
            set({ show: id === 'open' ? '' : id, row: '' });
          }}
          className="px-4 pb-2"
          panelClass="px-4 pb-6"
        >
          {shown === 'reasons' ? (
            <ReturnRates shop={shop} now={now} version={version} />
          ) : (
            <ReturnList
              found={found}
              shop={shop}
              now={now}
              closed={shown === 'closed'}
              chosen={key}
              onChoose={(row) => {
                setRules(false);
                set({ row: row === key ? '' : row });
              }}
              onMore={() => setRows(rows + ROWS)}
            />
          )}
        </Tabs>
      </section>
    </WithDocket>
  );
}

function ReturnList({
  found,
  shop,
  now,
  closed,
  chosen,
  onChoose,
  onMore,
}: {
  found: ReturnsFound;
  shop: ShopTerms;
  now: number;
  closed: boolean;
  chosen: string;
  onChoose: (key: string) => void;
  onMore: () => void;
}) {
  if (!found.rows.length)
    return (
      <Empty title={closed ? 'Nothing was returned yet' : 'No return is open'}>
        <p>
          Returns come in from marketplaces and suppliers by themselves. One that a buyer told you of is
          opened in its order.
        </p>
      </Empty>
    );
  const head = (name: string, right = false) => (
    <th key={name} scope="col" className={`py-1 pr-3 font-normal ${right ? 'text-right' : ''}`}>
      {name}
    </th>
  );
  return (
    <>
      <table data-table tabIndex={-1} className="w-full max-w-6xl text-[13.5px]">
        <caption className="sr-only">{closed ? 'Closed returns' : 'Open returns'}</caption>
        <thead className="text-left text-xs text-muted">
          <tr>
            {head(closed ? 'Closed' : 'Time left')}
            {head('Order')}
            {head('What')}
            {head('Goods')}
            {head('Reason')}
            {head('Where it stands')}
            {head(`Cost so far, ${shop.settings.currency}`, true)}
          </tr>
        </thead>
        <tbody>
          {found.rows.map((r) => (
            <Row key={r.key} row={r} shop={shop} now={now} chosen={r.key === chosen} onChoose={onChoose} />
          ))}
        </tbody>
      </table>
      {found.matches > found.rows.length && (
        <p className="mt-2 flex items-center gap-3 text-[13px] text-muted">
          {formatCount(found.rows.length)} of {countOf(found.matches, 'return')}.
          <Button onClick={onMore}>Show more</Button>
        </p>
      )}
    </>
  );
}

function Row({
  row: r,
  shop,
  now,
  chosen,
  onChoose,
}: {
  row: ReturnRow;
  shop: ShopTerms;
  now: number;
  chosen: boolean;
  onChoose: (key: string) => void;
}) {
  const { case: c, step, due, lost } = r;
  const nameOf = nameIn(shop);
  const { reasons } = shop.settings.returns ?? USUAL_RETURN_RULES;
  const left =
    c.closedAt !== null
      ? now > 0 && whenOf(c.closedAt, now, shop.settings.zone)
      : due === null || now === 0
        ? '–'
        : due > now
          ? spanOf(due - now)
          : `${spanOf(now - due)} over`;
  const supplier = c.claim?.supplier ?? c.parcel?.supplier;
  return (
    <tr
      aria-selected={chosen}
      className={`cursor-default border-t border-rule-soft hover:bg-raised ${chosen ? 'bg-chosen' : ''}`}
      onClick={() => onChoose(r.key)}
    >
      <td className={`py-1 pr-3 whitespace-nowrap ${due !== null && step && due < now ? 'text-loss' : ''}`}>
        {left}
      </td>
      <td className="py-1 pr-3 font-mono whitespace-nowrap">
        <button
          type="button"
          className="text-river hover:underline"
          aria-label={`Open the return of ${r.number}`}
          onClick={(e) => {
            e.stopPropagation();
            onChoose(r.key);
          }}
        >
          {r.number}
        </button>
      </td>
      <td className="py-1 pr-3 whitespace-nowrap">{KIND[c.what]}</td>
      <td className="max-w-48 truncate py-1 pr-3" title={r.title}>
        {r.title}
      </td>
      <td className="py-1 pr-3 whitespace-nowrap">{reasonById(reasons, c.reason).name}</td>
      <td className={`py-1 pr-3 whitespace-nowrap ${step ? 'font-semibold text-lamp' : 'text-muted'}`}>
        {step ? STEP[step] : awaited(c, supplier ? nameOf(supplier) : '')}
      </td>
      <td className={`py-1 pr-3 text-right ${lost !== null && lost < 0 ? 'text-loss' : ''}`}>
        {lost ? formatMinor(lost, shop.settings.currency, true) : '–'}
      </td>
    </tr>
  );
}
