import {
  MESSAGES,
  type MessageFields,
  type MessageKind,
  type Messages,
  messageText,
  ruleFor,
} from '../../core/messages';
import { type Buyer, isLate, type OrderFact, soldIn } from '../../core/orders';
import { applyChange, buyerOf, type Order, type OutboxRow } from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp } from '../memory/assortment';
import { outgoing } from '../outbox/row';
import { marketOf, type Shop } from '../quoting/worth';

/** What an event of an order is to its buyer; null where nobody is written to. */
function aboutOf(fact: OrderFact): { readonly kind: MessageKind; readonly tracking: string } | null {
  switch (fact.kind) {
    case 'came in':
      return { kind: 'thanks', tracking: '' };
    case 'told':
      return { kind: 'shipped', tracking: fact.tracking };
    case 'delivered':
      return { kind: 'delivered', tracking: '' };
    case 'cancellation told':
      return { kind: 'cancelled', tracking: '' };
    default:
      return null;
  }
}

/** The id of a message is its idempotency key: a buyer is written to once about a thing, whatever is heard again. */
const keyOf = (order: string, kind: MessageKind, tracking: string) =>
  `message:${order}:${kind}${tracking && `:${tracking}`}`;

function rowFor(
  order: Order,
  kind: MessageKind,
  tracking: string,
  shop: Shop,
  at: number,
): OutboxRow<'message'> | null {
  if (order.own) return null;
  const market = marketOf(shop, order.marketplace);
  const rule = ruleFor(shop.settings.messages, order.marketplace, kind);
  // A marketplace that is worked by files takes no messages.
  if (market?.lanes.orders !== 'service' || !rule) return null;
  const carrier =
    order.purchases
      .flatMap((p) => (p.state === 'accepted' ? p.parcels : []))
      .find((one) => one.tracking === tracking)?.carrier ?? '';
  return outgoing(
    keyOf(order.id, kind, tracking),
    order.marketplace,
    'message',
    order.id,
    { number: order.number, about: kind, template: rule.text, tracking, carrier },
    at,
  );
}

/** The messages that follow of what happened to an order. */
export const messagesFor = (order: Order, facts: readonly OrderFact[], shop: Shop, at: number) =>
  shop.settings.messages && !order.aside && !order.elsewhere
    ? facts.flatMap((fact) => {
        const about = aboutOf(fact);
        return (about && rowFor(order, about.kind, about.tracking, shop, at)) || [];
      })
    : [];

/** Puts the messages that follow of what happened into the outbox, each once. Inside the caller's transaction. */
export async function writeToBuyer(
  work: Work,
  shop: Shop,
  order: Order,
  facts: readonly OrderFact[],
): Promise<void> {
  await putOnce(work, messagesFor(order, facts, shop, work.clock()));
}

async function putOnce({ db }: Work, rows: readonly OutboxRow<'message'>[]): Promise<number> {
  if (!rows.length) return 0;
  const known = await db.outbox.bulkGet(rows.map((r) => r.id));
  const fresh = rows.filter((_, k) => !known[k]);
  await db.outbox.bulkPut(fresh);
  return fresh.length;
}

/** Writes to the buyers of orders whose ship-by time passed without a parcel. @returns to how many */
export async function writeOfDelays(work: Work): Promise<number> {
  const { db } = work;
  const { shop, openOrders } = await caughtUp(work);
  const at = work.clock();
  const late = [...openOrders].filter((o) => isLate(o, o.shipBy, at, 0));
  const rows = late.flatMap((o) => rowFor(o, 'delayed', '', shop, at) ?? []);
  if (!rows.length) return 0;
  return db.transaction('rw', db.outbox, () => putOnce(work, rows));
}

/** A question to the buyer of an order; null where its marketplace takes no messages. @param text which of the buyer's texts */
export function questionRow(order: Order, text: number, shop: Shop, at: number): OutboxRow<'message'> | null {
  if (order.own || marketOf(shop, order.marketplace)?.lanes.orders !== 'service') return null;
  const { number, marketplace, id } = order;
  const body = { number, about: 'question', template: '', text, tracking: '', carrier: '' } as const;
  return outgoing(`message:${id}:question:${text}`, marketplace, 'message', id, body, at);
}

/** What a message can name of an order. */
export const messageFields = (
  order: Order,
  buyer: Buyer,
  shop: string,
  { tracking, carrier }: { readonly tracking: string; readonly carrier: string },
): MessageFields => ({
  buyer: buyer.name,
  order: order.number,
  goods: order.lines
    .filter((l) => soldIn(l) > 0)
    .map((l) => (soldIn(l) > 1 ? `${soldIn(l)} × ${l.title}` : l.title))
    .join(', '),
  ...{ tracking, carrier, shop },
});

/** A message as the buyer of the newest order of a marketplace would get it. */
export async function previewMessage(
  work: Work,
  marketplace: string,
  template: string,
): Promise<{ readonly order: string; readonly said: ReturnType<typeof messageText> } | null> {
  const { shop, openOrders } = await caughtUp(work);
  const own = [...openOrders].filter((o) => o.marketplace === marketplace);
  const newest = own.reduce<Order | null>((a, b) => (a && a.paidAt >= b.paidAt ? a : b), null);
  if (!newest) return null;
  const parcel = newest.purchases.flatMap((p) => (p.state === 'accepted' ? p.parcels : []))[0];
  const fields = messageFields(newest, await buyerOf(work.db, newest), shop.settings.shop, {
    tracking: parcel?.tracking ?? 'AB12345678',
    carrier: parcel?.carrier ?? 'the carrier',
  });
  return { order: newest.number, said: messageText(template, fields) };
}

/** Sets which messages buyers get. @throws RangeError where a template cannot be read */
export async function saveMessages(work: Work, messages: Messages): Promise<void> {
  const none: MessageFields = { buyer: '', order: '', goods: '', tracking: '', carrier: '', shop: '' };
  for (const rules of Object.values(messages))
    for (const kind of MESSAGES) {
      const said = rules[kind]?.on ? messageText(rules[kind].text, none) : null;
      if (said && !said.ok) throw new RangeError(`${kind}: ${said.reason}`);
      if (said?.ok && said.unknown.length)
        throw new RangeError(`${kind}: there is no field “${said.unknown[0]}”.`);
    }
  const { db } = work;
  await db.transaction('rw', db.shopTables, () =>
    applyChange(
      db,
      { by: 'person', name: 'Messages to buyers', undoable: true },
      [{ table: 'settings', id: 'shop', set: { messages } }],
      nowOf(work),
    ),
  );
}
