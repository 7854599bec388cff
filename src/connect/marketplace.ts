import { type Site, USUAL_LIMITS } from '../core/checks';
import { cleanHtml, plainText } from '../core/copy';
import type { ListingRow } from '../core/lists';
import { decimalOf } from '../core/money';
import type { Address, LineUnits } from '../core/orders';
import type { FeeKind, FeeRule } from '../core/pricing';
import type { Instant, Size } from '../core/units';
import { minorOf, ppmOf, timeOf } from './amounts';
import { type FeedPage, feedPath, readFeed } from './feed';
import { ask, askFile, type Reach, type Result, UPLOAD_PATIENCE } from './reach';
import {
  FeeBandsShape,
  KnownListingShape,
  ListingAnswerShape,
  ListingErrorsShape,
  ListingPageShape,
  OrderShape,
  SiteShape,
  shaped,
} from './shapes';
import { type StatementAdapter, statementService } from './statements';
import type {
  OfferState,
  WireAsk,
  WireCancel,
  WireCancelRequest,
  WireDecline,
  WireDispatch,
  WireLineUnits,
  WireListing,
  WireOffer,
  WireOrder,
  WireRefund,
  WireReturn,
  WireReturnAnswer,
} from './wire';

/** A listing as it is put on a marketplace. */
export interface ListingDraft {
  readonly sku: string;
  readonly document: {
    readonly group: string | null;
    readonly options: Readonly<Record<string, string>>;
    readonly title: string;
    readonly description: string;
    readonly category: string;
    readonly brand: string;
    readonly gtin: string | null;
    readonly pictures: readonly string[];
    readonly alts?: Readonly<Record<string, string>>;
    readonly grams?: number;
    readonly size?: Size;
    readonly attributes: Readonly<Record<string, string>>;
    readonly tags: readonly string[];
  };
  /** What the buyer is asked for; missing for nothing. */
  readonly asks?: readonly WireAsk[];
  readonly price: number;
  readonly quantity: number;
  /** Where listings start as drafts, it stays one. */
  readonly draft: boolean;
}

/** What a marketplace said of a listing that was put there. */
export type ListingSaid =
  | { readonly ok: true; readonly page: string | null }
  | { readonly ok: false; readonly reason: string };

export interface Offer {
  readonly sku: string;
  readonly price: number;
  readonly quantity: number;
  readonly state: OfferState;
}

export interface MarketOrder {
  readonly number: string;
  readonly status: 'paid' | 'shipped' | 'delivered' | 'cancelled';
  readonly paidAt: Instant;
  readonly shipBy: Instant;
  readonly buyer: { readonly name: string; readonly email: string };
  readonly address: Address;
  readonly lines: readonly {
    readonly id: string;
    readonly sku: string;
    readonly title: string;
    readonly quantity: number;
    readonly unitPrice: number;
    readonly personalisation: string | null;
    /** Units of it that were cancelled. */
    readonly cancelled: number;
  }[];
  /** What the buyer wrote to the seller; '' for nothing. */
  readonly note: string;
  /** What is written to whom it is given; '' where it is no present. */
  readonly gift: string;
  /** The mark of the feed that the buyer came by; '' for none. */
  readonly mark: string;
  /** The buyer's wish to cancel; null for none. */
  readonly request: {
    readonly id: string;
    /** How many units of each line would be cancelled in all. */
    readonly totals: readonly LineUnits[];
    readonly reason: string;
    readonly answerBy: Instant | null;
    readonly open: boolean;
  } | null;
  /** Returns, oldest first. Amounts in minor units of the order's currency. */
  readonly returns: readonly {
    readonly id: string;
    readonly kind: WireReturn['kind'];
    readonly units: readonly LineUnits[];
    readonly reason: string;
    /** What the buyer wrote; '' for nothing. */
    readonly says: string;
    readonly answerBy: Instant | null;
    readonly state: WireReturn['state'];
    readonly isSent: boolean;
    readonly refunded: number;
    readonly label: number;
    readonly fees: number;
  }[];
  /** Tracking numbers that it was told. */
  readonly dispatched: readonly string[];
  /** What the buyer pays for shipping. */
  readonly shipping: number;
  readonly refunded: number;
  /** What the marketplace took so far; null until it is settled. */
  readonly charges:
    | readonly { readonly kind: FeeKind; readonly name: string; readonly minor: number }[]
    | null;
}

