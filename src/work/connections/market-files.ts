import {
  type DispatchFileRow,
  readAnswerFile,
  readSalesFile,
  SALES_COLUMNS,
  writeDispatchFile,
} from '../../connect/files';
import type { MarketOrder } from '../../connect/marketplace';
import { type Site, USUAL_LIMITS } from '../../core/checks';
import type { ListingFileColumn } from '../../core/lists';
import type { Ppm } from '../../core/money';
import { unitsOf } from '../../core/orders';
import type { FeeRule, Tax } from '../../core/pricing';
import { countOf } from '../../core/units';
import {
  allConnections,
  applyChange,
  connectionById,
  type MarketConnection,
  marketById,
  orderById,
  type RowChange,
  readArchived,
  settingsOf,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { saveRules } from '../listings/rules';
import { caughtUp } from '../memory/assortment';
import { takeOrders } from '../orders/intake';
import { countWaiting, waitingFor } from '../outbox/waiting';
import { titleOf } from '../quoting/copy';
import { fullListings } from '../quoting/full-listing';
import { close, dispatched } from '../sending/answered';
import { type Connected, freeId, keep, sameName } from './connections';

export { SALES_COLUMNS };

/** The seller’s details of a shop without a service, which takes a listing file and gives a sales file. */
export interface FileMarket {
  readonly name: string;
  readonly currency: string;
  readonly tax: Tax;
  /** Its fee: a share of the amount that the buyer pays, and a fixed amount on top. */
  readonly share: Ppm;
  readonly fixed: number;
  readonly shipsTo: readonly string[];
}

/** All goods of a shop that asks for no categories. */
const ALL = { id: 'all', name: 'All goods', words: [], needsBrand: false, needsGtin: false } as const;

function siteFor(said: FileMarket, name: string, zone: string): Site {
  const fee: FeeRule = {
    id: FORM_FEE,
    name: 'Fee',
    kind: 'sale',
    per: 'order',
    bands: said.share ? { '*': [{ upTo: null, rate: said.share }] } : {},
    fixed: said.fixed,
    least: null,
    most: null,
    onShipping: true,
    onTax: true,
    optional: false,
  };
  return {
    name,
    currency: said.currency,
    zone,
    titleLimit: 200,
    descriptionLimit: 20_000,
    needsDescription: false,
    pictures: { least: 0, most: 50, shortest: 0, square: false },
    categories: [ALL],
    bannedWords: [],
    fees: { rules: said.share || said.fixed ? [fee] : [], tax: said.tax },
    tags: null,
    drafts: false,
    attributes: [],
    limits: USUAL_LIMITS,
    carriers: [],
    shipsTo: said.shipsTo,
  };
}

/** The fee that the form of a shop without a service knows, in a table that may hold others. */
const FORM_FEE = 'fee';
const formFee = ({ fees }: Site): FeeRule | undefined => fees.rules.find((r) => r.id === FORM_FEE);

const shown = (fee: FeeRule | undefined) => ({
  share: fee?.bands['*']?.[0]?.rate ?? 0,
  fixed: fee?.fixed ?? 0,
});

/** A shop as it is said to be now, with the fees that were set besides the one that its form knows. */
function withOtherFees(said: Site, known: Site): Site {
  const [before, asked] = [formFee(known), formFee(said)];
  const [was, is] = [shown(before), shown(asked)];
  // What the form does not show of its fee stays, as long as what it shows is not changed.
  const fee = was.share === is.share && was.fixed === is.fixed ? before : asked;
  const others = known.fees.rules.filter((r) => r.id !== FORM_FEE);
  return { ...said, fees: { ...said.fees, rules: [...(fee ? [fee] : []), ...others] } };
}

/** The details of a shop by files as they are stored. */
export function saidOf({ site }: MarketConnection): FileMarket {
  return {
    name: site.name,
    currency: site.currency,
    tax: site.fees.tax,
    ...shown(formFee(site)),
    shipsTo: site.shipsTo,
  };
}

/** Adds a marketplace without a service, or changes what was said of it. Its id is made from its name. */
export async function keepFileMarket(
  work: Work,
  said: FileMarket,
  id?: string,
): Promise<Connected & { id?: string }> {
  const name = said.name.trim().slice(0, 80);
  if (!name) return { ok: false, reason: 'Give the shop a name.' };
  const others = (await allConnections(work.db)).filter((c) => c.id !== id);
  if (others.some((c) => c.role === 'marketplace' && sameName(c.name, name)))
    return { ok: false, reason: `There is a marketplace “${name}” already.` };
  const made = siteFor(said, name, (await settingsOf(work.db)).zone);
  if (id) {
    const known = await marketById(work.db, id);
    const site = known ? withOtherFees(made, known.site) : made;
    await saveRules(work, [{ table: 'connections', id, set: { name, site } }], `What ${name} takes`);
    return { ok: true, name, id };
  }
  const fresh = freeId('shop', name, others, work);
  await keep(work, {
    id: fresh,
    service: '',
    role: 'marketplace',
    lanes: { listings: 'file', orders: 'file' },
    name,
    site: made,
    optedIn: [],
  });
  return { ok: true, name, id: fresh };
}

export interface WrittenFile {
  readonly name: string;
  readonly text: string;
  readonly rows: number;
}

/** How much waits for a shop of files: changes of listings, and news of orders. */
export async function waitingCounts(
  { db }: Pick<Work, 'db'>,
  id: string,
): Promise<{ listings: number; orders: number }> {
  const [listings, orders] = await Promise.all([
    countWaiting(db, id, ['publish', 'offer']),
    countWaiting(db, id, ['dispatch', 'cancel']),
  ]);
  return { listings, orders };
}

/** A file's name, with the time at which it is written. */
export const fileName = (what: string, id: string, at: number) =>
  `${what}-${id}-${new Date(at).toISOString().slice(0, 16).replace(/[-:]/g, '').replace('T', '-')}.csv`;

/** Keeps how a shop's listing file is written, as one change. @param columns null goes back to Sampan's own */
export async function keepFileColumns(
  work: Work,
  id: string,
  columns: readonly ListingFileColumn[] | null,
  filePictures: MarketConnection['filePictures'] = 'addresses',
): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const c = await connectionById(db, id);
    const name = `Columns of the listing file for ${c?.name}`;
    const set = { fileColumns: columns ?? undefined, filePictures };
    await applyChange(
      db,
      { by: 'person', name },
      [{ table: 'connections', id, set, says: `${name}.` }],
      nowOf(work),
    );
  });
}

