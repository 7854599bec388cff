import { type Item, type ItemDetail, type Mark, markOf } from '../core/catalogue';
import { plainText } from '../core/copy';
import type { Address, AddressLimits, Count, DeliveryNotice, Statement } from '../core/orders';
import type { ShippingBand } from '../core/pricing';
import type { PrintSite, ShippingService } from '../core/sourcing';
import { cleanTracking } from '../core/tracking';
import { minorOf, timeOf } from './amounts';
import { type MadeBlank, readBlanks } from './blanks';
import { type FeedPage, feedPath, readFeed } from './feed';
import { ask, type Reach, type Result } from './reach';
import {
  BlanksShape,
  ItemPageShape,
  ItemShape,
  PrintFileShape,
  PurchasesFoundShape,
  SupplierAccountShape,
  SupplierOrderShape,
  shaped,
} from './shapes';
import { type StatementAdapter, statementService } from './statements';
import type {
  WireAddress,
  WireClaim,
  WireCount,
  WireMisprint,
  WirePurchase,
  WireSendAgain,
  WireTakeBack,
} from './wire';

export interface SupplierAccount {
  readonly name: string;
  readonly currency: string;
  readonly zone: string;
  readonly balance: number | null;
  readonly shipping: readonly ShippingBand[];
  readonly shipsTo: readonly string[];
  readonly takes?: AddressLimits;
  readonly delivery?: readonly {
    readonly from: string;
    readonly to: readonly string[];
    readonly days: number;
  }[];
  readonly services?: readonly ShippingService[];
  readonly sites?: readonly PrintSite[];
  readonly notices?: readonly DeliveryNotice[];
  /** It prints to order: it has {@link SupplierAdapter.blanks}. */
  readonly prints: boolean;
}

/** An item of a page: marked as it came, read only where the mark is not known. */
export interface PageItem {
  readonly mark: Mark;
  readonly read: () =>
    | { readonly item: Item; readonly detail: ItemDetail }
    | { readonly sku: string; readonly reason: string };
}

export type ItemPage =
  | { readonly unchanged: true }
  | {
      readonly unchanged: false;
      readonly etag: string | null;
      readonly total: number;
      readonly next: string | null;
      readonly items: readonly PageItem[];
    };

export interface NewPurchase {
  readonly reference: string;
  readonly shop: string;
  readonly address: Address;
  readonly lines: readonly {
    /** The order's line. */
    readonly line: string;
    readonly sku: string;
    readonly quantity: number;
    readonly personalisation: string | null;
    /** Of goods printed to order: the supplier's name of the file for each area. Missing for others. */
    readonly prints?: readonly { readonly area: string; readonly file: string }[];
    /** Its files were made for this order alone; missing where they were not. */
    readonly personal?: true;
  }[];
  readonly slip: string;
  /** One of its services; missing for the usual one. */
  readonly service?: string;
  /** Ids of the sites that print it, the one that is meant first; missing where it does not matter. */
  readonly sites?: readonly string[];
  /** What is written to whom it is given; missing where it is no present. */
  readonly gift?: string;
}

/** Pieces of a line that are to be taken out of a purchase. */
export interface Taken extends Count {
  readonly line: string;
}

/** A purchase as its supplier states it, with what is left of the balance. */
export interface SupplierOrder extends Statement {
  readonly balance: number | null;
}

/** What is asked of a supplier about goods, as it is sent. */
export type OutClaim = Omit<WireClaim, 'lines'> & { readonly lines: readonly Taken[] };

/** Blanks, and why others of the same answer cannot be read. */
export interface BlankList {
  readonly blanks: readonly MadeBlank[];
  readonly refused: readonly string[];
}

