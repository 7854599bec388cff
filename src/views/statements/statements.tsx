'use client';
import Link from 'next/link';
import { useState } from 'react';
import { formatMinor } from '../../core/money';
import { countOf, formatCount, writtenDay } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { ColumnHeads } from '../../ui/column-heads';
import { WithDocket } from '../../ui/docket';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { useShop } from '../../ui/shop';
import { Tabs } from '../../ui/tabs';
import { useStatementsVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import type { StatementLineRow } from '../../work/statements/list';
import { CashView } from './cash';
import { CostsView } from './costs';
import { StatementDocket } from './statement-docket';
import { StatementFileDocket } from './statement-file';

const TABS = ['statements', 'cash', 'costs'] as const;
type Shown = (typeof TABS)[number];

/** What marketplaces and suppliers say that they owe or are owed, beside the shop's own record; cash; costs of the shop. */
export function StatementsPage() {
  const shop = useShop();
  const now = useNow(60_000);
  const version = useStatementsVersion();
  const { get, set } = useAddress();
  const shown: Shown = TABS.find((t) => t === get('show')) ?? 'statements';
  const id = get('row');
  const [reading, setReading] = useState(false);
  const rows = useAnswer(() => (version ? theShop().statements() : undefined), [version]);
  const chosen = useAnswer(() => (version && id ? theShop().statementInFull(id) : null), [version, id]);
  if (!shop || !rows) return <Loading name="Statements" />;
  const differing = rows.reduce((n, r) => n + r.differing, 0);
  const loose = rows.reduce((n, r) => n + r.loose, 0);
  const choose = (row: string) => {
    setReading(false);
    set({ row: row === id ? '' : row });
  };
  return (
    <WithDocket
      docket={
        reading ? (
          <StatementFileDocket
            shop={shop}
            onClose={() => setReading(false)}
            onTaken={(row) => {
              setReading(false);
              set({ show: '', row });
            }}
          />
        ) : (
          id &&
          chosen && <StatementDocket key={id} found={chosen} shop={shop} onClose={() => set({ row: '' })} />
        )
      }
    >
      <section className="flex min-w-0 grow flex-col overflow-auto">
        <Head
          name="Statements"
          state={
            <>
              {countOf(rows.length, 'statement')}
              {differing + loose > 0 && (
                <>
                  ,{' '}
                  <NeedsYou>
                    {[
                      ...(differing
                        ? [`${countOf(differing, 'order')} ${differing === 1 ? 'differs' : 'differ'}`]
                        : []),
                      ...(loose ? [`${countOf(loose, 'line')} of no order`] : []),
                    ].join(', ')}
                  </NeedsYou>
                </>
              )}
              .
            </>
          }
        >
          <Button onClick={() => setReading(true)}>Read a statement file</Button>
          <Link href="/money" className="text-[13px] text-river underline">
            Money
          </Link>
        </Head>
        <Tabs<Shown>
          label="Statements"
          tabs={[
            { id: 'statements', name: 'Statements' },
            { id: 'cash', name: 'Cash' },
            { id: 'costs', name: 'Costs of the shop' },
          ]}
          chosen={shown}
          onChoose={(tab) => set({ show: tab === 'statements' ? '' : tab, row: '' })}
          className="px-4 pb-2"
          panelClass="px-4 pb-6"
        >
          {shown === 'cash' ? (
            <CashView version={version} onStatement={choose} />
          ) : shown === 'costs' ? (
            <CostsView shop={shop} now={now} version={version} />
          ) : (
            <StatementList rows={rows} chosen={id} onChoose={choose} />
          )}
        </Tabs>
      </section>
    </WithDocket>
  );
}

function StatementList({
  rows,
  chosen,
  onChoose,
}: {
  rows: readonly StatementLineRow[];
  chosen: string;
  onChoose: (id: string) => void;
}) {
  if (!rows.length)
    return (
      <Empty title="No statement yet">
        <p>
          Services are asked for their statements once a day. What a marketplace, supplier or payment service
          sends you as CSV or XLSX is read with “Read a statement file”; its columns are matched once.
        </p>
      </Empty>
    );
  return (
    <table className="w-full text-[13.5px]">
      <caption className="sr-only">Account statements</caption>
      <ColumnHeads
        left={['Of', 'Number', 'Days']}
        right={['Lines', 'In all', 'Paid out']}
        last={['To be looked at']}
      />
      <tbody>
        {rows.map((r) => (
          <tr
            key={r.statement.id}
            aria-selected={r.statement.id === chosen}
            className="border-t border-rule-soft aria-selected:bg-river-soft"
          >
            <td className="py-1 pr-3">{r.name}</td>
            <th scope="row" className="pr-3 text-left font-normal">
              <button
                type="button"
                className="font-mono whitespace-nowrap text-river hover:underline"
                onClick={() => onChoose(r.statement.id)}
              >
                {r.statement.number}
              </button>
            </th>
            <td className="pr-3 whitespace-nowrap">{daysOf(r)}</td>
            <td className="pr-3 text-right">{formatCount(r.statement.lines)}</td>
            <td className="pr-3 text-right whitespace-nowrap">{sumsOf(r, false)}</td>
            <td className="pr-3 text-right whitespace-nowrap">{sumsOf(r, true)}</td>
            <td className="pr-3">
              <Looked row={r} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const daysOf = ({ statement: { firstDay, lastDay } }: StatementLineRow): string =>
  firstDay === lastDay
    ? writtenDay(lastDay)
    : `${writtenDay(firstDay).slice(0, -5)} – ${writtenDay(lastDay)}`;

/** What all lines come to, or what of them was paid out, by currency. */
function sumsOf({ statement: { sums } }: StatementLineRow, paidOut: boolean): string {
  const by = new Map<string, number>();
  for (const s of sums)
    if ((s.kind === 'payout') === paidOut) by.set(s.currency, (by.get(s.currency) ?? 0) + s.minor);
  return (
    [...by]
      .map(([currency, minor]) => formatMinor(paidOut ? -minor : minor, currency, !paidOut))
      .join(', ') || '–'
  );
}

function Looked({ row: r }: { row: StatementLineRow }) {
  if (!r.statement.whole)
    return <span className="font-semibold text-loss">Cut off: read the same one again</span>;
  const parts = [
    ...(r.differing
      ? [
          `${countOf(r.differing, 'order')} ${r.differing === 1 ? 'differs' : 'differ'} by ${Object.entries(
            r.minor,
          )
            .map(([currency, minor]) => formatMinor(minor, currency, true))
            .join(', ')}`,
        ]
      : []),
    ...(r.loose ? [`${countOf(r.loose, 'line')} of no order`] : []),
    ...(r.missing ? [`${formatCount(r.missing)} not in it`] : []),
    ...(r.statement.wrongTotals.length ? ['its total is not its lines’'] : []),
  ];
  return parts.length ? (
    <span className="text-lamp">
      <span aria-hidden>◆ </span>
      {parts.join('; ')}
    </span>
  ) : (
    <span className="text-muted">All agree</span>
  );
}
