import type { Item } from '../core/catalogue';
import type { Ppm } from '../core/money';
import type { Cause, Demand, ListingProblem, OfferMoves, PricePlan } from '../core/pricing';
import { type Condition, EVERYTHING } from '../core/query';
import type { SoldByDay, StockRule } from '../core/stock';
import type { Instant, Size } from '../core/units';
import type { StoredFile } from './files';
import type { OfferState } from './outbox';

/** What a supplier says of a product. */
export interface SupplierText {
  readonly title: string;
  /** Cleaned HTML. */
  readonly description: string;
  readonly category: string;
  readonly brand: string;
  readonly pictures: readonly string[];
  readonly at: Instant;
  /** Hash of description and pictures as the supplier gave them, to see without reading them whether they changed. */
  readonly mark?: number;
}

/** What we sell, tied to no marketplace: the supplier's text as it was taken, our own beside it. */
export interface Product {
  readonly id: string;
  /** Whose text was taken; '' for what came in from a shop. */
  readonly supplier: string;
  /** Shared by its variants on marketplaces; null where there is one alone. */
  readonly group: string | null;
  readonly taken: SupplierText;
  /** The supplier's text as it is now, where it changed since; null while it is as it was taken. */
  readonly theirs: SupplierText | null;
  /** Our own text; null where the supplier's is kept. */
  readonly title: string | null;
  readonly description: string | null;
  readonly brand: string | null;
  /** Ids of our own pictures, in order; null where the supplier's are kept. */
  readonly pictures: readonly string[] | null;
  /** What pictures show, in words, by picture; missing where none is described. */
  readonly alts?: Readonly<Record<string, string>>;
  /** Of pictures that were made of a print: the scene and the colour of the blank, by picture. Missing where none was. */
  readonly shots?: Readonly<Record<string, { readonly scene: string; readonly colour: string }>>;
  /** Fields of our own by name, for texts made from them. */
  readonly keywords: Readonly<Record<string, string>>;
}

/** The role of a source: the first choice, one for when that fails, or one with other goods in its place. */
export type SourceRole = 'preferred' | 'backup' | 'substitute';

/** A supplier item that a variant can be bought as. */
export interface Source {
  readonly supplier: string;
  readonly item: string;
  /** How many of the supplier's units make one of ours. */
  readonly pack: number;
  readonly role: SourceRole;
  /** What is printed on it to order; missing for goods that are bought as they are. */
  readonly made?: MadeToOrder | null;
}

/** How a blank becomes the goods that are sold. */
export interface MadeToOrder {
  /** A {@link PrintRow}. */
  readonly print: string;
  /** What further printed areas cost besides the item, minor units of the supplier. */
  readonly extra: number;
  /** It has room for the buyer's words; missing where it has none. */
  readonly personal?: true;
}

/** One version of a product: a colour, a size. */
export interface Variant {
  readonly id: string;
  readonly product: string;
  /** Our own SKU. */
  readonly sku: string;
  readonly options: Item['options'];
  readonly gtin: string | null;
  /** Our own weight and size; null where the supplier's holds. */
  readonly grams: number | null;
  readonly size: Size | null;
  /** Units of the supplier's kept back for other use; missing for none. */
  readonly keptBack?: number | null;
  /** In order: the first is bought. Empty where none is linked. */
  readonly sources: readonly Source[];
}

export { itemKey } from '../core/sourcing';

/** When each fact of an item was last seen to change. */
export interface FactTimes {
  readonly cost: Instant;
  readonly stock: Instant;
  /** MAP and MSRP. */
  readonly guards: Instant;
  readonly weight: Instant;
}

/** A cost that waits for a person. Minor units of the supplier. */
export interface CostLeap {
  readonly cost: number;
  readonly at: Instant;
}