export type TakenAnswer =
  | {
      readonly ok: true;
      readonly accepted: number;
      readonly refused: number;
      /** Rows that cannot be read, or are of no listing here. */
      readonly bad: readonly { readonly line: number; readonly reason: string }[];
    }
  | { readonly ok: false; readonly reason: string };

/** Takes in what a shop answered to a listing file: what it refused goes back to the Bench with the reason. */
export async function takeAnswerFile(work: Work, id: string, text: string): Promise<TakenAnswer> {
  const { db } = work;
  const read = readAnswerFile(text);
  if (!read.ok) return read;
  return db.transaction('rw', db.shopTables, async () => {
    const c = await marketById(db, id);
    if (!c) return { ok: false, reason: 'This shop is not there any more.' };
    const assortment = await caughtUp(work);
    const at = work.clock();
    const bad = [...read.value.refused];
    const rows: RowChange[] = [];
    let accepted = 0;
    let refused = 0;
    for (const [k, answer] of read.value.rows.entries()) {
      const listing = assortment.get(`${id}:${answer.sku}`)?.listing;
      if (!listing) bad.push({ line: k + 2, reason: `There is no listing ${answer.sku} here.` });
      else if (answer.refused === null) accepted++;
      else {
        refused++;
        const says = `${c.name} refused it. ${answer.refused}`;
        // Only what was put on sale by a file is refused by its answer; what waits or is over stays as it is.
        if (listing.state !== 'live' && listing.state !== 'paused') continue;
        const set = {
          state: 'refused',
          problem: { why: 'refused', said: answer.refused },
          published: null,
          last: { at, says },
        };
        rows.push({ table: 'listings', id: listing.id, set, says });
      }
    }
    const name = `${c.name} refused ${countOf(rows.length, 'listing')}`;
    await applyChange(db, { by: 'rule', name }, rows, nowOf(work));
    return { ok: true, accepted, refused, bad };
  });
}

