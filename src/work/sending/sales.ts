import { unitsOnWire } from '../../connect/marketplace';
import type { Trouble } from '../../connect/reach';
import { unitsOf } from '../../core/orders';
import type { MarketConnection, OutboxRow } from '../../store';
import { marketAdapter } from '../context/adapters';
import type { Work } from '../context/work';
import { answer, dispatched } from './answered';
import { isFinal } from './tries';

export async function sendDispatch(
  work: Work,
  c: MarketConnection,
  row: OutboxRow<'dispatch'>,
): Promise<Trouble | null> {
  const { number, tracking, inside, carrier, shippedAt } = row.body;
  const lines = inside.map(unitsOnWire);
  const said = await (await marketAdapter(work, c)).dispatch(row.id, number, {
    carrier,
    tracking,
    shippedAt,
    ...(lines.length && { lines }),
  });
  if (!said.ok && !isFinal(said.trouble, row)) return said.trouble;
  await dispatched(work, c, row, said.ok ? null : said.trouble.says);
  return null;
}

/**
 * Tells a marketplace of a cancellation. Where it refuses, it is asked what it has: what is cancelled there already (by
 * the buyer meanwhile, or by a later copy of this shop) stays cancelled; only what is still sold waits to be bought again.
 */
export async function sendCancellation(
  work: Work,
  c: MarketConnection,
  row: OutboxRow<'cancel'>,
): Promise<Trouble | null> {
  const { number, reason, totals } = row.body;
  const adapter = await marketAdapter(work, c);
  const said = await adapter.cancel(row.id, number, reason, totals);
  if (!said.ok && !isFinal(said.trouble, row)) return said.trouble;
  const asked = said.ok ? null : await adapter.order(number);
  if (asked && !asked.ok && asked.trouble.kind !== 'refused') return asked.trouble;
  // An order that it does not have is not sold.
  const there = asked?.ok && asked.value.status !== 'cancelled' ? asked.value.lines : [];
  const meant = there.filter((l) => totals === null || totals.some((t) => t.line === l.id));
  const wanted = (l: (typeof there)[number]) => (totals ? unitsOf(totals, l.id) : l.quantity);
  const refused = !said.ok && meant.some((l) => l.cancelled < wanted(l));
  const says = said.ok
    ? `${c.name} was notified of the cancellation.`
    : refused
      ? `${c.name} refused the cancellation: ${said.trouble.says}`
      : `${c.name} had cancelled it already.`;
  await answer(
    work,
    row,
    refused ? 'refused' : 'done',
    says,
    (o) => `${o.number}: ${says}`,
    () =>
      said.ok
        ? { kind: 'cancellation told' }
        : {
            kind: 'cancellation refused',
            says: said.trouble.says,
            there: meant.map((l) => ({ line: l.id, units: l.cancelled })),
          },
  );
  return null;
}
