import { fieldKey } from '../../core/copy';
import {
  type ColumnFault,
  compareFeeds,
  type FeedDifference,
  type FeedHead,
  type FeedMarks,
  type FeedRecord,
  FeedRows,
  FILE_OF,
  faultInWords,
  formProblems,
  type Outgoing,
  reasonInWords,
  rowMark,
  together,
  writeFeed,
} from '../../core/feeds';
import type { Instant } from '../../core/units';
import type { FeedRow, MadeFeedRow } from '../../store';
import type { Assortment } from '../memory/assortment';
import { listingMembers } from '../memory/listing-fields';
import { follows } from '../quoting/offer';
import { type FeedTerms, feedTerms, recordOf } from './record';

/** A product with something amiss in a feed. */
export interface FeedFault {
  readonly id: string;
  /** A listing of it, to be looked at. */
  readonly listing: string;
  readonly title: string;
  /** It is left out. */
  readonly out: boolean;
  readonly says: string;
  readonly mend: string;
}

/** A feed as it was made. */
export interface MadeFeed {
  /** In pieces of text, UTF-8 once they are written. */
  readonly pieces: readonly string[];
  readonly rows: number;
  readonly leftOut: number;
  readonly amiss: number;
  /** The first of what is amiss, those left out first. */
  readonly faults: readonly FeedFault[];
  /** How often each is said, without the values: `barcode has no value`. */
  readonly reasons: readonly { readonly says: string; readonly out: boolean; readonly count: number }[];
  readonly marks: FeedMarks;
  readonly difference: FeedDifference;
  /** Fields that records of it have. */
  readonly fields: readonly string[];
  /** All that is known of the first products. */
  readonly samples: readonly FeedRecord[];
}

export type Making =
  | { readonly ok: true; readonly made: MadeFeed }
  | { readonly ok: false; readonly reason: string };

const MOST_FAULTS = 200;
const SAMPLES = 20;

/** The places of the listings that a feed tells of, in the order of their SKUs. */
function placesOf(assortment: Assortment, { feed }: FeedTerms, now: Instant): number[] | string {
  const group = feed.group === null ? null : assortment.shop.groups?.find((g) => g.id === feed.group);
  if (group === undefined) return 'Its group is not there any more: choose another.';
  const members = group && listingMembers(assortment, now);
  const problem = group && members?.named.get(fieldKey(group.name));
  if (problem) return problem;
  const places: number[] = [];
  for (const [place, { listing }] of assortment.all()) {
    if (listing.marketplace !== feed.market || !follows(listing)) continue;
    if (!feed.form.soldOut && (listing.state !== 'live' || !listing.published?.quantity)) continue;
    if (group && !members!.has(place, group.name)) continue;
    places.push(place);
  }
  const sku = (place: number) => assortment.rows[place]!.listing.sku;
  return places.sort((a, b) => (sku(a) < sku(b) ? -1 : 1));
}

/**
 * Makes a feed of what is on sale now. Pure but for what is remembered of texts; cost: 20,000 listings in a second or two.
 * @param last what was made of it last; null for nothing
 */
