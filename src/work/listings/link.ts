import type { Catalogue } from '../../core/catalogue';
import { linkAll, type Proposal, type Wanted } from '../../core/linking';
import { countOf } from '../../core/units';
import {
  allConnections,
  applyChange,
  type ItemRow,
  itemKey,
  type LinkProposal,
  type Listing,
  type RowChange,
  type Source,
  type SourceRole,
  type SupplierConnection,
  type Variant,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import { listingRowId } from '../outbox/row';
import { withdraw } from '../outbox/waiting';
import { follows } from '../quoting/offer';
import { agreedOf } from '../quoting/own-price';
import { reprice } from './reprice';

/**
 * Finds what each unlinked listing may sell, and keeps it to be confirmed.
 * Cost: one pass over all catalogues, then about a millisecond a listing without SKU or barcode.
 */
export async function findLinks(
  work: Work,
  catalogues: readonly { readonly supplier: SupplierConnection; readonly catalogue: Catalogue }[],
): Promise<{ looked: number; sure: number; took: number }> {
  const { db } = work;
  const markets = await allConnections(db);
  const full = [...(await caughtUp(work)).all()].flatMap(([, f]) => (f.variant.sources.length ? [] : [f]));
  const currency = new Map(markets.map((m) => [m.id, m.role === 'marketplace' ? m.site.currency : '']));
  const wanted = full.map(
    ({ listing, product, variant }): Wanted => ({
      id: listing.id,
      sku: listing.sku,
      group: product.group ? product.id : null,
      gtin: variant.gtin,
      title: product.title ?? '',
      brand: product.taken.brand,
      options: variant.options,
      price: listing.published?.price ?? 0,
      currency: currency.get(listing.marketplace) ?? '',
    }),
  );
  const begun = performance.now();
  const proposals = linkAll(
    wanted,
    catalogues.map((c) => ({
      supplier: c.supplier.id,
      currency: c.supplier.currency,
      catalogue: c.catalogue,
    })),
  );
  const took = performance.now() - begun;
  const at = work.clock();
  await db.transaction('rw', [db.proposals], async () => {
    await db.proposals.clear();
    await db.proposals.bulkPut(proposals.map((p: Proposal): LinkProposal => ({ ...p, id: p.listing, at })));
  });
  return { looked: proposals.length, sure: proposals.filter((p) => p.sure).length, took };
}

/** A link to be made: the variant of which listing is bought as which item. An item of '' takes the link away. */
export interface Link {
  readonly listing: string;
  readonly supplier: string;
  readonly item: string;
  /** How many of the item make one of ours; missing where that stays as it is. */
  readonly pack?: number;
}

/** The most of a supplier's units that one of ours may be made of. */
export const MOST_IN_PACK = 1_000;

const isItem = (source: Source, supplier: string, item: string) =>
  source.supplier === supplier && source.item === item;

/** Sources with another first one. A backup that becomes the first is no backup any more. */
const preferring = (variant: Variant, { supplier, item, pack }: Link): Source[] => [
  ...(item
    ? [
        {
          supplier,
          item,
          pack: pack ?? variant.sources.find((s) => isItem(s, supplier, item))?.pack ?? 1,
          role: 'preferred',
        } as const,
      ]
    : []),
  ...(item ? variant.sources.filter((s) => s.role !== 'preferred' && !isItem(s, supplier, item)) : []),
];

/**
 * Links the variants of listings to supplier items as one change. Cost and stock follow from then on, for every
 * marketplace; prices stay what they are, as own prices. Orders that wait are checked anew by the caller.
 * @param factsOf what is known of an item now; null where the supplier has none of it
 */
export async function linkListings(
  work: Work,
  links: readonly Link[],
  factsOf: (link: Link) => ItemRow | null,
  name?: string,
): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const listings = (await db.listings.bulkGet(links.map((l) => l.listing))).filter((l) => l !== undefined);
    const byId = new Map(listings.map((l) => [l.id, l]));
    const variants = new Map(
      (await db.variants.bulkGet(listings.map((l) => l.variant))).flatMap((v) =>
        v ? [[v.id, v] as const] : [],
      ),
    );
    const rows: RowChange[] = [];
    const items = new Map<string, ItemRow>();
    let n = 0;
    for (const link of links) {
      const variant = variants.get(byId.get(link.listing)?.variant ?? '');
      const facts = link.item ? factsOf(link) : null;
      if (!variant || (link.item && !facts)) continue;
      n++;
      if (facts) items.set(facts.id, facts);
      const says = link.item
        ? `Linked to ${link.item} of ${link.supplier}${(link.pack ?? 1) > 1 ? `, ${link.pack} of them for one` : ''}.`
        : 'Unlinked: its orders are held.';
      const set = { sources: preferring(variant, link) };
      rows.push({ table: 'variants', id: variant.id, set, says });
      rows.push({ table: 'listings', id: link.listing, set: { problem: null }, says });
    }
    await db.items.bulkPut([...items.values()]);
    const called =
      name ?? (n === 1 ? `Link ${byId.get(links[0]!.listing)?.sku ?? ''}` : `Link ${countOf(n, 'listing')}`);
    await applyChange(db, { by: 'person', name: called }, rows, nowOf(work));
    await agreeToOwnPrices(
      work,
      listings.map((l) => l.id),
    );
    await quoteAnew(work, [...items.keys()], listings);
    return n;
  });
}

