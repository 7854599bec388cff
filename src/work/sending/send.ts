import { type ListingSaid, OFFERS_AT_ONCE, unitsOnWire } from '../../connect/marketplace';
import type { Result, Trouble } from '../../connect/reach';
import type { NewPurchase, SupplierOrder } from '../../connect/supplier';
import { ownPicture } from '../../core/checks';
import { type Buyer, isAsking, unitsOf } from '../../core/orders';
import {
  buyerOf,
  type Connection,
  type ListingDocument,
  type ListingKind,
  type MarketConnection,
  type OrderKind,
  type OutboxBodies,
  type OutboxRow,
  orderById,
  type SupplierConnection,
  sizedKey,
} from '../../store';
import { marketAdapter, supplierAdapter } from '../context/adapters';
import { failureInWords, noteFailure } from '../context/failure';
import type { Work } from '../context/work';
import { ownPictureFile } from '../editing/pictures';
import { supplierSaid } from '../orders/supplier-news';
import { backoff, noteHealth, noteTrouble, noteWell } from '../outbox/circuit';
import { dueOf, OF_ORDERS } from '../outbox/waiting';
import { ordersComeIn } from '../schedule/job';
import { answer, close, dispatched, offered, published, type Told } from './answered';
import { askElsewhere } from './elsewhere';
import { drafted } from './leaving';

/** Tries after which an answer that tells nothing is taken for a no, where a person can simply send it again. */
const MOST_TRIES = 5;

/**
 * Whether asking again is of no use: the other side itself refused, or what stands between never lets a
 * listing through. Nothing of an order is given up.
 */
const isFinal = (trouble: Trouble, row: OutboxRow) =>
  trouble.kind === 'refused' ||
  (trouble.kind === 'stray' && row.kind === 'publish' && row.attempts + 1 >= MOST_TRIES);

/**
 * Gives a marketplace the pictures of our own that it does not have yet.
 * @returns the address of each there, by its name; without those that are not in this browser any more
 */
async function givePictures(
  work: Work,
  c: MarketConnection,
  leaving: readonly Told[],
): Promise<Result<ReadonlyMap<string, string>>> {
  const { assets } = work.db;
  const names = new Set(leaving.flatMap(({ document }) => document.pictures));
  const addresses = new Map<string, string>();
  for (const name of names) {
    const own = ownPicture(name);
    const asset = own && (await assets.get(own.hash));
    if (!own || !asset) continue;
    const key = own.fitted ? sizedKey(c.id, own) : c.id;
    let address = asset.on?.[key];
    if (!address) {
      const file = await ownPictureFile(work, name);
      if (!file) continue;
      const given = await (await marketAdapter(work, c)).picture(file);
      if (!given.ok) return given;
      address = given.value;
      const now = await assets.get(own.hash);
      await assets.update(asset.id, { on: { ...now?.on, [key]: address } });
    }
    addresses.set(name, address);
  }
  return { ok: true, value: addresses };
}

/** The first picture of our own that is not in this browser any more, counted from 1; 0 where none is. */
const missingPicture = ({ document: { pictures } }: Told, there: ReadonlyMap<string, string>): number =>
  pictures.findIndex((name) => ownPicture(name) && !there.has(name)) + 1;

/** A document with the addresses that a marketplace gave our pictures. */
function withAddresses(document: ListingDocument, addresses: ReadonlyMap<string, string>): ListingDocument {
  const addressOf = (name: string) => (ownPicture(name) ? addresses.get(name) : name);
  const { alts } = document;
  return {
    ...document,
    pictures: document.pictures.flatMap((name) => addressOf(name) ?? []),
    ...(alts && {
      alts: Object.fromEntries(Object.entries(alts).map(([name, text]) => [addressOf(name) ?? name, text])),
    }),
  };
}

const refused = (reason: string): ListingSaid => ({ ok: false, reason });