/** A marketplace as Sampan sees it. */
export interface MarketAdapter {
  readonly statements: StatementAdapter;
  site(): Promise<Result<Site>>;
  /**
   * Publishes listings: one, or as many in one request as the site takes. The answer names each SKU with what was said of
   * it; a SKU that is not named was not answered for.
   */
  publish(drafts: readonly ListingDraft[]): Promise<Result<ReadonlyMap<string, ListingSaid>>>;
  /** Gives it a picture to keep. @returns its address there */
  picture(file: Blob): Promise<Result<string>>;
  /**
   * At most {@link OFFERS_AT_ONCE}; the answer names each SKU with what the marketplace said, null for yes.
   */
  offers(offers: readonly Offer[]): Promise<Result<ReadonlyMap<string, string | null>>>;
  /** The shop's listings as the marketplace knows them, page by page. */
  listings(filter: ListingFilter, cursor: string | null): Promise<Result<ListingPage>>;
  orders(cursor: string | null): Promise<Result<FeedPage<MarketOrder>>>;
  /** One order as it is now. */
  order(number: string): Promise<Result<MarketOrder>>;
  dispatch(key: string, number: string, dispatch: WireDispatch): Promise<Result<null>>;
  /** Says no to a buyer's wish to cancel. */
  decline(key: string, number: string, decline: WireDecline): Promise<Result<null>>;
  /** Answers a return, or gives a refund of the seller's own where none was asked for there. */
  answerReturn(
    key: string,
    answer: {
      readonly number: string;
      readonly request: string | null;
      readonly answer: WireReturnAnswer['answer'];
      readonly minor: number;
      readonly label: 'buyer' | 'seller';
      readonly says: string;
    },
  ): Promise<Result<null>>;
  /** Writes to the buyer of an order. */
  message(key: string, number: string, text: string): Promise<Result<null>>;
  /** A file of a buyer's, by its path. */
  file(path: string): Promise<Result<Blob>>;
  /** @param units how many of each line are to be cancelled in all; null for the whole order */
  cancel(
    key: string,
    number: string,
    reason: string,
    units: readonly LineUnits[] | null,
  ): Promise<Result<null>>;
}

/** Which of a shop's listings are asked for. */
export interface ListingFilter {
  readonly state: 'live' | 'paused' | 'ended' | 'all';
  /** A category of the site, '' for all. */
  readonly category: string;
}

export interface ListingPage {
  readonly total: number;
  readonly listings: readonly ListingRow[];
  readonly refused: readonly string[];
  readonly next: string | null;
}

export const OFFERS_AT_ONCE = 100;

/** A path of the service, or an address. */
const PICTURE = /^(\/pictures\/[\w.-]+|https?:\/\/\S+)$/;

const nonsense = (says: string) => ({ ok: false, trouble: { kind: 'nonsense', says } }) as const;

/** Reads an order as it stands on the wire. @returns why it cannot be read, in words */
export function readMarketOrder(plain: unknown, currency: string): MarketOrder | string {
  const checked = shaped(OrderShape, plain);
  if (!checked.ok) return checked.reason;
  const o = checked.value;
  if (o.currency !== currency) return `order ${o.number} is in ${o.currency}, not ${currency}`;
  const twice = o.lines.find((l, k) => o.lines.findIndex((one) => one.id === l.id) !== k);
  if (twice) return `order ${o.number} names the line ${twice.id} twice`;
  try {
    return {
      number: o.number,
      status: o.status,
      paidAt: timeOf(o.paidAt),
      shipBy: timeOf(o.shipBy),
      buyer: { name: plainText(o.buyer.name), email: plainText(o.buyer.email) },
      address: {
        name: plainText(o.shipTo.name),
        line1: plainText(o.shipTo.line1),
        line2: plainText(o.shipTo.line2 ?? ''),
        town: plainText(o.shipTo.town),
        postcode: plainText(o.shipTo.postcode),
        country: o.shipTo.country.toUpperCase(),
      },
      lines: o.lines.map((l) => ({
        id: l.id,
        sku: l.sku,
        title: plainText(l.title),
        quantity: l.quantity,
        unitPrice: minorOf(l.unitPrice, currency),
        personalisation: wordsOf(l),
        cancelled: o.status === 'cancelled' ? l.quantity : Math.min(l.cancelled ?? 0, l.quantity),
      })),
      note: o.note ? plainText(o.note) : '',
      gift: o.gift ? plainText(o.gift) : '',
      mark: o.via && /^[\w.-]{1,40}$/.test(o.via) ? o.via : '',
      request: o.cancelRequest ? requestOf(o.cancelRequest, o.lines) : null,
      returns: o.returns?.map((r) => returnOf(r, currency)) ?? [],
      dispatched: o.dispatches?.map((d) => d.tracking) ?? [],
      shipping: o.shipping ? minorOf(o.shipping, currency) : 0,
      refunded: o.refunded ? minorOf(o.refunded, currency) : 0,
      charges:
        o.charges?.map((c) => ({
          kind: c.kind,
          name: plainText(c.name),
          minor: minorOf(c.amount, currency),
        })) ?? null,
    };
  } catch (error) {
    return (error as Error).message;
  }
}