export type TakenSales =
  | {
      readonly ok: true;
      readonly fresh: number;
      readonly known: number;
      readonly refused: readonly { readonly line: number; readonly reason: string }[];
    }
  | { readonly ok: false; readonly reason: string };

/** Takes in a file of sales. However often the same one is read, each order comes in once. */
export async function takeSalesFile(work: Work, id: string, text: string): Promise<TakenSales> {
  const c = await marketById(work.db, id);
  if (!c) return { ok: false, reason: 'This shop is not there any more.' };
  const read = readSalesFile(text, c.site.currency, work.clock());
  if (!read.ok) return read;
  const orders = await asKnown(work, id, read.value.rows);
  const fresh = orders.length ? await takeOrders(work, c, { orders, refused: [], next: null }) : 0;
  return { ok: true, fresh, known: orders.length - fresh, refused: read.value.refused };
}

/**
 * Orders of a file with what the file does not say: which parcels the shop was told of, what is sold is called. What is
 * archived is only looked at.
 */
async function asKnown(
  { db }: Pick<Work, 'db'>,
  id: string,
  orders: readonly MarketOrder[],
): Promise<MarketOrder[]> {
  const ids = orders.map((o) => `${id}:${o.number}`);
  const stored = await db.orders.bulkGet(ids);
  const known = new Map(stored.flatMap((o) => (o ? [[o.id, o] as const] : [])));
  const missing = ids.filter((one) => !known.has(one));
  for (const { order } of await readArchived(db, missing)) known.set(order.id, order);
  const skus = [...new Set(orders.flatMap((o) => o.lines.map((l) => l.sku)))];
  const listings = await db.listings.bulkGet(skus.map((sku) => `${id}:${sku}`));
  const full = await fullListings(
    db,
    listings.filter((l) => l !== undefined),
  );
  const titles = new Map(full.map((f) => [f.listing.sku, titleOf(f)]));
  return orders.map((order, k) => {
    const before = known.get(ids[k]!);
    const lines = order.lines.map((l) =>
      l.title === l.sku ? { ...l, title: titles.get(l.sku) ?? l.sku } : l,
    );
    if (!before) return { ...order, lines };
    const refunded = Math.max(before.refunded, order.refunded);
    return { ...order, lines, dispatched: before.dispatched, refunded };
  });
}

/**
 * Writes what a shop of files is to be told of its orders, and takes it as told: parcels, and what was cancelled here.
 * @param again the last file once more, where nothing new waits
 */
export async function dispatchFile(work: Work, id: string, again = false): Promise<WrittenFile | null> {
  const { db } = work;
  const c = await marketById(db, id);
  if (!c) return null;
  const note = `dispatch-file:${id}`;
  const waiting = await waitingFor(db, id, ['dispatch', 'cancel']);
  if (!waiting.length) return again ? (((await db.notes.get(note))?.value as WrittenFile) ?? null) : null;
  const rows: DispatchFileRow[] = [];
  for (const row of waiting) {
    const order = await orderById(db, row.order);
    const { number } = row.body;
    const meant = row.kind === 'dispatch' ? row.body.inside : (row.body.totals ?? []);
    const units = (order?.lines ?? []).flatMap((l) => {
      const n = unitsOf(meant, l.id);
      return n > 0 ? [{ sku: l.sku, units: n }] : [];
    });
    if (row.kind === 'dispatch')
      rows.push({
        order: number,
        status: 'shipped',
        carrier: row.body.carrier,
        tracking: row.body.tracking,
        shippedAt: row.body.shippedAt,
        units,
        reason: '',
      });
    else
      rows.push({
        order: number,
        status: 'cancelled',
        carrier: '',
        tracking: '',
        shippedAt: '',
        units,
        reason: row.body.reason,
      });
  }
  const file = {
    name: fileName('dispatch', id, work.clock()),
    text: writeDispatchFile(rows),
    rows: rows.length,
  };
  // Kept before anything is taken as told, so that a file that did not reach the seller can be written again.
  await db.notes.put({ id: note, value: file });
  for (const row of waiting) {
    if (row.kind === 'dispatch') await dispatched(work, c, row, null);
    else await close(work, row, 'done', `Written into ${file.name}.`);
  }
  return file;
}