/** Publishes listings in one request. What is told of each is made now, so that it is the newest. */
async function publish(
  work: Work,
  c: MarketConnection,
  rows: readonly OutboxRow<'publish'>[],
): Promise<Trouble | null> {
  const leaving = await drafted(work, c, rows);
  if (!leaving.length) return null;
  const there = await givePictures(work, c, leaving);
  if (!there.ok) return there.trouble;
  const whole = leaving.filter((told) => !missingPicture(told, there.value));
  if (whole.length < leaving.length)
    await published(work, c, leaving, (told) => {
      const at = missingPicture(told, there.value);
      return at
        ? refused(`Picture ${at} is not in this browser any more. Add it again, or take it out.`)
        : undefined;
    });
  if (!whole.length) return null;
  const drafts = whole.map(({ row, document, ...told }) => ({
    ...told,
    document: withAddresses(document, there.value),
    sku: row.body.sku,
    draft: row.body.draft === true,
  }));
  const answer = await (await marketAdapter(work, c)).publish(drafts);
  if (!answer.ok) {
    const { trouble } = answer;
    if (!rows.some((row) => isFinal(trouble, row))) return trouble;
    // What is not given up goes again later.
    const over = (told: Told) => (isFinal(trouble, told.row) ? refused(trouble.says) : undefined);
    await published(work, c, whole, over);
    return whole.every((told) => over(told) !== undefined) ? null : trouble;
  }
  const silent: OutboxRow[] = [];
  await published(work, c, whole, (told) => {
    const said = answer.value.get(told.row.body.sku);
    if (said) return said;
    if (told.row.attempts + 1 >= MOST_TRIES) return refused('It was sent several times and never answered.');
    silent.push(told.row);
    return undefined;
  });
  for (const row of silent) await unnamed(work, row);
  return null;
}

async function offers(
  work: Work,
  c: MarketConnection,
  batch: readonly OutboxRow<'offer'>[],
): Promise<Trouble | null> {
  const answer = await (await marketAdapter(work, c)).offers(batch.map((r) => r.body));
  if (!answer.ok) {
    if (!isFinal(answer.trouble, batch[0]!)) return answer.trouble;
    for (const row of batch) await close(work, row, 'refused', answer.trouble.says);
    return null;
  }
  const refusals = new Map<string, string | null>();
  for (const row of batch) {
    const said = answer.value.get(row.body.sku);
    const refusal = said === undefined ? await unnamed(work, row) : said;
    if (refusal !== undefined) refusals.set(row.id, refusal);
  }
  await offered(work, c, batch, (row) => refusals.get(row.id));
  return null;
}

/** An offer that the answer does not name goes again later, and is given up after some tries. @returns the refusal, or undefined */
async function unnamed(work: Work, row: OutboxRow): Promise<string | undefined> {
  const attempts = row.attempts + 1;
  if (attempts >= MOST_TRIES) return 'it was sent several times and never answered.';
  const nextAt = work.clock() + backoff(row.attempts, work.chance());
  await work.db.outbox.update(row.id, { attempts, nextAt, says: 'The answer did not mention it.' });
  return undefined;
}

/** Writes down that a row is about to leave, unless it was withdrawn or replaced meanwhile. */
async function claim(
  work: Work,
  row: OutboxRow<'buy'>,
): Promise<{ readonly before: OutboxRow<'buy'>; readonly purchase: NewPurchase } | null> {
  const { outbox, buyers } = work.db;
  return work.db.transaction('rw', outbox, buyers, async () => {
    const now = await outbox.get(row.id);
    if (now?.state !== 'waiting' || now.at !== row.at) return null;
    await outbox.update(row.id, { sentAt: work.clock() });
    const before = now as OutboxRow<'buy'>;
    return { before, purchase: toBuy(before.body, await buyerOf(work.db, { id: row.order })) };
  });
}