/** A supplier as Sampan sees it, whatever lies behind: a service here, files later. */
export interface SupplierAdapter {
  readonly statements: StatementAdapter;
  account(): Promise<Result<SupplierAccount>>;
  page(cursor: string, etag: string | null, limit: number): Promise<Result<ItemPage>>;
  /** All that it prints on. */
  blanks(): Promise<Result<BlankList>>;
  /** Gives it a print file. @returns its name there, by which purchases name it; the same file has the same one */
  printFile(file: Blob): Promise<Result<string>>;
  buy(key: string, purchase: NewPurchase): Promise<Result<SupplierOrder>>;
  /** All purchases of a reference, cancelled ones too: what became of one whose answer did not come. */
  find(...references: readonly string[]): Promise<Result<readonly SupplierOrder[]>>;
  /**
   * Asks to take a purchase back, or some of it. The answer is the order with what is charged for it now.
   * @param lines pieces of each line that are to be out of it in all; null for everything
   */
  takeBack(
    key: string,
    number: string,
    reason: string,
    lines: readonly Taken[] | null,
  ): Promise<Result<SupplierOrder>>;
  /** Says that something was printed wrong. */
  misprint(
    key: string,
    number: string,
    said: { readonly lines: readonly Taken[]; readonly reason: string; readonly photo: string },
  ): Promise<Result<SupplierOrder>>;
  /** Asks about goods that a buyer returns, or that were wrong. */
  claim(key: string, number: string, said: OutClaim): Promise<Result<SupplierOrder>>;
  /** Asks it to send a parcel that came back out again. */
  sendAgain(key: string, number: string, tracking: string, address: Address): Promise<Result<SupplierOrder>>;
  /** Gives it a photograph. @returns its name there */
  photo(file: Blob): Promise<Result<string>>;
  changes(cursor: string | null): Promise<Result<FeedPage<SupplierOrder>>>;
}

const nonsense = (says: string) => ({ ok: false, trouble: { kind: 'nonsense', says } }) as const;

function itemOf(
  plain: unknown,
  currency: string,
): { item: Item; detail: ItemDetail } | { sku: string; reason: string } {
  const checked = shaped(ItemShape, plain);
  const sku = String((plain as { sku?: unknown } | null)?.sku ?? '(no SKU)').slice(0, 64);
  if (!checked.ok) return { sku, reason: checked.reason };
  const p = checked.value;
  const options = Object.entries(p.options ?? {});
  if (options.length > 6 || options.some(([, v]) => typeof v !== 'string'))
    return { sku, reason: 'options: at most six, each a text' };
  const title = plainText(p.title);
  if (!title) return { sku, reason: 'title: nothing is left once markup is taken out' };
  const pictures = p.pictures.filter((path) => /^\/pictures\/[\w.-]+$/.test(path));
  try {
    const cost = minorOf(p.cost, currency);
    if (cost === 0) return { sku, reason: 'cost: 0 cannot be right' };
    return {
      item: {
        sku,
        group: p.group ?? null,
        title,
        brand: plainText(p.brand),
        category: plainText(p.category),
        options: Object.fromEntries(options.map(([k, v]) => [plainText(k), plainText(v)])),
        gtin: p.gtin && /^\d{8,14}$/.test(p.gtin) ? p.gtin : null,
        cost,
        map: p.map ? minorOf(p.map, currency) : null,
        msrp: p.msrp ? minorOf(p.msrp, currency) : null,
        stock: p.stock,
        grams: p.grams ?? null,
        shipsFrom: plainText(p.shipsFrom ?? ''),
        days: p.dispatchDays ?? null,
        pictures: pictures.length,
      },
      // Pictures may only come from the supplier's own service: a path there, never an address.
      detail: {
        sku,
        description: p.description,
        pictures,
      },
    };
  } catch (error) {
    return { sku, reason: `cost: ${(error as Error).message}` };
  }
}

const addressOnWire = ({ name, line1, line2, town, postcode, country }: Address): WireAddress => ({
  ...{ name, line1, ...(line2 && { line2 }) },
  ...{ town, postcode, country },
});

const countOf = ({ line, sku, quantity }: WireCount): Count => ({ line: line ?? null, sku, quantity });

