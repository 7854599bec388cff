/**
 * The wire contract as types: what supplier and marketplace services say over HTTP. `docs/wire-contract.md`
 * describes it in words. Amounts are decimal text (`"12.50"`) in the currency named beside them; times are
 * RFC 3339 with an offset; errors are RFC 9457 problem details.
 */

export type WireAmount = string;

export interface Problem {
  type: string;
  title: string;
  status: number;
  detail?: string;
  /** What was wrong with single fields or lines. */
  errors?: { field: string; reason: string }[];
}

// ---- supplier

export interface WireSupplierAccount {
  account: string;
  name: string;
  currency: string;
  zone: string;
  balance: WireAmount | null;
  items: number;
  shipping: { upToGrams: number; price: WireAmount }[];
  shipsTo: string[];
  /** From where it delivers to which countries, in how many days; missing where it promises nothing. */
  delivery?: { from: string; to: string[]; days: number }[];
  /** Ways of shipping besides the usual one, with what a purchase costs more by them. */
  services?: { id: string; name: string; to: string[]; extra: WireAmount; days: number }[];
  /** Where it prints: from each place to which countries, what a purchase costs more from there, and the days to the buyer. */
  sites?: {
    id: string;
    name: string;
    country: string;
    reaches: { to: string[]; extra: WireAmount; days: number }[];
  }[];
  /** Destinations that parcels take longer to, or none are sent to, for the time being. */
  notices?: { kind: 'delayed' | 'restricted'; to: string[]; days?: number; why: string }[];
  /** What its carriers take of an address; missing for anything. */
  address?: { boxes: boolean; longest?: number };
  /** How many blanks it prints on; missing where it makes nothing to order. */
  blanks?: number;
}

/** How an area is printed. `finestLine` in mm. */
export interface WireTechnique {
  name: string;
  halfTones: boolean;
  opaque: boolean;
  underprint: boolean;
  finestLine: number;
}

/** A printed area. `bleed` and `safe` in mm from the edge of the file; `files` by size, `*` for all others. */
export interface WireBlankArea {
  id: string;
  name: string;
  shape: 'rectangle' | 'ellipse';
  technique: WireTechnique;
  bleed: number;
  safe: number;
  /** What printing it costs besides; missing for what the item's cost includes. */
  extra?: WireAmount;
  files: Record<string, { width: number; height: number; dpi: number }>;
}

/** Goods that are printed to order: its items are in the catalogue, one for each colour and size. */
export interface WireBlank {
  id: string;
  name: string;
  category: string;
  /** Plain text. */
  care: string;
  forbidden: string[];
  colours: { name: string; hex: string }[];
  /** Missing where it has one size. */
  sizes?: string[];
  areas: WireBlankArea[];
  items: { sku: string; colour: string; size: string }[];
  /** What a piece costs besides that is made for one order alone. */
  personal?: WireAmount;
  /** Where it is printed, with working days. */
  sites: { name: string; country: string; days: number }[];
}

export interface WireBlanks {
  currency: string;
  blanks: WireBlank[];
}

export interface WireItem {
  sku: string;
  group?: string;
  title: string;
  brand: string;
  category: string;
  options?: Record<string, string>;
  gtin?: string;
  cost: WireAmount;
  map?: WireAmount;
  msrp?: WireAmount;
  stock: number;
  /** Missing where it is not known. */
  grams?: number;
  description: string;
  pictures: string[];
  shipsFrom?: string;
  /** Working days until it is sent. */
  dispatchDays?: number;
}

export interface WireItemPage {
  currency: string;
  total: number;
  items: WireItem[];
  /** Cursor of the next page, null on the last. */
  next: string | null;
}

export interface WireAddress {
  name: string;
  line1: string;
  line2?: string;
  town: string;
  postcode: string;
  country: string;
}

export interface WirePurchase {
  reference: string;
  shop: string;
  shipTo: WireAddress;
  /** `line` is the buyer's side's id of a line; by it everything is told that happens to its pieces. */
  lines: {
    line: string;
    sku: string;
    quantity: number;
    personalisation?: string;
    /** Of goods that are printed to order: which file goes into which area. */
    prints?: { area: string; file: string }[];
    /** Its files were made for this order alone. */
    personal?: true;
  }[];
  slip: string;
  /** One of its services; missing for the usual one. */
  service?: string;
  /** Ids of its sites, the one that is meant first: a later one prints where those before it are out of a blank. */
  sites?: string[];
  /** What the buyer writes to whom it is given. */
  gift?: string;
}

/** `part shipped`: parcels left, and more is to come. */
export type SupplierOrderStatus = 'accepted' | 'part shipped' | 'shipped' | 'delivered' | 'cancelled';