/** A buyer's words as one text: what was written freely, then a row for each field, with its name, and each file. */
function wordsOf({ personalisation, fields = [], files = [] }: WireOrder['lines'][number]): string | null {
  const rows = [
    personalisation ? plainText(personalisation) : '',
    // A row that goes on with the one before begins with a blank.
    ...fields.map((f) => `${plainText(f.name)}: ${plainText(f.value).replace(/\n/g, '\n  ')}`),
    ...files.map((f) => `${plainText(f.name)}: ${f.file}`),
  ];
  return rows.filter(Boolean).join('\n') || null;
}

function requestOf(
  { id, lines: some, reason, answerBy, state }: WireCancelRequest,
  lines: WireOrder['lines'],
): MarketOrder['request'] {
  const asked = some ?? lines.map((l) => ({ id: l.id, quantity: l.quantity }));
  return {
    id,
    totals: asked.map((l) => ({ line: l.id, units: l.quantity })),
    reason: reason ? plainText(reason) : '',
    answerBy: answerBy ? timeOf(answerBy) : null,
    open: state === 'open',
  };
}

function returnOf(r: WireReturn, currency: string): MarketOrder['returns'][number] {
  const minor = (text: string | undefined) => (text ? minorOf(text, currency) : 0);
  return {
    ...{ id: r.id, kind: r.kind, state: r.state, isSent: r.sent === true },
    units: r.lines.map((l) => ({ line: l.id, units: l.quantity })),
    reason: plainText(r.reason),
    says: plainText(r.says ?? ''),
    answerBy: r.answerBy ? timeOf(r.answerBy) : null,
    ...{ refunded: minor(r.refunded), label: minor(r.label), fees: minor(r.fees) },
  };
}

/** Bytes of a buyer's picture at most. */
const LARGEST_FILE = 30_000_000;