/** Reads a purchase as its supplier states it on the wire. @returns why it cannot be read, in words */
export function readSupplierOrder(plain: unknown, currency: string): SupplierOrder | string {
  const checked = shaped(SupplierOrderShape, plain);
  if (!checked.ok) return checked.reason;
  const o = checked.value;
  if (o.currency !== currency) return `order ${o.number} is charged in ${o.currency}, not ${currency}`;
  try {
    return {
      number: o.number,
      reference: o.reference,
      status: o.status,
      revision: o.revision ?? null,
      lines: o.lines.map(countOf),
      charge: o.charge
        ? { goods: minorOf(o.charge.goods, currency), shipping: minorOf(o.charge.shipping, currency) }
        : null,
      acceptedAt: timeOf(o.acceptedAt),
      parcels: o.parcels.map((p) => ({
        carrier: plainText(p.carrier),
        tracking: cleanTracking(p.tracking),
        shippedAt: timeOf(p.shippedAt),
        deliveredAt: p.deliveredAt ? timeOf(p.deliveredAt) : null,
        lines: p.lines?.map(countOf) ?? null,
      })),
      cancelled: o.cancelled?.map(countOf) ?? [],
      ...(o.site && { site: plainText(o.site) }),
      ...(o.stage && { stage: o.stage }),
      ...(o.reprints && {
        reprints: o.reprints.map((r) => ({
          ...{ id: r.id, state: r.state, says: plainText(r.says ?? '') },
          tracking: r.tracking ? cleanTracking(r.tracking) : null,
          carrier: plainText(r.carrier ?? ''),
        })),
      }),
      ...(o.returns && {
        returns: o.returns.map((r) => ({
          ...{ id: r.id, state: r.state, answer: plainText(r.says ?? ''), isBack: r.back === true },
          answerBy: r.answerBy ? timeOf(r.answerBy) : null,
          credit: r.credit ? minorOf(r.credit, currency) : 0,
          restocking: r.restocking ? minorOf(r.restocking, currency) : 0,
          tracking: r.tracking ? cleanTracking(r.tracking) : null,
          carrier: plainText(r.carrier ?? ''),
        })),
      }),
      ...(o.back && {
        back: o.back.map((b) => ({
          ...{ tracking: cleanTracking(b.tracking), why: plainText(b.why) },
          heldUntil: b.heldUntil ? timeOf(b.heldUntil) : null,
          again: b.again ? { charged: minorOf(b.again.charge, currency) } : null,
        })),
      }),
      balance: o.balance ? minorOf(o.balance, currency) : null,
    };
  } catch (error) {
    return (error as Error).message;
  }
}

/** Whether what was asked for is out of an order: by line, or by SKU where the supplier knows no lines. */
function isOut(cancelled: readonly Count[], asked: readonly Taken[]): boolean {
  const out = (is: (c: Count) => boolean) => cancelled.reduce((n, c) => (is(c) ? n + c.quantity : n), 0);
  const byLine = cancelled.some((c) => c.line !== null);
  return asked.every((l) =>
    byLine
      ? out((c) => c.line === l.line && c.sku === l.sku) >= l.quantity
      : out((c) => c.sku === l.sku) >=
        asked.reduce((n, one) => (one.sku === l.sku ? n + one.quantity : n), 0),
  );
}

/** Basic credentials of RFC 7617, UTF-8. */
export const basic = (account: string, key: string) =>
  `Basic ${btoa(String.fromCharCode(...new TextEncoder().encode(`${account}:${key}`)))}`;

/**
 * A supplier behind the wire contract's HTTP service. `currency` is what the connection was made in; anything
 * else is refused.
 */