/** Pieces of an item; of which line of the purchase, unless the supplier counts by SKU alone. */
export interface WireCount {
  line?: string;
  sku: string;
  quantity: number;
}

export interface WireSupplierOrder {
  number: string;
  reference: string;
  status: SupplierOrderStatus;
  /** Rises with each change, so that an older answer is known as one. */
  revision?: number;
  /** As it was ordered. */
  lines: WireCount[];
  currency: string;
  /** Missing while it is not known. */
  charge?: { goods: WireAmount; shipping: WireAmount };
  parcels: {
    carrier: string;
    tracking: string;
    shippedAt: string;
    deliveredAt?: string;
    /** What is in it; missing where it is all that is left. */
    lines?: WireCount[];
  }[];
  /** All that was taken out of it so far, by either side, and will not come. */
  cancelled?: WireCount[];
  acceptedAt: string;
  /** Of goods that are made to order: where, and how far it is. */
  site?: string;
  stage?: MakerStage;
  /** What is printed again, at the maker's cost. */
  reprints?: WireReprint[];
  returns?: WireSupplierReturn[];
  back?: WireParcelBack[];
}

/** `received` and `file checked`: it can be changed, and cancelled at no cost. */
export type MakerStage = 'received' | 'file checked' | 'printing' | 'made' | 'sent';

/** Says that something was printed wrong. */
export interface WireMisprint {
  id: string;
  lines: WireCount[];
  reason: string;
  /** Name of a photograph that was given before, as print files are. */
  photo: string;
}

/** Asks about goods that a buyer returns, or that were wrong. */
export interface WireClaim {
  id: string;
  lines: WireCount[];
  reason: string;
  wants: 'refund' | 'replacement';
  says: string;
  /** Names of photographs that were given before. */
  photos: string[];
}

export interface WireSupplierReturn {
  /** The claim's. */
  id: string;
  state: 'asked' | 'granted' | 'refused' | 'settled';
  says?: string;
  /** By when the goods have to be back. */
  answerBy?: string;
  /** Given back, and kept of it for taking the goods in. */
  credit?: WireAmount;
  restocking?: WireAmount;
  /** The goods are back. */
  back?: boolean;
  carrier?: string;
  tracking?: string;
}

/** A parcel that its carrier brings back. */
export interface WireParcelBack {
  tracking: string;
  why: string;
  heldUntil?: string;
  /** It goes out again, and what that is charged. */
  again?: { charge: WireAmount };
}

/** Sends a parcel that came back out again. */
export interface WireSendAgain {
  tracking: string;
  shipTo: WireAddress;
}

export interface WireReprint {
  /** The misprint's. */
  id: string;
  state: 'asked' | 'granted' | 'refused' | 'sent';
  says?: string;
  carrier?: string;
  tracking?: string;
}

export interface WirePurchaseAnswer extends WireSupplierOrder {
  balance: WireAmount | null;
}

/** All purchases of one reference, cancelled ones too, oldest first. */
export interface WirePurchasesFound {
  orders: WireSupplierOrder[];
}

/**
 * Asks a supplier to take a purchase back; answered with the order, cancelled, its charge what is kept of it.
 */
export interface WireTakeBack {
  reason: string;
  /** How many pieces of each line are to be out of it in all, so that asking twice takes them once; missing for everything. */
  lines?: WireCount[];
}

export interface WireSupplierChanges {
  changes: WireSupplierOrder[];
  next: string;
  more: boolean;
}

// ---- marketplace

export interface WireToken {
  access_token: string;
  token_type: 'Bearer';
  scope: string;
}

export interface WireMarketAccount {
  seller: string;
  site: string;
}

/** One fee: a percentage in bands by category (`*` for any other), at least and at most so much, plus a fixed amount. */
export interface WireFee {
  id: string;
  name: string;
  kind: 'sale' | 'payment' | 'advertising' | 'listing';
  /** Of each unit's price; once of the whole order; or once for each unit, for listing it again. */
  per: 'item' | 'order' | 'listing';
  bands?: Record<string, { upTo: WireAmount | null; rate: string }[]>;
  fixed?: WireAmount;
  least?: WireAmount;
  most?: WireAmount;
  /** Whether the buyer's shipping, and tax, are part of what it is taken of. */
  onShipping: boolean;
  onTax: boolean;
  /** Only for sellers who opt in. */
  optional?: boolean;
}

