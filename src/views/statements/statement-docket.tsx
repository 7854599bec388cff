'use client';
import Link from 'next/link';
import { useState } from 'react';
import { formatMinor, parseMinor } from '../../core/money';
import { countOf, formatCount, writtenDay } from '../../core/units';
import { AmountField } from '../../ui/amount-field';
import { Button } from '../../ui/button';
import { DateField } from '../../ui/date-field';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { ask, say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { LooseLine } from '../../work/model';
import type { ShopTerms } from '../../work/quoting/worth';
import type { DifferingOrder, StatementInFull } from '../../work/statements/list';
import type { Decision } from '../../work/statements/settle';
import { GROUP, KIND, WHY } from './words';

type Said = { readonly ok: boolean; readonly reason?: string };

/** One statement: what it comes to, what differs from the shop's own record, and what belongs to no order. */
export function StatementDocket({
  found,
  shop,
  onClose,
}: {
  found: StatementInFull;
  shop: ShopTerms;
  onClose: () => void;
}) {
  const { row, name, differences, corrected, absent } = found;
  const [busy, setBusy] = useState(false);
  const act = async (run: () => Promise<Said>, done: string, undo = false) => {
    setBusy(true);
    try {
      const said = await run();
      await say(said.ok ? done : (said.reason ?? ''), said.ok ? { undo } : { wrong: true });
    } finally {
      setBusy(false);
    }
  };
  const decide = (which: readonly DifferingOrder[], decision: Decision) =>
    act(
      () =>
        theShop().decideDifferences(
          which.map((d) => ({ order: d.order, slot: d.slot, minor: d.minor })),
          decision,
        ),
      decision === 'as stated'
        ? `${countOf(which.length, 'difference')} taken as ${name} states them, as entries of their own.`
        : `${countOf(which.length, 'difference')} left as recorded.`,
    );
  return (
    <Docket label={`Statement ${row.number}`} onClose={onClose}>
      <p className="text-xs text-muted">{name}</p>
      <h2 className="text-base font-semibold">Statement {row.number}</h2>
      <p className="text-[13.5px] text-muted">
        {writtenDay(row.firstDay)} to {writtenDay(row.lastDay)}, {countOf(row.lines, 'line')} of{' '}
        {countOf(row.orders, 'order')}
        {row.file === null ? ', told by its service' : `, from ${row.file}`}.
      </p>
      {!row.whole && (
        <Notice tone="loss">
          It was cut off while it was taken in. Read the same statement again to make it whole.
        </Notice>
      )}
      {row.wrongTotals.map((t) => (
        <Notice key={t.currency} tone="person">
          It states a total of {formatMinor(t.stated, t.currency)}; its lines come to{' '}
          {formatMinor(t.sum, t.currency)}. {formatMinor(t.stated - t.sum, t.currency, true)} is in no line
          that was read.
        </Notice>
      ))}
      <Section title="What it comes to">
        <table className="w-full text-[13.5px]">
          <caption className="sr-only">Sums by kind</caption>
          <tbody>
            {row.sums.map((s) => (
              <tr key={`${s.kind} ${s.currency}`}>
                <th scope="row" className="py-0.5 text-left font-normal">
                  {KIND[s.kind]}
                </th>
                <td className="pr-3 text-right text-xs text-muted">{countOf(s.lines, 'line')}</td>
                <td className={`text-right ${s.minor < 0 ? 'text-loss' : ''}`}>
                  {formatMinor(s.minor, s.currency, true)}
                </td>
              </tr>
            ))}
            {row.closing && (
              <tr className="border-t border-rule">
                <th scope="row" className="py-0.5 text-left font-semibold" colSpan={2}>
                  Left on the account
                </th>
                <td className="text-right font-semibold">
                  {formatMinor(row.closing.minor, row.closing.currency)}
                </td>
              </tr>
            )}
          </tbody>
        </table>
      </Section>
      <Section title={`Differs from what is recorded: ${countOf(found.differing, 'order')}`}>
        {differences.length === 0 ? (
          <p className="text-[13.5px] text-muted">Nothing differs that is still to be decided.</p>
        ) : (
          <>
            <ul className="text-[13.5px]">
              {differences.map((d) => (
                <li key={`${d.order} ${d.slot}`} className="border-b border-rule-soft py-1">
                  <div className="flex items-baseline gap-2">
                    <Link
                      href={`/orders?row=${encodeURIComponent(d.order)}`}
                      className="font-mono text-river hover:underline"
                    >
                      {d.number}
                    </Link>
                    <span className="grow text-muted">{d.groups.map((g) => GROUP[g]).join(', ')}</span>
                    <b className={`font-semibold ${d.minor < 0 ? 'text-loss' : 'text-river'}`}>
                      {formatMinor(d.minor, d.currency, true)}
                    </b>
                  </div>
                  <div className="flex flex-wrap items-center gap-2 text-xs text-muted">
                    <span className="grow">
                      stated {formatMinor(d.stated, d.currency)}, recorded{' '}
                      {formatMinor(d.recorded, d.currency)}
                    </span>
                    <Button
                      disabled={busy}
                      onClick={() => decide([d], 'as stated')}
                      aria-label={`Take ${d.number} as stated`}
                    >
                      As stated
                    </Button>
                    <Button
                      kind="text"
                      disabled={busy}
                      onClick={() => decide([d], 'as recorded')}
                      aria-label={`Leave ${d.number} as recorded`}
                    >
                      Leave
                    </Button>
                  </div>
                </li>
              ))}
            </ul>
            {found.differing > 1 && (
              <>
                {differences.length > 0 && found.differing > 100 && (
                  <p className="mt-1 text-xs text-muted">The 100 orders that differ most.</p>
                )}
                <Button
                  className="mt-2"
                  disabled={busy}
                  onClick={() =>
                    ask(
                      `Take all ${countOf(found.differing, 'order')} as stated? ${sumOf(
                        Object.entries(found.minor).map(([currency, minor]) => ({ currency, minor })),
                      )} in all; each gets an entry of its own.`,
                      'Take them as stated',
                      () =>
                        act(
                          () => theShop().decideStatement(row.id, 'as stated'),
                          `${countOf(found.differing, 'order')} taken as ${name} states them.`,
                        ),
                    )
                  }
                >
                  All as stated
                </Button>
              </>
            )}
          </>
        )}
        {corrected.length > 0 && (
          <details className="mt-2 text-[13.5px]">
            <summary>
              {countOf(corrected.length, 'order')} brought to what it states: {sumOf(corrected)}
            </summary>
            <ul>
              {corrected.map((c) => (
                <li key={c.order} className="flex gap-2 py-0.5">
                  <Link
                    href={`/orders?row=${encodeURIComponent(c.order)}`}
                    className="grow font-mono text-river hover:underline"
                  >
                    {c.number}
                  </Link>
                  <span>{formatMinor(c.minor, c.currency, true)}</span>
                  <Button
                    kind="text"
                    disabled={busy}
                    aria-label={`Take the correction of ${c.number} back`}
                    onClick={() =>
                      act(() => theShop().askAgain(row.id, [c.order]), `${c.number} is asked about again.`)
                    }
                  >
                    Take back
                  </Button>
                </li>
              ))}
            </ul>
          </details>
        )}
      </Section>
      <Loose {...{ found, busy, act }} />
      {absent.length > 0 && (
        <Section title={`Settled in these days and in no statement: ${formatCount(found.missing)}`}>
          <ul className="text-[13.5px]">
            {absent.map((a) => (
              <li key={a.order} className="flex gap-2 py-0.5">
                <Link
                  href={`/orders?row=${encodeURIComponent(a.order)}`}
                  className="grow font-mono text-river hover:underline"
                >
                  {a.number}
                </Link>
                {a.profit !== null && (
                  <span className="text-muted">
                    profit {formatMinor(a.profit, shop.settings.currency, true)}
                  </span>
                )}
              </li>
            ))}
          </ul>
          <p className="text-xs text-muted">They may stand in the next one: then they go from here.</p>
          <Button
            kind="text"
            disabled={busy}
            onClick={() =>
              act(
                () =>
                  theShop().decideAbsent(
                    row.id,
                    absent.map((a) => a.order),
                  ),
                'They are no longer asked about.',
              )
            }
          >
            No longer ask about them
          </Button>
        </Section>
      )}
      {row.refused.length > 0 && (
        <Section title={`Rows that could not be read: ${formatCount(row.refused.length)}`}>
          <ul className="text-[13px] text-muted">
            {row.refused.slice(0, 50).map((r) => (
              <li key={r.line}>
                Line {r.line}: {r.reason}
              </li>
            ))}
          </ul>
        </Section>
      )}
      {row.side === 'supplier' && row.due && (
        <Section title="Payment">
          <p className="text-[13.5px]">To be paid by {writtenDay(row.due)}.</p>
          <DateField
            label="Paid on"
            value={row.paidOn ?? ''}
            onChange={(day) =>
              act(
                () => theShop().noteStatementPaid(row.id, day || null),
                day ? 'Noted as paid.' : 'Not paid.',
                true,
              )
            }
          />
        </Section>
      )}
      <Section title="Small differences">
        <AmountField
          label="Take differences of an order as stated up to"
          value={shop.settings.statements?.under ?? 0}
          write={(n) => formatMinor(n, row.sums[0]?.currency ?? shop.settings.currency)}
          parse={(text) => parseMinor(text, row.sums[0]?.currency ?? shop.settings.currency)}
          onChange={(n) => act(() => theShop().setTakenUnder(n ?? 0), 'Holds for the next statements.', true)}
        />
        <p className="text-xs text-muted">
          In each order’s own currency; with 0.00 all of them are asked about.
        </p>
      </Section>
      <p className="mt-4">
        <Button
          kind="text"
          disabled={busy}
          onClick={() =>
            ask(
              `Take statement ${row.number} out? What it said and what was corrected by it goes; the file can be read again.`,
              'Take it out',
              async () => {
                await act(() => theShop().takeStatementOut(row.id), `Statement ${row.number} is taken out.`);
                onClose();
              },
            )
          }
        >
          Take this statement out again
        </Button>
      </p>
    </Docket>
  );
}

const sumOf = (all: readonly { readonly minor: number; readonly currency: string }[]): string => {
  const by = new Map<string, number>();
  for (const d of all) by.set(d.currency, (by.get(d.currency) ?? 0) + d.minor);
  return [...by].map(([currency, minor]) => formatMinor(minor, currency, true)).join(', ');
};

/** Lines that belong to no order, or not as they should. */
function Loose({
  found: { row },
  busy,
  act,
}: {
  found: StatementInFull;
  busy: boolean;
  act: (run: () => Promise<Said>, done: string, undo?: boolean) => Promise<void>;
}) {
  if (!row.loose.length) return null;
  const settle = (l: LooseLine, how: 'cost' | 'set aside') =>
    act(
      () => theShop().settleLoose(row.id, [l.line], how),
      how === 'cost' ? 'Booked as a cost of the shop on its day.' : 'Set aside.',
      true,
    );
  return (
    <Section title={`Lines of no order: ${formatCount(row.loose.length)}`}>
      <ul className="text-[13.5px]">
        {row.loose.slice(0, 200).map((l, k) => (
          <li key={`${l.line} ${k}`} className="border-b border-rule-soft py-1">
            <div className="flex gap-2">
              <span className="grow">
                {l.order ? <span className="font-mono">{l.order}</span> : l.text || KIND[l.kind]}
                {l.order && <span className="text-muted"> {KIND[l.kind].toLowerCase()}</span>}
              </span>
              <span className={l.amount < 0 ? 'text-loss' : ''}>
                {formatMinor(l.amount, l.currency, true)}
              </span>
            </div>
            <div className="flex flex-wrap items-center gap-2 text-xs text-muted">
              <span className="grow">
                {WHY[l.why]}
                {l.done && (l.done.how === 'cost' ? '; booked as a cost' : '; set aside')}
              </span>
              {!l.done && l.why !== 'twice' && (
                <>
                  <Button
                    disabled={busy}
                    aria-label={`Book line ${l.line} as a cost`}
                    onClick={() => settle(l, 'cost')}
                  >
                    Book as a cost
                  </Button>
                  <Button
                    kind="text"
                    disabled={busy}
                    aria-label={`Set line ${l.line} aside`}
                    onClick={() => settle(l, 'set aside')}
                  >
                    Set aside
                  </Button>
                </>
              )}
            </div>
          </li>
        ))}
      </ul>
    </Section>
  );
}