/** Offers of linked listings follow the items at once, and so do all other listings of the same items. */
async function quoteAnew(work: Work, items: readonly string[], linked: readonly Listing[]): Promise<void> {
  const assortment = await caughtUp(work);
  const own = linked.flatMap((l) => assortment.get(l.id) ?? []);
  const all = new Map([...own, ...assortment.ofItems(new Set(items))].map((f) => [f.listing.id, f]));
  const moved = await reprice(work, [...all.values()], assortment.shop, () => ({ by: 'link' }), 'person');
  const head = { by: 'rule', name: 'Quantities follow what was linked', quiet: true } as const;
  await applyChange(work.db, head, moved.rows, nowOf(work));
}

/** A listing with an own price keeps it when it is linked: guards apply from its cost of now on. */
async function agreeToOwnPrices(work: Work, ids: readonly string[]): Promise<void> {
  const assortment = await caughtUp(work);
  const rows = ids.flatMap((id): RowChange[] => {
    const full = assortment.get(id);
    if (!full || full.listing.ownPrice === null || full.listing.ownAgreed) return [];
    return [{ table: 'listings', id, set: { ownAgreed: agreedOf(full, assortment.shop) } }];
  });
  const head = { by: 'rule', name: 'Own prices stay as they were before linking', quiet: true } as const;
  await applyChange(work.db, head, rows, nowOf(work));
}

/** Sources that a variant has besides the preferred one, at most. */
export const MOST_BACKUPS = 4;

/**
 * Names a further supplier's item for a variant, behind those that it has: it is bought from where they have none, or by the
 * sourcing rule. @param backup null for none any more @param facts what is known of it @param on false to take this one away
 */
export async function setBackup(
  work: Work,
  variant: string,
  backup: {
    readonly supplier: string;
    readonly item: string;
    readonly pack?: number;
    /** Missing for a backup: the same goods elsewhere. */
    readonly role?: SourceRole;
  } | null,
  facts: ItemRow | null = null,
  on = true,
): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const row = await db.variants.get(variant);
    if (!row) return;
    const role = backup?.role === 'substitute' ? 'substitute' : 'backup';
    const word = role === 'backup' ? 'Backup' : 'Substitute';
    const says = !backup
      ? 'No backup any more.'
      : on
        ? `${word}: ${backup.item} of ${backup.supplier}.`
        : `${backup.item} of ${backup.supplier} is no ${role} any more.`;
    if (facts && !(await db.items.get(facts.id))) await db.items.put(facts);
    const kept = row.sources.filter(
      (s) => s.role === 'preferred' || (backup && (s.supplier !== backup.supplier || s.item !== backup.item)),
    );
    const sources: Source[] =
      backup && on && sparesOf({ sources: kept }).length < MOST_BACKUPS
        ? [...kept, { ...backup, pack: backup.pack ?? 1, role }]
        : kept;
    await applyChange(
      db,
      { by: 'person', name: `${word} of ${row.sku}` },
      [{ table: 'variants', id: variant, set: { sources }, says }],
      nowOf(work),
    );
    const assortment = await caughtUp(work);
    const keys = sources.map((s) => itemKey(s.supplier, s.item));
    await quoteAnew(
      work,
      keys,
      assortment.ofItems(new Set(keys)).map((f) => f.listing),
    );
  });
}

/** The backups among a variant's sources. */
export const backupsOf = ({ sources }: Pick<Variant, 'sources'>): readonly Source[] =>
  sources.filter((s) => s.role === 'backup');

/** All that a variant can be bought as besides the preferred source: the same goods elsewhere, and others in their place. */
export const sparesOf = ({ sources }: Pick<Variant, 'sources'>): readonly Source[] =>
  sources.filter((s) => s.role !== 'preferred');

/** The supplier item a variant is bought as, by key; null where none is linked. */
export const sourceKeyOf = (variant: Variant): string | null => {
  const [source] = variant.sources;
  return source ? itemKey(source.supplier, source.item) : null;
};

/**
 * Takes listings that are on sale or ended out of Sampan as one change: they go on as they are, and do not come in again
 * unless asked for.
 */
export async function removeListings(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const listings = (await db.listings.bulkGet([...ids])).filter(
      (l) => l !== undefined && (follows(l) || l.state === 'ended'),
    ) as Listing[];
    const at = work.clock();
    const rows: RowChange[] = listings.flatMap((l) => [
      { table: 'listings', remove: l.id } as const,
      { table: 'removed', add: { id: l.id, at } as { id: string } } as const,
    ]);
    rows.push(...orphansOf(await caughtUp(work), listings));
    await withdraw(
      db,
      listings.flatMap((l) => [listingRowId('publish', l.id), listingRowId('offer', l.id)]),
    );
    await db.proposals.bulkDelete(listings.map((l) => l.id));
    await applyChange(
      db,
      { by: 'person', name: `Take ${countOf(listings.length, 'listing')} out of Sampan` },
      rows,
      nowOf(work),
    );
    return listings.length;
  });
}

/** Variants and products that nothing is listed of once some listings go. */
export function orphansOf(assortment: Assortment, leaving: readonly Listing[]): RowChange[] {
  const gone = new Set(leaving.map((l) => l.id));
  const products = [...new Set(leaving.map((l) => l.product))];
  const left = assortment
    .rowsAt(assortment.ofProducts(products))
    .flatMap(({ listing }) => (gone.has(listing.id) ? [] : [listing]));
  const keptVariants = new Set(left.map((l) => l.variant));
  const keptProducts = new Set(left.map((l) => l.product));
  return [
    ...[...new Set(leaving.map((l) => l.variant))]
      .filter((v) => !keptVariants.has(v))
      .map((v) => ({ table: 'variants', remove: v }) as const),
    ...products.filter((p) => !keptProducts.has(p)).map((p) => ({ table: 'products', remove: p }) as const),
  ];
}