export interface WireAttribute {
  id: string;
  name: string;
  /** `number` is a whole one of `unit`, `amount` a decimal in the site's currency, `link` an address with https. */
  kind: 'choice' | 'text' | 'number' | 'amount' | 'link';
  choices?: { id: string; name: string }[];
  unit?: string;
  categories?: string[];
  needed?: boolean;
  usual?: string;
  /** Of a number: the least and the most that it takes. */
  least?: number;
  most?: number;
  /** Of an amount: it holds the price before a sale. */
  before?: boolean;
}

export interface WireSite {
  name: string;
  currency: string;
  zone: string;
  titleLimit: number;
  descriptionLimit: number;
  /** How many; the fewest pixels on each side, and whether they are square, where it asks. */
  pictures: { least: number; most: number; shortest?: number; square?: boolean };
  bannedWords: string[];
  shipsTo: string[];
  /** The language of its buyers, ISO 639-1; missing for English. */
  language?: string;
  /** Events at which it writes to buyers itself: thanks, shipped, delayed, delivered, cancelled. */
  ownMessages?: string[];
  /** Rates are percentages as decimal text: `"12.5"`. `inside`: prices contain it; `added`: it comes on top at checkout. */
  tax: { model: 'inside' | 'added' | 'none'; rate: string };
  fees: WireFee[];
  /** Search words of a listing, where the site has them. */
  tags?: { most: number; longest: number };
  /** Whether a listing starts as a draft, which costs nothing until it is put on sale. */
  drafts?: boolean;
  /**
   * What it asks of a listing besides its texts; told in `attributes` by id. `categories` missing for all, `usual` what it
   * would put there for most sellers.
   */
  attributes?: WireAttribute[];
  categories: {
    id: string;
    name: string;
    words: string[];
    needsBrand: boolean;
    needsGtin: boolean;
  }[];
  carriers: { code: string; name: string }[];
  /** Requests that may be on their way at the same time, and listings in one request (1: one by one). */
  limits?: { inFlight: number; listingsAtOnce: number };
}

export type OfferState = 'live' | 'paused' | 'ended';
/** A draft is not on sale and costs nothing; an offer with the state `live` puts it on sale, and one that was ended again. */
export type ListingState = Exclude<OfferState, 'ended'> | 'draft';

export interface WireListing {
  sku: string;
  group?: string;
  options?: Record<string, string>;
  title: string;
  description: string;
  category: string;
  brand: string;
  gtin?: string;
  pictures: string[];
  /** What each picture shows, in their order; '' for nothing. */
  alts?: string[];
  grams?: number;
  /** Length, width and height. */
  millimetres?: [number, number, number];
  attributes?: Record<string, string>;
  tags?: string[];
  /** What the buyer is asked for; missing for nothing. */
  asks?: WireAsk[];
  price: WireAmount;
  quantity: number;
  state: Exclude<OfferState, 'ended'>;
}

/** Something that a buyer says before buying. */
export interface WireAsk {
  name: string;
  kind: 'text' | 'choice' | 'date' | 'place' | 'picture';
  required: boolean;
  /** Characters. */
  longest?: number;
  choices?: string[];
}

/** A listing as the marketplace knows it, made by Sampan or not. */
export interface WireKnownListing extends Omit<WireListing, 'state'> {
  id: string;
  state: ListingState | 'ended';
}

export interface WireListingPage {
  currency: string;
  total: number;
  listings: WireKnownListing[];
  next: string | null;
}

export interface WireListingAnswer {
  /** Address of its page, where the site tells it. */
  page?: string;
  sku: string;
  id: string;
  state: ListingState;
  revision: number;
}

/** The answer to `POST /v1/listings`: one result for each listing. */
export interface WireListingResults {
  results: (
    | ({ ok: true } & WireListingAnswer)
    | { ok: false; sku: string; errors: { field: string; reason: string }[] }
  )[];
}

export interface WireOffer {
  sku: string;
  price: WireAmount;
  quantity: number;
  state: OfferState;
}

export interface WireOfferResults {
  results: ({ sku: string; ok: true; revision: number } | { sku: string; ok: false; reason: string })[];
}

export interface WireLineUnits {
  id: string;
  quantity: number;
}

export interface WireCancelRequest {
  id: string;
  askedAt: string;
  /** After it an order that is not on its way is cancelled. */
  answerBy?: string;
  reason?: string;
  /** How many units of each line would be cancelled in all; missing for everything. */
  lines?: WireLineUnits[];
  state: 'open' | 'accepted' | 'declined' | 'over';
}

/** Says no to a buyer's wish to cancel. Yes is said by cancelling. */
export interface WireDecline {
  request: string;
  reason: string;
}