export function makeFeed(
  assortment: Assortment,
  feed: FeedRow,
  last: Pick<MadeFeedRow, 'ids' | 'marks'> | null,
  now: Instant,
): Making {
  const terms = feedTerms(feed, assortment.shop);
  if (!terms) return { ok: false, reason: 'Its marketplace is not connected any more.' };
  const [wrong] = formProblems(feed.form);
  if (wrong) return { ok: false, reason: wrong };
  const places = placesOf(assortment, terms, now);
  if (typeof places === 'string') return { ok: false, reason: places };
  const { form } = feed;
  const rows = new FeedRows(form.format === 'template' ? [] : form.columns);
  const required = new Set(form.columns.filter((c) => c.required).map((c) => c.name));
  const outgoing: Outgoing[] = [];
  const ids: string[] = [];
  const marks: number[] = [];
  const faults: FeedFault[] = [];
  const reasons = new Map<string, { out: boolean; count: number }>();
  const fields = new Set<string>();
  /** Without it the product is left out: a text that is too long is cut and goes. */
  const isGrave = ({ column, fault }: ColumnFault) =>
    required.has(column) && !(fault.is === 'long' && fault.cut);
  let [leftOut, amiss] = [0, 0];
  // All that there is, of the first products alone: it is looked up in.
  const whole = { ...terms, asked: null };
  const sample = [...recordsOf(assortment, whole, places.slice(0, SAMPLES))].map(([, record]) => record);
  for (const record of sample) for (const field of Object.keys(record)) fields.add(field);
  for (const [place, record] of recordsOf(assortment, terms, places)) {
    const row = rows.row(record);
    if (row.faults.length) {
      if (row.out) leftOut++;
      else amiss++;
      for (const fault of row.faults) countReason(reasons, fault, isGrave(fault));
      if (faults.length < MOST_FAULTS)
        faults.push(faultOf(assortment, place, record, row.faults, required, row.out));
    }
    if (row.out) continue;
    outgoing.push({ values: row.values, record });
    ids.push(row.id);
    marks.push(rowMark(form.format === 'template' ? Object.values(record) : row.values));
  }
  const head: FeedHead = {
    name: feed.name,
    of: terms.market.name,
    made: new Date(now).toISOString(),
    link: outgoing.find(({ record }) => record.page)?.record.page ?? '',
    currency: terms.market.site.currency,
    rows: outgoing.length,
  };
  const own = { ids, marks: Int32Array.from(marks) };
  return {
    ok: true,
    made: {
      pieces: [...writeFeed(form, head, outgoing)],
      ...{ rows: outgoing.length, leftOut, amiss },
      faults: faults.sort((a, b) => Number(b.out) - Number(a.out)),
      reasons: [...reasons]
        .map(([says, of]) => ({ says, ...of }))
        .sort((a, b) => Number(b.out) - Number(a.out) || b.count - a.count),
      marks: own,
      difference: compareFeeds(last, own),
      fields: [...fields].sort(),
      samples: sample,
    },
  };
}

/** What is known of each listing, or of each product where its variants stand together. */
function* recordsOf(
  assortment: Assortment,
  terms: FeedTerms,
  places: readonly number[],
): Generator<readonly [place: number, record: FeedRecord]> {
  const { rows } = assortment;
  if (terms.feed.form.variants === 'each') {
    for (const place of places) yield [place, recordOf(rows[place]!, terms)];
    return;
  }
  const products = new Map<string, number[]>();
  for (const place of places) {
    const { id } = rows[place]!.product;
    const known = products.get(id);
    if (known) known.push(place);
    else products.set(id, [place]);
  }
  for (const own of products.values()) {
    const options = new Set(own.flatMap((place) => Object.keys(rows[place]!.variant.options).map(fieldKey)));
    yield [
      own[0]!,
      together(
        own.map((place) => recordOf(rows[place]!, terms)),
        [...options],
      ),
    ];
  }
}

function countReason(
  reasons: Map<string, { out: boolean; count: number }>,
  fault: ColumnFault,
  out: boolean,
): void {
  const says = reasonInWords(fault, out);
  const known = reasons.get(says);
  if (known) known.count++;
  else reasons.set(says, { out, count: 1 });
}

function faultOf(
  assortment: Assortment,
  place: number,
  record: FeedRecord,
  faults: readonly ColumnFault[],
  required: ReadonlySet<string>,
  out: boolean,
): FeedFault {
  const grave = faults.filter((f) => required.has(f.column));
  const told = out && grave.length ? grave : faults;
  return {
    id: record.id ?? '',
    listing: assortment.rows[place]!.listing.id,
    title: record.title ?? '',
    out,
    says: told.map((f) => faultInWords(f, required.has(f.column))).join(' '),
    mend: [...new Set(told.map((f) => f.mend).filter(Boolean))].join(' '),
  };
}

/** A feed as a file. */
export const fileOfFeed = ({ form }: Pick<FeedRow, 'form'>, { pieces }: Pick<MadeFeed, 'pieces'>): Blob =>
  new Blob([...pieces], { type: FILE_OF[form.format].type });

/** The name of a feed's file: plain letters of its own name, and the ending of its format. */
export function fileName({ name, form }: Pick<FeedRow, 'name' | 'form'>): string {
  const plain = fieldKey(name)
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '');
  return `${plain || 'feed'}.${FILE_OF[form.format].ending}`;
}