/** A purchase with the buyer's address and words in it. */
function toBuy(body: OutboxBodies['buy'], { addresses, texts }: Buyer): NewPurchase {
  const textOf = (text: string | number) => (typeof text === 'string' ? text : texts[text]!);
  return {
    ...body,
    address: addresses[body.address]!,
    lines: body.lines.map((l) => ({
      ...l,
      personalisation: l.personalisation === null ? null : textOf(l.personalisation),
    })),
    slip: textOf(body.slip),
  };
}

/** The purchase that may be there already, as its supplier knows it; null where it is sure that there is none. */
async function lookUp(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'buy'>,
): Promise<Result<SupplierOrder | null>> {
  const found = await (await supplierAdapter(work, c)).find(row.body.reference);
  if (!found.ok) return found;
  const there = found.value.find((p) => p.status !== 'cancelled') ?? found.value.at(-1);
  return { ok: true, value: there ?? null };
}

/**
 * Buys. Where it left before and no answer is known, the supplier is first asked whether it has the purchase:
 * only if it has none does it go again, with the same key; and not at all if the sale was cancelled meanwhile.
 */
async function buy(work: Work, c: SupplierConnection, row: OutboxRow<'buy'>): Promise<Trouble | null> {
  if (!(await askElsewhere(work, row))) return null;
  const claimed = await claim(work, row);
  if (!claimed) return null;
  const { before, purchase } = claimed;
  const { reference } = row.body;
  if (before.sentAt !== null) {
    const found = await lookUp(work, c, row);
    if (!found.ok) return doubtful(found.trouble);
    if (found.value) return bought(work, c, row, found.value);
    const order = await orderById(work.db, row.order);
    if (order?.cases.some((one) => isAsking(one) && one.supplier === c.id && one.reference === reference)) {
      const says = `${c.name} does not have it; fewer are wanted by now.`;
      await answer(
        work,
        row,
        'withdrawn',
        says,
        (o) => `${o.number} was not bought yet`,
        () => ({ kind: 'never bought', supplier: c.id, reference }),
      );
      return null;
    }
  }
  const said = await (await supplierAdapter(work, c)).buy(row.id, purchase);
  if (said.ok) return bought(work, c, row, said.value);
  if (said.trouble.type === 'urn:wire:key-reused') {
    // A key that was used before belongs to a purchase that is there: made before this copy of the shop, and
    // edited since.
    const found = await lookUp(work, c, row);
    return found.ok && found.value
      ? bought(work, c, row, found.value)
      : doubtful(found.ok ? said.trouble : found.trouble);
  }
  if (said.trouble.kind !== 'refused') return said.trouble;
  return notBought(work, c, row, said.trouble.says);
}

/** A refusal that says nothing of whether it was bought is one trouble among others. */
const doubtful = (trouble: Trouble): Trouble =>
  trouble.kind === 'refused' ? { ...trouble, kind: 'nonsense' } : trouble;

async function bought(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'buy'>,
  said: SupplierOrder,
): Promise<null> {
  await answer(
    work,
    row,
    'done',
    `Accepted as ${said.number}.`,
    (o) => `${c.name} accepted ${o.number}`,
    (order) => supplierSaid(work, order, said, c),
  );
  await noteBalance(work, c, said);
  return null;
}

async function noteBalance(work: Work, c: SupplierConnection, { balance }: SupplierOrder): Promise<void> {
  if (balance !== null) await noteHealth(work, c.id, { balance });
}

async function notBought(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'buy'>,
  says: string,
): Promise<null> {
  await answer(
    work,
    row,
    'refused',
    `${c.name} refused it: ${says}`,
    (o) => `${c.name} refused ${o.number}`,
    () => ({ kind: 'supplier refused', supplier: c.id, reference: row.body.reference, says }),
  );
  return null;
}