/** `not received`: the parcel did not come; `chargeback`: the buyer's bank took the payment back. */
export type WireReturnKind = 'return' | 'refund' | 'not received' | 'chargeback';

export interface WireReturn {
  id: string;
  kind: WireReturnKind;
  lines: WireLineUnits[];
  /** A word for it, and what the buyer wrote. */
  reason: string;
  says?: string;
  openedAt: string;
  /** Without an answer by then the marketplace refunds the buyer. */
  answerBy?: string;
  /** `received`: the goods came back, and the refund is due. */
  state: 'open' | 'accepted' | 'declined' | 'received' | 'closed';
  /** The buyer sent the goods. */
  sent?: boolean;
  /** In all, for this one: given to the buyer, charged for the label, fees given back. */
  refunded?: WireAmount;
  label?: WireAmount;
  fees?: WireAmount;
}

/** Answers a return. `refund` gives `amount` now; the goods stay with the buyer unless they came back. */
export interface WireReturnAnswer {
  answer: 'accept' | 'decline' | 'refund';
  amount?: WireAmount;
  label?: 'buyer' | 'seller';
  says?: string;
}

/** A refund that the seller gives without being asked through the marketplace. */
export interface WireRefund {
  amount: WireAmount;
  reason: string;
}

export interface WireOrder {
  number: string;
  status: 'paid' | 'shipped' | 'delivered' | 'cancelled';
  currency: string;
  paidAt: string;
  shipBy: string;
  buyer: { name: string; email: string };
  shipTo: WireAddress;
  lines: {
    id: string;
    sku: string;
    title: string;
    quantity: number;
    unitPrice: WireAmount;
    personalisation?: string;
    /** What the buyer answered to each thing that the listing asks for. */
    fields?: { name: string; value: string }[];
    /** Files of the buyer's, each at a path of the service, by what was asked for. */
    files?: { name: string; file: string }[];
    /** Units that were cancelled. */
    cancelled?: number;
  }[];
  /** What the buyer wrote to the seller. */
  note?: string;
  /** It is a present: what the buyer writes to whom it is given. */
  gift?: string;
  /** The mark in the address of the page that the buyer came to. */
  via?: string;
  /** The buyer's wish to cancel, the latest where there were several. */
  cancelRequest?: WireCancelRequest;
  /** Returns, refunds that are asked for, and payments taken back, oldest first. */
  returns?: WireReturn[];
  /** What the buyer pays for shipping. */
  shipping?: WireAmount;
  /** Tax added at checkout, which the marketplace pays over itself. */
  taxAdded?: WireAmount;
  /** What was given back to the buyer so far. */
  refunded?: WireAmount;
  /** The fees that the marketplace took, once the order is settled; after a refund, the part that it keeps. */
  charges?: { kind: WireFee['kind']; name: string; amount: WireAmount }[];
  dispatches?: { carrier: string; tracking: string; lines?: WireLineUnits[] }[];
}

export interface WireOrderChanges {
  orders: WireOrder[];
  next: string;
  more: boolean;
}

export interface WireDispatch {
  carrier: string;
  tracking: string;
  shippedAt: string;
  /** The units in the parcel; missing for all that is left. */
  lines?: WireLineUnits[];
}

/** Cancels an order, or some units of it. */
export interface WireCancel {
  reason: string;
  /** How many units of each line are to be cancelled in all; missing for all. */
  lines?: WireLineUnits[];
}

/** An amount that may be below nothing: `-12.50`. */
export type WireSigned = string;

/** What an account statement has lines for. */
export type WireStatementKind =
  | 'sale'
  | 'shipping'
  | 'refund'
  | 'sale fee'
  | 'listing fee'
  | 'advertising'
  | 'payment fee'
  | 'goods'
  | 'tax'
  | 'return'
  | 'charge'
  | 'payout';

/** An account statement: what one side owes the other for some days. `GET /v1/statements`. */
export interface WireStatement {
  number: string;
  currency: string;
  /** Days, both included. */
  from: string;
  to: string;
  closedAt: string;
  lines: number;
  /** All lines but payouts. */
  total: WireSigned;
  /** Left on the account. */
  closing: WireSigned;
  /** Day by which it is to be paid. */
  due?: string;
}

export interface WireStatements {
  statements: WireStatement[];
}

export interface WireStatementLine {
  id: string;
  day: string;
  /** The marketplace's order number, or the reference of a purchase. */
  order?: string;
  kind: WireStatementKind;
  text?: string;
  /** Towards the seller above nothing. */
  amount: WireSigned;
}

/** `GET /v1/statements/{number}/lines?cursor=` */
export interface WireStatementPage {
  lines: WireStatementLine[];
  next: string | null;
}
