import type { Transaction } from 'dexie';
import { type PictureRules, type SiteAttribute, type SiteLimits, USUAL_LIMITS } from '../../core/checks';
import { WHOLE } from '../../core/money';
import { type Ending, type ListingProblem, STARTING_PLAN, type Target } from '../../core/pricing';
import { type SoldByDay, STARTING_STOCK_RULE, type StockRule, withSale } from '../../core/stock';
import { bucketOf, intoBuckets } from '../buckets';
import type { ConnectionRow } from '../connection-rows';
import type { StoredFile } from '../files';
import { type AssetRow, EVERYWHERE, type PlanRow } from '../goods';
import type { Order, UnclaimedRow } from '../orders';
import type { OfferState, OutboxRow } from '../outbox';
import type { Change, Edit, Job } from '../rows';
import { type Named, readLines, type WithLines } from './condition-lines';
import { apartByOwner } from './connection-owners';
import { type OrderWithTexts, statedByLine, toldByUnits, withUnits } from './order-units';
import { peopleApart } from './people-apart';

/** How rows of one version of the schema become rows of the next. */
export interface Migration {
  readonly version: number;
  /** Tables that are new or have other indexes, in Dexie's words; null for one that is gone. */
  readonly stores?: Readonly<Record<string, string | null>>;
  /** Runs within the transaction of the upgrade, over rows as the version before has them. */
  readonly change?: (tx: Transaction) => PromiseLike<unknown>;
}

const SIX_HOURS = 6 * 3_600_000;

interface MutableSite {
  site?: OldSite;
  siteNow?: OldSite | null;
}

interface OldSite {
  limits?: SiteLimits;
  asksMaker?: boolean;
  attributes?: SiteAttribute[];
  pictures?: Partial<PictureRules>;
}

const OF_ORDER = 'order:';
const isOfOrder = ({ subject }: { subject?: string }) => subject?.startsWith(OF_ORDER) === true;

/** What a site that said nothing of size and shape takes. */
const ANY_PICTURES = { shortest: 0, square: false };

type Widened = PlanRow & { target?: Target; flat?: number; ending?: Ending | null; neverOverMsrp?: boolean };
type OldPlan = { -readonly [K in keyof Widened]: Widened[K] };

/** A plan of one target and one ending as one of a single band each. */
function widenPlan(plan: OldPlan): void {
  if (plan.bands) return;
  const { target, flat = 0, ending = null, neverOverMsrp = true } = plan;
  const { order, on, marketplaces, filter } = plan;
  Object.assign(plan, STARTING_PLAN, EVERYWHERE, {
    order,
    on,
    marketplaces,
    filter,
    neverUnderMap: plan.neverUnderMap,
    smallestProfit: plan.smallestProfit,
    contradiction: plan.contradiction,
    bands: [{ upTo: null, target: target ?? STARTING_PLAN.bands[0]!.target, flat }],
    endings: [{ upTo: null, ending }],
    mostOfMsrp: neverOverMsrp ? WHOLE : null,
  });
  for (const name of ['target', 'flat', 'ending', 'neverOverMsrp'] as const) delete plan[name];
}

/** What a site that asked who made the goods asked for. */
const MAKER: SiteAttribute = {
  id: 'maker',
  name: 'Made by',
  kind: 'choice',
  choices: [
    { id: 'us', name: 'We did' },
    { id: 'partner', name: 'A partner, to our design' },
    { id: 'another', name: 'Another company' },
  ],
  unit: '',
  categories: null,
  needed: true,
  usual: '',
};

/** A listing, or a part of one, of which the problem may be a sentence. */
type WithProblem = { problem?: unknown };

function statedProblem(row: WithProblem): void {
  if (typeof row.problem === 'string')
    row.problem = { why: 'refused', said: row.problem } satisfies ListingProblem;
}

/** Notes at each listing the last of the orders that stand in rows. */
async function noteSales(tx: Transaction): Promise<void> {
  const sold = new Map<string, number>();
  await tx.table<Order>('orders').each(({ marketplace, paidAt, lines }) => {
    for (const { sku } of lines) {
      const id = `${marketplace}:${sku}`;
      sold.set(id, Math.max(sold.get(id) ?? 0, paidAt));
    }
  });
  await tx
    .table<{ id: string; soldAt?: number }>('listings')
    .toCollection()
    .modify((listing) => {
      const at = sold.get(listing.id);
      if (at !== undefined) listing.soldAt = at;
    });
}

/** Notes at each listing the units that it sold lately, of the orders that stand in rows. */
async function soldLately(tx: Transaction): Promise<void> {
  const sold = new Map<string, SoldByDay>();
  await tx.table<Order>('orders').each(({ marketplace, paidAt, lines }) => {
    for (const { sku, quantity } of lines) {
      const id = `${marketplace}:${sku}`;
      sold.set(id, withSale(sold.get(id) ?? [], paidAt, quantity));
    }
  });
  await tx
    .table<{ id: string; soldOn?: SoldByDay }>('listings')
    .toCollection()
    .modify((listing) => {
      const own = sold.get(listing.id);
      if (own) listing.soldOn = own;
    });
}