/** A marketplace behind the wire contract's HTTP service. */
export function marketService(
  reach: Reach,
  service: string,
  token: string,
  currency: string | null,
): MarketAdapter {
  const headers = { authorization: `Bearer ${token}`, accept: 'application/json' };
  const go = (path: string, init: RequestInit = {}, patience?: number) =>
    ask(reach, service, path, { ...init, headers: { ...headers, ...init.headers } }, patience);
  const send = (method: string, path: string, body: unknown, key?: string) =>
    go(path, {
      method,
      headers: { 'content-type': 'application/json', ...(key && { 'idempotency-key': key }) },
      body: JSON.stringify(body),
    });
  /** The file is sent as it is, read while it leaves. */
  const upload = (path: string, file: Blob) =>
    go(path, { method: 'POST', headers: { 'content-type': file.type }, body: file }, UPLOAD_PATIENCE);
  const money = (minor: number) => decimalOf(minor, currency ?? '');
  const adapter: MarketAdapter = {
    statements: statementService((path) => go(path), 'marketplace'),

    async site() {
      const answer = await go('/v1/site');
      if (!answer.ok) return answer;
      const checked = shaped(SiteShape, answer.value.body);
      if (!checked.ok) return nonsense(`The site cannot be read: ${checked.reason}.`);
      const s = checked.value;
      try {
        return { ok: true, value: siteOf(s) };
      } catch (error) {
        return nonsense((error as Error).message);
      }
    },

    async publish(drafts) {
      const said = new Map<string, ListingSaid>();
      const refuse = (sku: string, reason: string) => said.set(sku, { ok: false, reason });
      const asDraft: ListingDraft[] = [];
      const take = (draft: ListingDraft, plain: unknown) => {
        const checked = shaped(ListingAnswerShape, plain);
        if (!checked.ok) return `The answer cannot be read: ${checked.reason}.`;
        const { page = '', state } = checked.value;
        said.set(draft.sku, { ok: true, page: /^https?:\/\/[^\s"<>]+$/i.test(page) ? page : null });
        if (state === 'draft' && !draft.draft) asDraft.push(draft);
        return null;
      };
      if (drafts.length === 1) {
        const [draft] = drafts as [ListingDraft];
        const answer = await send(
          'PUT',
          `/v1/listings/${encodeURIComponent(draft.sku)}`,
          onWire(draft, money),
        );
        if (!answer.ok) {
          if (answer.trouble.kind !== 'refused') return answer;
          refuse(draft.sku, refusalOf(answer.trouble.errors) || answer.trouble.says);
        } else {
          const wrong = take(draft, answer.value.body);
          if (wrong) return nonsense(wrong);
        }
      } else {
        const listings = drafts.map((draft) => onWire(draft, money));
        const answer = await send('POST', '/v1/listings', { listings });
        if (!answer.ok) return answer;
        const results = (answer.value.body as { results?: unknown } | null)?.results;
        if (!Array.isArray(results)) return nonsense('The answer has no results.');
        const bySku = new Map(drafts.map((d) => [d.sku, d]));
        for (const r of results as { sku?: unknown; ok?: unknown; errors?: unknown }[]) {
          const draft = typeof r?.sku === 'string' ? bySku.get(r.sku) : undefined;
          if (!draft) continue;
          if (r.ok === true) take(draft, r);
          else {
            const errors = shaped(ListingErrorsShape, r);
            refuse(draft.sku, (errors.ok && refusalOf(errors.value.errors)) || 'It was refused.');
          }
        }
      }
      if (!asDraft.length) return { ok: true, value: said };
      // Where listings start as drafts, an offer puts them on sale.
      const offered = await adapter.offers(
        asDraft.map((d) => ({ ...d, state: d.quantity > 0 ? ('live' as const) : ('paused' as const) })),
      );
      if (!offered.ok) return offered;
      for (const { sku } of asDraft) {
        const refusal = offered.value.get(sku);
        if (refusal === undefined) said.delete(sku);
        else if (refusal !== null) refuse(sku, refusal);
      }
      return { ok: true, value: said };
    },

    async picture(file) {
      const answer = await upload('/v1/pictures', file);
      if (!answer.ok) return answer;
      const address = (answer.value.body as { picture?: unknown } | null)?.picture;
      return typeof address === 'string' && PICTURE.test(address) && address.length <= 500
        ? { ok: true, value: address }
        : nonsense('The answer has no address of the picture.');
    },

    async offers(offers) {
      const body = offers.map(
        (o): WireOffer => ({
          sku: o.sku,
          price: money(o.price),
          quantity: o.quantity,
          state: o.state,
        }),
      );
      const answer = await send('PATCH', '/v1/offers', { offers: body });
      if (!answer.ok) return answer;
      const results = (answer.value.body as { results?: unknown } | null)?.results;
      if (!Array.isArray(results)) return nonsense('The answer has no results.');
      const said = new Map<string, string | null>();
      for (const r of results as { sku?: unknown; ok?: unknown; reason?: unknown }[]) {
        if (typeof r?.sku === 'string')
          said.set(r.sku, r.ok === true ? null : String(r.reason ?? 'refused').slice(0, 300));
      }
      return { ok: true, value: said };
    },

    async listings(filter, cursor) {
      const query = new URLSearchParams({
        limit: '200',
        state: filter.state,
        ...(filter.category && { category: filter.category }),
        ...(cursor && { cursor }),
      });
      const answer = await go(`/v1/listings?${query}`);
      if (!answer.ok) return answer;
      const checked = shaped(ListingPageShape, answer.value.body);
      if (!checked.ok) return nonsense(`The list of listings cannot be read: ${checked.reason}.`);
      const page = checked.value;
      if (page.currency !== currency)
        return nonsense(`The listings came in ${page.currency.slice(0, 3)}, not in ${currency}.`);
      const listings: ListingRow[] = [];
      const refused: string[] = [];
      for (const plain of page.listings) {
        const one = shaped(KnownListingShape, plain);
        if (!one.ok) {
          refused.push(one.reason);
          continue;
        }
        const l = one.value;
        try {
          listings.push({
            sku: l.sku,
            group: l.group ?? null,
            title: plainText(l.title),
            category: l.category,
            brand: plainText(l.brand),
            gtin: l.gtin && /^\d{8,14}$/.test(l.gtin) ? l.gtin : null,
            options: Object.fromEntries(
              Object.entries(l.options ?? {})
                .slice(0, 6)
                .map(([k, v]) => [plainText(k), plainText(String(v))]),
            ),
            price: minorOf(l.price, currency ?? ''),
            quantity: l.quantity,
            state: l.state === 'draft' ? 'paused' : l.state,
            description: cleanHtml(l.description),
            pictures: l.pictures.filter((p) => PICTURE.test(p)),
          });
        } catch (error) {
          refused.push(`${l.sku}: ${(error as Error).message}`);
        }
      }
      return { ok: true, value: { total: page.total, listings, refused, next: page.next ?? null } };
    },

    async orders(cursor) {
      return readFeed(await go(feedPath(cursor)), 'orders', (plain) =>
        readMarketOrder(plain, currency ?? ''),
      );
    },

    async order(number) {
      const answer = await go(`/v1/orders/${encodeURIComponent(number)}`);
      if (!answer.ok) return answer;
      const order = readMarketOrder(answer.value.body, currency ?? '');
      return typeof order === 'string'
        ? nonsense(`The order cannot be read: ${order}`)
        : { ok: true, value: order };
    },

    async dispatch(key, number, dispatch) {
      const answer = await send('POST', `/v1/orders/${encodeURIComponent(number)}/dispatch`, dispatch, key);
      return answer.ok ? { ok: true, value: null } : answer;
    },

    file: (path) => askFile(reach, service, path, { headers }, LARGEST_FILE),

    async message(key, number, text) {
      const answer = await send('POST', `/v1/orders/${encodeURIComponent(number)}/message`, { text }, key);
      return answer.ok ? { ok: true, value: null } : answer;
    },

    async answerReturn(key, { number, request, answer, minor, label, says }) {
      const order = `/v1/orders/${encodeURIComponent(number)}`;
      const refund: WireRefund = { amount: money(minor), reason: says };
      const body: WireReturnAnswer = {
        answer,
        ...(answer === 'refund' && { amount: money(minor) }),
        ...(answer === 'accept' && { label }),
        ...(says && { says }),
      };
      const said =
        request === null
          ? await send('POST', `${order}/refund`, refund, key)
          : await send('POST', `${order}/returns/${encodeURIComponent(request)}`, body, key);
      return said.ok ? { ok: true, value: null } : said;
    },

    async decline(key, number, decline) {
      const answer = await send('POST', `/v1/orders/${encodeURIComponent(number)}/decline`, decline, key);
      return answer.ok ? { ok: true, value: null } : answer;
    },

    async cancel(key, number, reason, units) {
      const body: WireCancel = { reason, ...(units && { lines: units.map(unitsOnWire) }) };
      const answer = await send('POST', `/v1/orders/${encodeURIComponent(number)}/cancel`, body, key);
      return answer.ok ? { ok: true, value: null } : answer;
    },
  };
  return adapter;
}

export const unitsOnWire = ({ line, units }: LineUnits): WireLineUnits => ({ id: line, quantity: units });

/** What a marketplace said against a listing, field by field. */
const refusalOf = (errors: readonly { readonly field: string; readonly reason: string }[] = []): string =>
  errors
    .map((e) => `${plainText(e.field)}: ${plainText(e.reason)}`)
    .join(' ')
    .slice(0, 1000);

function onWire(
  { sku, document, asks, price, quantity }: ListingDraft,
  money: (minor: number) => string,
): WireListing {
  const { group, options, gtin, pictures, alts, size, attributes, tags, ...text } = document;
  return {
    ...text,
    sku,
    ...(group && { group, options }),
    ...(gtin && { gtin }),
    pictures: [...pictures],
    ...(alts && { alts: pictures.map((name) => alts[name] ?? '') }),
    ...(size && { millimetres: [...size] }),
    ...(Object.keys(attributes).length > 0 && { attributes }),
    ...(tags.length > 0 && { tags: [...tags] }),
    ...(asks?.length && { asks: [...asks] }),
    price: money(price),
    quantity,
    state: 'live',
  };
}

function siteOf(s: SiteShape): Site {
  const minor = (text: string) => minorOf(text, s.currency);
  return {
    name: plainText(s.name),
    currency: s.currency,
    zone: s.zone,
    titleLimit: s.titleLimit,
    descriptionLimit: s.descriptionLimit,
    needsDescription: true,
    pictures: {
      least: s.pictures.least,
      most: s.pictures.most,
      shortest: s.pictures.shortest ?? 0,
      square: s.pictures.square === true,
    },
    bannedWords: s.bannedWords.map(plainText),
    shipsTo: s.shipsTo,
    carriers: s.carriers.map((c) => ({ code: c.code, name: plainText(c.name) })),
    categories: s.categories.map((c) => ({
      id: c.id,
      name: plainText(c.name),
      words: c.words.map(plainText),
      needsBrand: c.needsBrand,
      needsGtin: c.needsGtin,
    })),
    fees: { rules: s.fees.map((f) => feeOf(f, minor)), tax: { model: s.tax.model, rate: ppmOf(s.tax.rate) } },
    tags: s.tags ? { most: s.tags.most, longest: s.tags.longest } : null,
    drafts: s.drafts === true,
    attributes: (s.attributes ?? []).map((a) => ({
      id: a.id,
      name: plainText(a.name),
      kind: a.kind,
      choices: a.choices?.map((c) => ({ id: c.id, name: plainText(c.name) })) ?? [],
      unit: plainText(a.unit ?? ''),
      categories: a.categories ?? null,
      needed: a.needed === true,
      usual: plainText(a.usual ?? ''),
      ...(a.least !== undefined && { least: a.least }),
      ...(a.most !== undefined && { most: a.most }),
      ...(a.before === true && a.kind === 'amount' && { isBefore: true }),
    })),
    limits: s.limits ? { ...s.limits } : USUAL_LIMITS,
    ...(s.language && { language: s.language }),
    ...(s.ownMessages && { ownMessages: s.ownMessages }),
  };
}

/** One fee. Throws where its bands cannot be read. */
function feeOf(f: SiteShape['fees'][number], minor: (text: string) => number): FeeRule {
  const bands = Object.entries(f.bands ?? {}).map(([category, plain]) => {
    const checked = shaped(FeeBandsShape, { bands: plain });
    if (!checked.ok)
      throw new RangeError(`The fee “${f.name}” of ${category} cannot be read: ${checked.reason}.`);
    const own = checked.value.bands.map((b) => ({
      upTo: b.upTo ? minor(b.upTo) : null,
      rate: ppmOf(b.rate),
    }));
    return [category, own] as const;
  });
  const ordered = bands.every(([, own]) =>
    own.every(
      (b, i) =>
        (i === own.length - 1) === (b.upTo === null) &&
        (i === 0 || b.upTo === null || b.upTo > own[i - 1]!.upTo!),
    ),
  );
  if (!ordered) throw new RangeError(`The bands of the fee “${f.name}” do not rise to one without an end.`);
  if (f.per === 'order' && bands.some(([category]) => category !== '*'))
    throw new RangeError(`The fee “${f.name}” is taken by order and cannot differ by category.`);
  return {
    id: f.id,
    name: plainText(f.name),
    kind: f.kind,
    per: f.per,
    bands: Object.fromEntries(bands),
    fixed: f.fixed ? minor(f.fixed) : 0,
    least: f.least ? minor(f.least) : null,
    most: f.most ? minor(f.most) : null,
    onShipping: f.onShipping,
    onTax: f.onTax,
    optional: f.optional === true,
  };
}