export function supplierService(
  reach: Reach,
  service: string,
  authorization: string,
  currency: string | null,
): SupplierAdapter {
  const headers = { authorization, accept: 'application/json' };
  const go = (path: string, init: RequestInit = {}) =>
    ask(reach, service, path, { ...init, headers: { ...headers, ...init.headers } });
  const send = (path: string, key: string, body: object) =>
    go(path, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'idempotency-key': key },
      body: JSON.stringify(body),
    });
  /** What a supplier answers about an order, as it states it. */
  const statement = (answer: Awaited<ReturnType<typeof send>>, about: string): Result<SupplierOrder> => {
    if (!answer.ok) return answer;
    const order = readSupplierOrder(answer.value.body, currency ?? '');
    return typeof order === 'string'
      ? nonsense(`The answer about the ${about} cannot be read: ${order}.`)
      : { ok: true, value: order };
  };
  const upload = async (path: string, file: Blob): Promise<Result<string>> => {
    const answer = await go(path, {
      method: 'POST',
      headers: { 'content-type': file.type || 'image/png' },
      body: file,
    });
    if (!answer.ok) return answer;
    const checked = shaped(PrintFileShape, answer.value.body);
    return checked.ok
      ? { ok: true, value: checked.value.file }
      : nonsense(`The answer to the file cannot be read: ${checked.reason}.`);
  };
  return {
    statements: statementService((path) => go(path), 'supplier'),

    async account() {
      const answer = await go('/v1/account');
      if (!answer.ok) return answer;
      const checked = shaped(SupplierAccountShape, answer.value.body);
      if (!checked.ok) return nonsense(`The account cannot be read: ${checked.reason}.`);
      const a = checked.value;
      if (currency && a.currency !== currency)
        return nonsense(`The account is in ${a.currency}, it was connected in ${currency}.`);
      try {
        return {
          ok: true,
          value: {
            name: plainText(a.name),
            currency: a.currency,
            zone: a.zone,
            balance: a.balance ? minorOf(a.balance, a.currency) : null,
            shipping: a.shipping
              .map((b) => ({ upToGrams: b.upToGrams, minor: minorOf(b.price, a.currency) }))
              .sort((x, y) => x.upToGrams - y.upToGrams),
            shipsTo: a.shipsTo,
            ...(a.delivery && { delivery: a.delivery }),
            ...(a.services && {
              services: a.services.map(({ id, name, to, extra, days }) => ({
                ...{ id, name: plainText(name), to, days },
                extra: minorOf(extra, a.currency),
              })),
            }),
            ...(a.sites && {
              sites: a.sites.map(({ id, name, country, reaches }) => ({
                ...{ id, name: plainText(name), country },
                reaches: reaches.map((r) => ({ ...r, extra: minorOf(r.extra, a.currency) })),
              })),
            }),
            ...(a.notices && {
              notices: a.notices.map(({ kind, to, days = 0, why }) => ({
                ...{ kind, to, why: plainText(why) },
                days: kind === 'delayed' ? days : 0,
              })),
            }),
            ...(a.address && {
              takes: { boxes: a.address.boxes, longest: a.address.longest ?? null },
            }),
            prints: (a.blanks ?? 0) > 0,
          },
        };
      } catch (error) {
        return nonsense((error as Error).message);
      }
    },

    async blanks() {
      const answer = await go('/v1/blanks');
      if (!answer.ok) return answer;
      const checked = shaped(BlanksShape, answer.value.body);
      if (!checked.ok) return nonsense(`The blanks cannot be read: ${checked.reason}.`);
      if (checked.value.currency !== currency)
        return nonsense(`The blanks came in ${checked.value.currency}, not in ${currency}.`);
      return { ok: true, value: readBlanks(checked.value.blanks, currency) };
    },

    printFile: (file) => upload('/v1/print-files', file),

    async page(cursor, etag, limit) {
      const query = new URLSearchParams({ limit: String(limit), ...(cursor && { cursor }) });
      const answer = await go(`/v1/items?${query}`, { headers: etag ? { 'if-none-match': etag } : {} });
      if (!answer.ok) return answer;
      if (answer.value.status === 304) return { ok: true, value: { unchanged: true } };
      const checked = shaped(ItemPageShape, answer.value.body);
      if (!checked.ok) return nonsense(`A page of the catalogue cannot be read: ${checked.reason}.`);
      const page = checked.value;
      if (page.currency !== currency)
        return nonsense(
          `The catalogue came in ${page.currency.slice(0, 3)}, not in ${currency}. It was not taken.`,
        );
      return {
        ok: true,
        value: {
          unchanged: false,
          etag: answer.value.etag,
          total: page.total,
          next: page.next ?? null,
          items: page.items.map((plain) => ({
            mark: markOf(JSON.stringify(plain)),
            read: () => itemOf(plain, currency),
          })),
        },
      };
    },

    async buy(key, purchase) {
      const body: WirePurchase = {
        reference: purchase.reference,
        shop: purchase.shop,
        shipTo: addressOnWire(purchase.address),
        lines: purchase.lines.map((l) => ({
          line: l.line,
          sku: l.sku,
          quantity: l.quantity,
          ...(l.personalisation !== null && { personalisation: l.personalisation }),
          ...(l.prints && { prints: l.prints.map(({ area, file }) => ({ area, file })) }),
          ...(l.personal && { personal: true as const }),
        })),
        slip: purchase.slip,
        ...(purchase.service && { service: purchase.service }),
        ...(purchase.sites?.length && { sites: [...purchase.sites] }),
        ...(purchase.gift && { gift: purchase.gift }),
      };
      return statement(await send('/v1/orders', key, body), 'order');
    },

    async find(...references) {
      const asked = references.map((reference) => ['reference', reference]);
      const answer = await go(`/v1/orders?${new URLSearchParams(asked)}`);
      if (!answer.ok) return answer;
      const checked = shaped(PurchasesFoundShape, answer.value.body);
      if (!checked.ok)
        return nonsense(`The purchases of ${references.join(', ')} cannot be read: ${checked.reason}.`);
      const found: SupplierOrder[] = [];
      for (const plain of checked.value.orders) {
        const order = readSupplierOrder(plain, currency ?? '');
        if (typeof order === 'string')
          return nonsense(`A purchase of ${references.join(', ')} cannot be read: ${order}.`);
        if (references.includes(order.reference)) found.push(order);
      }
      return { ok: true, value: found };
    },

    async takeBack(key, number, reason, lines) {
      const body: WireTakeBack = { reason, ...(lines && { lines: lines.map((l) => ({ ...l })) }) };
      const answer = await send(`/v1/orders/${encodeURIComponent(number)}/cancel`, key, body);
      if (!answer.ok) return answer;
      const order = readSupplierOrder(answer.value.body, currency ?? '');
      if (typeof order === 'string')
        return nonsense(`The answer to the cancellation cannot be read: ${order}.`);
      const done = order.status === 'cancelled' || (lines !== null && isOut(order.cancelled, lines));
      return done && order.number === number
        ? { ok: true, value: order }
        : nonsense(
            `It says yes to the cancellation of ${number} and shows ${order.number} as ${order.status}.`,
          );
    },

    async misprint(key, number, { lines, reason, photo }) {
      const body: WireMisprint = { id: key, lines: lines.map((l) => ({ ...l })), reason, photo };
      return statement(
        await send(`/v1/orders/${encodeURIComponent(number)}/misprint`, key, body),
        'misprint',
      );
    },

    async claim(key, number, said) {
      const body: WireClaim = { ...said, lines: said.lines.map((l) => ({ ...l })) };
      return statement(await send(`/v1/orders/${encodeURIComponent(number)}/returns`, key, body), 'return');
    },

    async sendAgain(key, number, tracking, address) {
      const body: WireSendAgain = { tracking, shipTo: addressOnWire(address) };
      return statement(
        await send(`/v1/orders/${encodeURIComponent(number)}/send-again`, key, body),
        'parcel',
      );
    },

    photo: (file) => upload('/v1/photos', file),

    async changes(cursor) {
      return readFeed(await go(feedPath(cursor)), 'changes', (plain) =>
        readSupplierOrder(plain, currency ?? ''),
      );
    },
  };
}