/** Changes the rows of before in all that can be taken back. */
async function inTakenBack(
  tx: Transaction,
  of: (table: string) => boolean,
  change: (row: Record<string, unknown>) => void,
): Promise<void> {
  const undoable = await tx
    .table<Change, string>('changes')
    .filter((c) => c.undoable && c.undoneBy === null)
    .primaryKeys();
  await tx
    .table<Edit>('edits')
    .where('change')
    .anyOf(undoable)
    .modify(({ table, before, after, rows }) => {
      if (!of(table)) return;
      for (const row of [before, after, ...(rows ?? []).flatMap((r) => [r.before, r.after])])
        if (row) change(row as Record<string, unknown>);
    });
}

/**
 * Every version of the schema that was ever released, in order, kept for good. A browser's database is carried over by
 * them, and a dump of an earlier version.
 */
export const MIGRATIONS: readonly Migration[] = [
  {
    version: 1,
    stores: {
      connections: 'id',
      jobs: 'id, subject',
      rates: 'id',
      pieces: '[supplier+generation+seq]',
      cold: '[supplier+generation+seq]',
      stages: 'supplier',
      pages: '[supplier+from]',
      readings: 'id, [supplier+at]',
      refused: '[reading+seq], supplier',
      doubts: 'supplier',
      history: '[supplier+bucket+day]',
      files: 'id, supplier',
      bytes: 'id',
      matches: 'id, supplier',
      searches: 'id',
      proposals: 'id',
      removed: 'id',
      products: 'id',
      variants: 'id, product, sku, linked, *items',
      items: 'id, supplier',
      listings: 'id, product, variant, state, [marketplace+product]',
      documents: 'id',
      assets: 'id',
      plans: 'id',
      orders: 'id, paidAt, open',
      ledger: 'id',
      unclaimed: 'id, order',
      outbox: 'id, [state+nextAt], [connection+state+kind+nextAt], subject',
      changes: 'id, at',
      edits: 'id, change, [subject+at]',
      settings: 'id',
      notes: 'id',
    },
  },
  {
    version: 2,
    stores: {
      journal: '++seq',
      archive: 'id, *ids',
      archivedRows: 'id',
      // Found through the shop in memory: each index costs as much as the row.
      variants: 'id',
      outbox: 'id, [connection+state+kind+nextAt], subject',
      items: 'id',
      listings: 'id',
    },
    change: (tx) =>
      tx
        .table<MutableSite>('connections')
        .toCollection()
        .modify((c) => {
          for (const site of [c.site, c.siteNow]) if (site) site.limits ??= USUAL_LIMITS;
        }),
  },
  // Same tables; products, variants, items and listings in buckets.
  {
    version: 3,
    change: (tx) => intoBuckets(tx.idbtrans, (name) => tx.table(name)),
  },
  // Marketplaces are looked at for what was edited there: a job more for each with a service.
  {
    version: 4,
    stores: { templates: 'id' },
    change: async (tx) => {
      const known = await tx.table<ConnectionRow>('connections').toArray();
      const markets = known.filter((c) => c.role === 'marketplace' && c.lanes.listings === 'service');
      await tx.table<Job>('jobs').bulkPut(
        markets.map(({ id }) => ({
          id: `${id}:drift`,
          subject: id,
          task: 'drift',
          every: SIX_HOURS,
          nextAt: 0,
          lastAt: null,
          lastSays: null,
          lastOk: true,
          running: null,
          stop: false,
          stopped: false,
          progress: null,
        })),
      );
    },
  },
  // Who made the goods is one of the attributes that a site may ask for.
  {
    version: 5,
    change: (tx) =>
      tx
        .table<MutableSite>('connections')
        .toCollection()
        .modify((c) => {
          for (const site of [c.site, c.siteNow]) {
            if (!site) continue;
            site.attributes ??= site.asksMaker ? [MAKER] : [];
            if (site.pictures) site.pictures = { ...ANY_PICTURES, ...site.pictures };
          }
        }),
  },
  // Plans have bands of cost and of endings, more guards and a calendar; stock is shown by more than two numbers.
  {
    version: 6,
    change: async (tx) => {
      await tx.table<OldPlan>('plans').toCollection().modify(widenPlan);
      await tx
        .table<{ stock: Partial<StockRule> }>('settings')
        .toCollection()
        .modify((settings) => {
          settings.stock = { ...STARTING_STOCK_RULE, ...settings.stock };
        });
    },
  },
  // An offer can end a listing too.
  {
    version: 7,
    change: (tx) =>
      tx
        .table<{ kind: string; body: { live?: boolean; state?: OfferState } }>('outbox')
        .toCollection()
        .modify(({ kind, body }) => {
          if (kind !== 'offer') return;
          body.state ??= body.live ? 'live' : 'paused';
          delete body.live;
        }),
  },
  // Rows are found by their order; those of listings by their id alone, and only until they are answered.
  {
    version: 8,
    stores: { outbox: 'id, [connection+state+kind+nextAt], order' },
    change: async (tx) => {
      // Single items of a supplier can have prices by quantity.
      await tx
        .table<{ costs?: { itemPrices?: object } | null }>('connections')
        .toCollection()
        .modify(({ costs }) => {
          if (costs) costs.itemPrices ??= {};
        });
      const rows = tx.table<{
        id: string;
        kind: string;
        subject?: string;
        order?: string | null;
        state: string;
      }>('outbox');
      await rows.filter((r) => r.state === 'done' && !isOfOrder(r)).delete();
      await rows.toCollection().modify((row) => {
        row.order = isOfOrder(row) ? row.subject!.slice(OF_ORDER.length) : null;
        delete row.subject;
      });
      // Ids of what is told of a listing name its bucket.
      const ofListings = await rows.filter((r) => r.order === null).toArray();
      await rows.bulkDelete(ofListings.map((r) => r.id));
      await rows.bulkPut(
        ofListings.map((r) => {
          const listing = r.id.slice(r.id.indexOf(':') + 1);
          return { ...r, id: `${r.kind}:${bucketOf(listing)}:${listing}` };
        }),
      );
    },
  },
  // What inputs of prices were before is on record from now on.
  {
    version: 9,
    stores: { earlier: '++seq, at' },
    change: (tx) => tx.table('notes').put({ id: 'earlier-begins', value: Date.now() }),
  },
  // Each unit of an order has its place; what is archived is read so when it is unpacked. What cannot be read is kept.
  {
    version: 10,
    stores: { unread: 'id' },
    change: async (tx) => {
      const orders = tx.table<OrderWithTexts, string>('orders');
      await orders.bulkPut((await orders.toArray()).map(withUnits));
      const unclaimed = tx.table<UnclaimedRow, string>('unclaimed');
      await unclaimed.bulkPut((await unclaimed.toArray()).map(statedByLine));
      const outbox = tx.table<OutboxRow, string>('outbox');
      const rows = await outbox.filter((r) => r.order !== null).toArray();
      const known = new Map((await orders.toArray()).map((o) => [o.id, o]));
      await outbox.bulkPut(rows.map((r) => toldByUnits(r, known.get(r.order!))));
    },
  },
  // What was one row for each connection has four owners now.
  {
    version: 11,
    stores: { credentials: 'id', stated: 'id', health: 'id' },
    change: apartByOwner,
  },
  // Why a listing is held or was refused is a fact. Words of before are told as they are until it is looked at again.
  {
    version: 12,
    change: async (tx) => {
      await tx.table<WithProblem>('listings').toCollection().modify(statedProblem);
      await inTakenBack(tx, () => true, statedProblem);
    },
  },
  // What goods are found by is a condition: so far it was a search line. Listings know when they were sold last.
  {
    version: 13,
    change: async (tx) => {
      const known = await tx.table<Named>('connections').toArray();
      const read = (row: WithLines) => readLines(row, known);
      for (const table of ['plans', 'connections', 'searches'])
        await tx.table<WithLines>(table).toCollection().modify(read);
      await noteSales(tx);
      await inTakenBack(tx, (table) => ['plans', 'connections', 'searches'].includes(table), read);
    },
  },
  // What is a buyer's is a row of its own, to which everything else refers.
  { version: 14, stores: { buyers: 'id', archivedBuyers: 'id' }, change: peopleApart },
  // The bytes of files lie apart from what is known of them.
  {
    version: 15,
    stores: { assetBytes: 'id' },
    change: async (tx) => {
      const assets = tx.table<AssetRow & { file?: StoredFile }, string>('assets');
      // One at a time: together they may be larger than memory.
      for (const id of await assets.toCollection().primaryKeys()) {
        const { file, ...row } = (await assets.get(id))!;
        if (file) await tx.table('assetBytes').put({ id, file });
        await assets.put({ ...row, kind: 'picture' });
      }
    },
  },
  // Designs, and what they are printed on.
  { version: 16, stores: { blanks: 'id, supplier', designs: 'id', sheets: 'id', prints: 'id' } },
  // Account statements, and costs that belong to no order.
  {
    version: 17,
    stores: { statements: 'id, from', costs: 'id' },
    change: async (tx) => {
      const jobs = tx.table<Job, string>('jobs');
      // Whoever is asked for orders or shipments is asked for statements, once a day.
      for (const job of await jobs.filter((j) => j.task === 'orders' || j.task === 'shipments').toArray())
        await jobs.put({
          ...{ id: `${job.subject}:statements`, subject: job.subject, task: 'statements' },
          ...{ every: 24 * 3_600_000, nextAt: job.nextAt, lastAt: null, lastSays: null, lastOk: true },
          ...{ running: null, stop: false, stopped: false, progress: null },
        });
    },
  },
  // Groups of products, their feeds, and how much of each listing was sold lately.
  { version: 18, stores: { groups: 'id', feeds: 'id', madeFeeds: 'id' }, change: soldLately },
];
