import { unitsOnWire } from '../../connect/marketplace';
import type { Trouble } from '../../connect/reach';
import { messageText } from '../../core/messages';
import { unitsOf } from '../../core/orders';
import { buyerOf, type MarketConnection, type OutboxRow, orderById, settingsOf } from '../../store';
import { marketAdapter } from '../context/adapters';
import type { Work } from '../context/work';
import { messageFields } from '../orders/messages';
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

/** Says no to a buyer's wish to cancel. */
export async function sendDecline(
  work: Work,
  c: MarketConnection,
  row: OutboxRow<'decline'>,
): Promise<Trouble | null> {
  const { number, request, says: reason } = row.body;
  const said = await (await marketAdapter(work, c)).decline(row.id, number, { request, reason });
  if (!said.ok && !isFinal(said.trouble, row)) return said.trouble;
  const refused = said.ok ? null : said.trouble.says;
  const says = said.ok
    ? `${c.name} was told that the request is declined.`
    : `${c.name} did not take the answer: ${refused}`;
  await answer(
    work,
    row,
    said.ok ? 'done' : 'refused',
    says,
    (o) => `${o.number}: ${says}`,
    () => ({ kind: 'decline told', refused }),
  );
  return null;
}

/** Writes to a buyer: the template of then, filled in with what is known of the order now. */
export async function sendMessage(
  work: Work,
  c: MarketConnection,
  row: OutboxRow<'message'>,
): Promise<Trouble | null> {
  const { number, about, tracking, carrier } = row.body;
  const order = await orderById(work.db, row.order);
  const buyer = order && (await buyerOf(work.db, order));
  if (!order || !buyer || buyer.erasedAt !== null) {
    await work.db.outbox.update(row.id, {
      state: 'withdrawn',
      says: 'There is nobody to write to any more.',
    });
    return null;
  }
  const { shop } = await settingsOf(work.db);
  const { text } = row.body;
  const filled =
    text === undefined
      ? messageText(row.body.template, messageFields(order, buyer, shop, { tracking, carrier }))
      : ({ ok: true, text: buyer.texts[text] ?? '' } as const);
  const said = filled.ok
    ? await (await marketAdapter(work, c)).message(row.id, number, filled.text)
    : ({ ok: false, trouble: { kind: 'refused', says: filled.reason } } as const);
  if (!said.ok && !isFinal(said.trouble, row)) return said.trouble;
  const refused = said.ok ? null : said.trouble.says;
  await answer(
    work,
    row,
    said.ok ? 'done' : 'refused',
    said.ok ? 'The buyer was written to.' : `The message was not taken: ${refused}`,
    (o) => `${o.number}: message to the buyer`,
    () => ({ kind: 'message told', about, refused }),
  );
  return null;
}