/** The facts about a supplier item that some variant is bought as; once for each item. Amounts in its currency. */
export interface ItemRow {
  /** {@link itemKey} */
  readonly id: string;
  readonly supplier: string;
  readonly item: string;
  readonly currency: string;
  readonly cost: number;
  readonly stock: number;
  readonly map: number | null;
  readonly msrp: number | null;
  /** Null where it is not known. */
  readonly grams: number | null;
  /** No longer offered. */
  readonly gone: boolean;
  /**
   * What it costs by now, where that is so far from `cost` that a person is asked first; missing where nothing waits. What
   * is bought is paid for at this one.
   */
  readonly leap?: CostLeap | null;
  readonly times: FactTimes;
}

/** `draft`: told to its marketplace, which keeps it as a draft; it waits on the Bench to be put on sale. */
export type ListingState = 'bench' | 'draft' | 'publishing' | 'refused' | 'live' | 'paused' | 'ended';

/** What a marketplace was last told and said yes to. */
export interface Published {
  readonly price: number;
  readonly quantity: number;
  /** Missing where it was told before this was noted, or not by Sampan. */
  readonly state?: OfferState;
  readonly at: Instant;
  /** Hash of the document as it was told; null where it was not told by Sampan. */
  readonly mark: number | null;
}

/** Fields of a listing that somebody may edit on the marketplace itself. */
export const DRIFT_FIELDS = ['title', 'description', 'category', 'price', 'state'] as const;
export type DriftField = (typeof DRIFT_FIELDS)[number];

/** The fields that somebody edited on the marketplace itself. */
export interface Drift {
  readonly at: Instant;
  /** As it stands there; amounts in minor units, as text. */
  readonly theirs: Readonly<Partial<Record<DriftField, string>>>;
}

/** A step of a price that is larger than its plan lets it go by itself. */
export interface HeldStep {
  readonly from: number;
  readonly to: number;
  readonly at: Instant;
  /** A text where an earlier version of Sampan wrote words. */
  readonly because: Cause | string;
}

/** A variant on one marketplace site, with what that site has of its own. */
export interface Listing {
  /** Marketplace and SKU there. */
  readonly id: string;
  readonly product: string;
  readonly variant: string;
  readonly marketplace: string;
  /** As the marketplace knows it. */
  readonly sku: string;
  readonly state: ListingState;
  /** Text for this site alone; null where the product's holds. */
  readonly title: string | null;
  readonly description: string | null;
  /** The site's category; null where it is guessed. */
  readonly category: string | null;
  readonly attributes: Readonly<Record<string, string>>;
  readonly tags: readonly string[];
  /** A plan chosen for it; null where the first that fits holds. */
  readonly plan: string | null;
  /** Each variant is a listing of its own there, not an option of one. */
  readonly apart?: true | null;
  /** The copy template that its texts are made of; missing for none. */
  readonly copy?: string | null;
  readonly approvedAt: Instant | null;
  /** While it waits to be published: not before this time; missing for at once. */
  readonly publishAt?: Instant | null;
  readonly ownPrice: number | null;
  /**
   * Under what an own price that breaks guards was agreed to all the same: it holds for as long as nothing is worse than
   * that. Missing where it was not asked about. Minor units of the marketplace.
   */
  readonly ownAgreed?: {
    readonly landed: number;
    readonly map: number | null;
    readonly msrp: number | null;
  } | null;
  /** What others ask for the same goods there; missing where it is not known. */
  readonly market?: { readonly minor: number; readonly at: Instant } | null;
  /** A step of its price that waits for approval; missing where none does. */
  readonly held?: HeldStep | null;
  /** How far demand moved its price under a plan; missing where none that follows demand held yet. */
  readonly demand?: (Demand & { readonly plan: string }) | null;
  /** How often its price moved by itself on a day of the shop. */
  readonly moves?: { readonly day: string; readonly n: number };
  /** When it was sold last; missing where no sale is on record. */
  readonly soldAt?: Instant | null;
  /** Units that it sold on its last days; missing where none are on record. */
  readonly soldOn?: SoldByDay;
  readonly published: Published | null;
  /** Its page on the marketplace; missing where that did not say. */
  readonly page?: string | null;
  /** Why it is held or was refused. */
  readonly problem: ListingProblem | null;
  /** What was edited on the marketplace itself; missing where nothing was seen. */
  readonly drift?: Drift | null;
  /** Its last event: a sentence, or the moves of its offer. */
  readonly last:
    | { readonly at: Instant; readonly says: string }
    | { readonly at: Instant; readonly moves: OfferMoves }
    | null;
}