async function takeBack(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'take back'>,
): Promise<Trouble | null> {
  const { number, reason, reference, lines } = row.body;
  const said = await (await supplierAdapter(work, c)).takeBack(row.id, number, reason, lines);
  if (!said.ok && !isFinal(said.trouble, row)) return said.trouble;
  await answer(
    work,
    row,
    said.ok ? 'done' : 'refused',
    said.ok ? `${number} was taken back.` : `${c.name} does not take ${number} back: ${said.trouble.says}`,
    () => (said.ok ? `${c.name} took ${number} back` : `${c.name} keeps ${number}`),
    (order) =>
      said.ok
        ? supplierSaid(work, order, said.value, c)
        : { kind: 'keeps it', supplier: c.id, reference, says: said.trouble.says },
  );
  if (said.ok) await noteBalance(work, c, said.value);
  return null;
}

async function dispatch(
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
async function cancel(work: Work, c: MarketConnection, row: OutboxRow<'cancel'>): Promise<Trouble | null> {
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

/** Sends one row of an order. */
function send(work: Work, c: Connection, row: OutboxRow<OrderKind>): Promise<Trouble | null> {
  const supplier = c as SupplierConnection;
  const market = c as MarketConnection;
  switch (row.kind) {
    case 'buy':
      return buy(work, supplier, row);
    case 'take back':
      return takeBack(work, supplier, row);
    case 'dispatch':
      return dispatch(work, market, row);
    case 'cancel':
      return cancel(work, market, row);
  }
}

/** Trouble that is about the connection: whatever else is sent meets the same. */
const isOfAll = ({ kind }: Trouble) =>
  kind === 'credentials' || kind === 'unreachable' || kind === 'outage' || kind === 'limit';

/** Rows of orders sent in one round at most, and batches of listings. */
const MOST_ROWS = 25;
const MOST_BATCHES = 16;

/** Puts rows off after trouble, each for longer the more often it was tried. */
async function putOff(work: Work, id: string, rows: readonly OutboxRow[], trouble: Trouble): Promise<void> {
  const until = await noteTrouble(work, id, trouble);
  const at = work.clock();
  await work.db.outbox.bulkUpdate(
    rows.map((r) => ({
      key: r.id,
      changes: {
        attempts: r.attempts + 1,
        nextAt: Math.max(until, at + (trouble.retryAfter ?? backoff(r.attempts, work.chance()))),
        says: trouble.says,
      },
    })),
  );
}

/** A row that something here failed at, not the other side; kept beside it so that a person is told. */
export interface StuckRow {
  readonly connection: string;
  readonly kind: OutboxRow['kind'];
  readonly order: string | null;
  readonly says: string;
  readonly tries: number;
}

const stuckId = (row: string) => `stuck:${row}`;

/** Rows that failed here more than once. */
export const stuckRows = async ({ db }: Pick<Work, 'db'>): Promise<StuckRow[]> =>
  (await db.notes.where('id').startsWith('stuck:').toArray())
    .map((note) => note.value as StuckRow)
    .filter((row) => row.tries > 1);

/**
 * Lets rows that something here failed at wait ever longer, so that they stand in no other's way; each goes alone the next
 * time. What no storage takes is thrown on.
 */
async function stepAside(work: Work, rows: readonly OutboxRow[], error: unknown): Promise<void> {
  noteFailure(error);
  const says = failureInWords(error);
  const at = work.clock();
  await work.db.outbox.bulkUpdate(
    rows.map((r) => ({
      key: r.id,
      changes: { attempts: r.attempts + 1, nextAt: at + backoff(r.attempts + 2, work.chance()), says },
    })),
  );
  if (rows.length > 1) return;
  await work.db.notes.bulkPut(
    rows.map(({ id, connection, kind, order, attempts }) => {
      const value: StuckRow = { connection, kind, order, says, tries: attempts + 1 };
      return { id: stuckId(id), value };
    }),
  );
}

async function wentWell(work: Work, row: OutboxRow): Promise<void> {
  if (row.attempts > 0) await work.db.notes.delete(stuckId(row.id));
}

/** How many rows were answered, and whether trouble stopped it. */
export interface SentRows {
  readonly sent: number;
  readonly stopped: boolean;
}

/** Milliseconds for which purchases wait while orders come in: each of them holds storage up. */
const BUYING_WAITS = 30_000;

/**
 * Sends what is due of orders to one connection, one row after the other and oldest first, each answer stored before the
 * next is sent. A row whose answer did not come goes again with the same key.
 */
export async function sendOrders(work: Work, c: Connection): Promise<SentRows> {
  let sent = 0;
  for (const row of await dueOf(work, c.id, OF_ORDERS, MOST_ROWS)) {
    if (row.kind === 'buy' && (await ordersComeIn(work, BUYING_WAITS))) break;
    let trouble: Trouble | null;
    try {
      trouble = await send(work, c, row);
    } catch (error) {
      await stepAside(work, [row], error);
      continue;
    }
    await wentWell(work, row);
    if (trouble) {
      await putOff(work, c.id, [row], trouble);
      return { sent, stopped: true };
    }
    await noteWell(work, c.id);
    sent++;
  }
  return { sent, stopped: false };
}

/** Sends what is due of listings to a marketplace: listings, then offers, in batches. */
export async function sendListings(work: Work, c: MarketConnection): Promise<SentRows> {
  let sent = 0;
  for (const kind of ['publish', 'offer'] as const) {
    const done = await sendBatches(work, c, kind);
    sent += done.sent;
    if (done.stopped) return { sent, stopped: true };
  }
  return { sent, stopped: false };
}

/** Rows that were neither called back nor replaced since they were read; those that were replaced as they are now. */
async function stillWaiting(work: Work, rows: readonly OutboxRow[]): Promise<OutboxRow[]> {
  const now = await work.db.outbox.bulkGet(rows.map((r) => r.id));
  return now.flatMap((row) => (row?.state === 'waiting' ? [row] : []));
}

/**
 * Sends batches of listings or offers side by side, and none while orders come in. What one batch meets alone does not keep
 * the others.
 */
async function sendBatches(work: Work, c: MarketConnection, kind: ListingKind): Promise<SentRows> {
  const { listingsAtOnce } = c.site.limits;
  // One of the requests that the site allows at a time is left to orders.
  const inFlight = Math.max(1, c.site.limits.inFlight - 1);
  const atOnce = kind === 'offer' ? OFFERS_AT_ONCE : listingsAtOnce;
  const due = await dueOf(work, c.id, [kind], atOnce * Math.max(inFlight, MOST_BATCHES));
  const batches: OutboxRow[][] = [];
  // What failed before goes alone, so that one that always fails keeps no other.
  const fresh = due.filter((r) => r.attempts === 0);
  for (let from = 0; from < fresh.length; from += atOnce) batches.push(fresh.slice(from, from + atOnce));
  batches.push(...due.filter((r) => r.attempts > 0).map((r) => [r]));
  let sent = 0;
  let stopped = false;
  const lane = async () => {
    for (let next = batches.shift(); next && !stopped; next = batches.shift()) {
      if (await ordersComeIn(work)) return;
      const batch = await stillWaiting(work, next);
      if (!batch.length) continue;
      let trouble: Trouble | null;
      try {
        trouble =
          kind === 'publish'
            ? await publish(work, c, batch as OutboxRow<'publish'>[])
            : await offers(work, c, batch as OutboxRow<'offer'>[]);
      } catch (error) {
        await stepAside(work, batch, error);
        continue;
      }
      if (trouble) {
        stopped ||= isOfAll(trouble);
        await putOff(work, c.id, batch, trouble);
      } else {
        await noteWell(work, c.id);
        for (const row of batch) await wentWell(work, row);
        sent += batch.length;
      }
    }
  };
  const ended = await Promise.allSettled(Array.from({ length: inFlight }, lane));
  const thrown = ended.find((e) => e.status === 'rejected');
  if (thrown) throw thrown.reason;
  return { sent, stopped };
}