/** Copy made of fields, for many products: each text is a template, '' where it leaves that text alone. */
export interface CopyTemplate {
  readonly id: string;
  readonly name: string;
  readonly title: string;
  readonly description: string;
  readonly tags: string;
  /** Substitutes for fields without a value, field by field. */
  readonly fallbacks: Readonly<Record<string, string>>;
  readonly at: Instant;
}

/** The text and pictures of a listing as a marketplace gets them. */
export interface ListingDocument {
  readonly title: string;
  readonly description: string;
  readonly category: string;
  readonly brand: string;
  readonly gtin: string | null;
  readonly group: string | null;
  readonly options: Readonly<Record<string, string>>;
  readonly pictures: readonly string[];
  /** What they show, in words, by picture; missing where none is described. */
  readonly alts?: Readonly<Record<string, string>>;
  /** Our own weight and size, where they were typed. */
  readonly grams?: number;
  readonly size?: Size;
  readonly attributes: Readonly<Record<string, string>>;
  readonly tags: readonly string[];
}

/** The document that a marketplace was last told of a listing. */
export interface DocumentRow {
  /** The listing's id. */
  readonly id: string;
  readonly document: ListingDocument;
  readonly at: Instant;
}

/** A sale under a plan. Times as local ones of each marketplace, such as `2026-12-01T00:00`. */
export interface PlanSale {
  readonly off: Ppm;
  readonly from: string;
  readonly to: string;
}

/** How far the price of what is on sale may move by itself. */
export interface StepRule {
  /** A larger step waits for approval, a share of the price; null for none. */
  readonly most: Ppm | null;
  /** A smaller change is not worth telling, minor units. */
  readonly least: number;
  /** Changes a day; null for any number. */
  readonly perDay: number | null;
}

export const FREE_STEPS: StepRule = { most: null, least: 0, perDay: null };

/** A price plan among the others: the first in order that covers a listing holds for it. */
export interface PlanRow extends PricePlan {
  readonly id: string;
  readonly name: string;
  readonly order: number;
  readonly on: boolean;
  /** Null for all. */
  readonly marketplaces: readonly string[] | null;
  /** The goods that it covers. */
  readonly filter: Condition;
  /** It holds from and to these local times of each marketplace; null without one. */
  readonly from: string | null;
  readonly to: string | null;
  readonly sale: PlanSale | null;
  /** How much is shown of what it covers; null where the shop's rule holds. */
  readonly stock: StockRule | null;
  readonly steps: StepRule;
}

/** What a new plan starts with besides its target. */
export const EVERYWHERE = {
  order: 0,
  on: true,
  marketplaces: null,
  filter: EVERYTHING,
  from: null,
  to: null,
  sale: null,
  stock: null,
  steps: FREE_STEPS,
} as const;

/** What a file is for. */
export type AssetKind = 'picture' | 'design' | 'preview' | 'buyer' | 'evidence';

/** What is known of a file of our own, kept once however often it is used; its bytes are in {@link BytesStore}. */
export interface AssetRow {
  /** SHA-256 of its bytes, in hex. */
  readonly id: string;
  readonly kind: AssetKind;
  readonly name: string;
  /** Media type. */
  readonly type: string;
  readonly size: number;
  /** When it was added last. */
  readonly at: Instant;
  /** The file that it was made of: the original, which stays beside it. */
  readonly madeOf?: string;
  /** Its address on each marketplace that was given it; of another size than its own under {@link sizedKey}. */
  readonly on?: Readonly<Record<string, string>>;
}

/** The bytes of a file, where this browser has no files of its own. */
export interface AssetBytes {
  readonly id: string;
  readonly file: StoredFile;
}

/** Under which key {@link AssetRow.on} has the address of a picture of another size than its own. */
export const sizedKey = (connection: string, { width, height }: { width: number; height: number }): string =>
  `${connection} ${width}x${height}`;
