import { createHash } from 'node:crypto';
import type {
  MakerStage,
  WireBlanks,
  WireClaim,
  WireItemPage,
  WireMisprint,
  WirePurchase,
  WirePurchasesFound,
  WireSendAgain,
  WireSupplierAccount,
  WireSupplierChanges,
  WireTakeBack,
} from '../../src/connect/wire';
import { type Answer, type Handler, problem, type Request } from '../answer';
import type { FaultSettings, Faults } from '../faults';
import { readFeed } from '../feed';
import type { Pace } from '../pace';
import { statementAnswer } from '../statements';
import { takeFile } from './print-files';
import { bringBack, claim, sendAgain, settleReturns } from './returns';
import { closeNow, statementsOf } from './statements';
import {
  advance,
  callOff,
  houseOf,
  itemsOf,
  leftOf,
  misprint,
  move,
  onWire,
  purchase,
  purchaseOnWire,
  sendReprints,
  setStage,
  startAnew,
  takeBack,
  type Warehouse,
} from './warehouse';

const decimal = (minor: number) => (minor / 100).toFixed(2);

function allowed(w: Warehouse, request: Request): boolean {
  const [scheme, code] = (request.headers.authorization ?? '').split(' ');
  if (scheme !== 'Basic' || !code) return false;
  const [account, key] = Buffer.from(code, 'base64').toString('utf8').split(':');
  return account !== undefined && Object.hasOwn(w.accounts, account) && w.accounts[account] === key;
}

function isPurchase(body: unknown): body is WirePurchase {
  const b = body as WirePurchase | null;
  return (
    typeof b?.reference === 'string' &&
    typeof b.shipTo?.name === 'string' &&
    typeof b.shipTo.country === 'string' &&
    Array.isArray(b.lines) &&
    b.lines.length > 0 &&
    b.lines.every((l) => typeof l.sku === 'string' && Number.isInteger(l.quantity) && l.quantity > 0) &&
    new Set(b.lines.map((l) => l.line ?? l.sku)).size === b.lines.length
  );
}

function page(w: Warehouse, request: Request): Answer {
  const limit = Math.min(Math.max(Number(request.query.get('limit')) || 200, 1), 1000);
  const after = request.query.get('cursor') ?? '';
  const all = [...itemsOf(w).values()];
  const from = after ? all.findIndex((item) => item.sku > after) : 0;
  const slice = from < 0 ? [] : all.slice(from, from + limit);
  const last = slice.at(-1);
  const body: WireItemPage = {
    currency: houseOf(w).currency,
    total: all.length,
    items: slice.map(onWire),
    next: last && last !== all.at(-1) ? last.sku : null,
  };
  const etag = `"${createHash('sha256').update(JSON.stringify(body)).digest('base64url').slice(0, 22)}"`;
  return request.headers['if-none-match'] === etag
    ? { status: 304, headers: { etag } }
    : { status: 200, headers: { etag }, body };
}

/** A supplier's service, as its house is. */
export function supplier(w: Warehouse, faults: Faults, pace: Pace, now: () => number): Handler {
  const house = houseOf(w);
  return (request) => {
    if (request.method === 'GET' && request.path.startsWith('/pictures/')) {
      return {
        status: 200,
        headers: { 'content-type': 'image/svg+xml' },
        body: house.picture(request.path.slice(10)),
      };
    }
    if (!request.path.startsWith('/v1/')) return null;
    if (!allowed(w, request))
      return problem({
        status: 401,
        type: 'urn:wire:credentials',
        title: 'Account or key is wrong',
        detail: 'Check the account number and key.',
      });
    const at = `${request.method} ${request.path}`;
    if (at === 'GET /v1/account') {
      const body: WireSupplierAccount = {
        account: Object.keys(w.accounts)[0]!,
        name: house.name,
        currency: house.currency,
        zone: house.zone,
        balance: decimal(w.balance),
        items: itemsOf(w).size,
        shipping: house.shipping.map((b) => ({ upToGrams: b.upToGrams, price: decimal(b.minor) })),
        shipsTo: [...house.shipsTo],
        delivery: house.delivery.map((d) => ({ ...d, to: [...d.to] })),
        ...(house.services && {
          services: house.services.map(({ minor, to, ...s }) => ({
            ...s,
            to: [...to],
            extra: decimal(minor),
          })),
        }),
        ...(house.sites && {
          sites: house.sites.map(({ reaches, ...site }) => ({
            ...site,
            reaches: reaches.map(({ minor, to, days }) => ({ to: [...to], extra: decimal(minor), days })),
          })),
        }),
        ...(w.notices?.length && { notices: w.notices }),
        ...(house.address && { address: house.address }),
        ...(house.blanks.length && { blanks: house.blanks.length }),
      };
      return { status: 200, body };
    }
    if (at === 'GET /v1/items') return page(w, request);
    if (at === 'GET /v1/blanks' && house.blanks.length) {
      const body: WireBlanks = { currency: house.currency, blanks: [...house.blanks] };
      return { status: 200, body };
    }
    if (at === 'POST /v1/print-files' && house.blanks.length) {
      w.files ??= {};
      const taken = takeFile(w.files, request.body);
      if ('file' in taken) return { status: 200, body: taken };
      return problem({ status: 422, type: 'urn:wire:print', title: 'Print file', detail: taken.reason });
    }
    if (at === 'POST /v1/photos') {
      if (!Buffer.isBuffer(request.body) || request.body.length < 20)
        return problem({ status: 422, type: 'urn:wire:photo', title: 'This is no photograph' });
      const file = createHash('sha256').update(request.body).digest('hex');
      w.photos = [...(w.photos ?? []), file];
      return { status: 200, body: { file } };
    }
    const wrong = /^\/v1\/orders\/([^/]+)\/misprint$/.exec(request.path);
    if (wrong && request.method === 'POST') {
      const taken = misprint(w, decodeURIComponent(wrong[1]!), request.body as WireMisprint);
      return 'refusal' in taken ? problem(taken.refusal) : { status: 200, body: taken.answer };
    }
    const returned = /^\/v1\/orders\/([^/]+)\/(returns|send-again)$/.exec(request.path);
    if (returned && request.method === 'POST') {
      const number = decodeURIComponent(returned[1]!);
      const taken =
        returned[2] === 'returns'
          ? claim(w, number, request.body as WireClaim, now())
          : sendAgain(w, number, request.body as WireSendAgain, now());
      return 'refusal' in taken ? problem(taken.refusal) : { status: 200, body: taken.answer };
    }
    if (at === 'POST /v1/orders') {
      const key = request.headers['idempotency-key'];
      if (typeof key !== 'string' || key.length < 8)
        return problem({ status: 400, type: 'urn:wire:key-missing', title: 'Idempotency-Key is missing' });
      if (!isPurchase(request.body))
        return problem({ status: 400, type: 'urn:wire:unreadable', title: 'The order cannot be read' });
      const taken = purchase(w, key, request.body, now(), pace.shipAfter());
      return 'refusal' in taken
        ? problem(taken.refusal)
        : { status: taken.again ? 200 : 201, body: taken.answer };
    }
    const back = /^\/v1\/orders\/([^/]+)\/cancel$/.exec(request.path);
    if (back && request.method === 'POST') {
      const { lines } = (request.body ?? {}) as WireTakeBack;
      const taken = takeBack(w, decodeURIComponent(back[1]!), now(), lines);
      return 'refusal' in taken ? problem(taken.refusal) : { status: 200, body: taken.answer };
    }
    if (request.method === 'GET' && request.path.startsWith('/v1/statements'))
      return statementAnswer(statementsOf(w, now()), request.path, request.query);
    const references = request.query.getAll('reference');
    if (at === 'GET /v1/orders' && references.length > 0) {
      const body: WirePurchasesFound = {
        orders: w.purchases
          .filter((p) => references.includes(p.reference))
          .map((p) => purchaseOnWire(p, house.currency)),
      };
      return { status: 200, body };
    }
    if (at === 'GET /v1/orders') {
      const { keys, next, more } = readFeed(w.feed, request.query, faults);
      const body: WireSupplierChanges = {
        changes: keys.map((n) => purchaseOnWire(w.purchases.find((p) => p.number === n)!, house.currency)),
        next,
        more,
      };
      return { status: 200, body };
    }
    return null;
  };
}

/** Provoking things: costs, stock, moving purchases on. */
export function supplierControl(w: Warehouse, faults: Faults, pace: Pace, now: () => number): Handler {
  return (request) => {
    const body = (request.body ?? {}) as Record<string, unknown>;
    const skus = Array.isArray(body.skus) ? body.skus.filter((s): s is string => typeof s === 'string') : [];
    switch (`${request.method} ${request.path}`) {
      case 'GET /control':
        return {
          status: 200,
          body: {
            faults: faults.settings,
            pace: pace.name,
            balance: w.balance,
            purchases: w.purchases.length,
            open: w.purchases.filter((p) => p.status !== 'delivered' && p.status !== 'cancelled').length,
          },
        };
      case 'GET /control/purchases':
        return { status: 200, body: w.purchases };
      case 'POST /control/faults':
        faults.set(body as Partial<FaultSettings>);
        return { status: 200, body: faults.settings };
      case 'POST /control/cost': {
        const percent = Number(body.percent);
        if (!Number.isFinite(percent)) return problem({ status: 400, title: 'percent must be a number' });
        for (const sku of skus)
          move(w, sku, { cost: Math.round((itemsOf(w).get(sku)?.cost ?? 0) * (1 + percent / 100)) });
        return { status: 200, body: { moved: skus.length } };
      }
      case 'POST /control/stock': {
        const stock = Number(body.stock);
        if (!Number.isInteger(stock)) return problem({ status: 400, title: 'stock must be a whole number' });
        for (const sku of skus) move(w, sku, { stock });
        return { status: 200, body: { moved: skus.length } };
      }
      case 'POST /control/balance':
        w.balance = Math.max(0, Math.round(Number(body.minor) || 0));
        return { status: 200, body: { balance: w.balance } };
      case 'POST /control/advance': {
        const open = w.purchases.filter((p) => p.status === (body.status ?? 'accepted'));
        for (const p of open) advance(w, p.number, now(), pace.deliverAfter());
        return { status: 200, body: { moved: open.length } };
      }
      case 'POST /control/cancel': {
        const accepted = w.purchases.filter((p) => p.status === 'accepted');
        if (body.pieces) {
          const isPart = (p: (typeof accepted)[number]) => leftOf(p).reduce((n, l) => n + l.quantity, 0) > 1;
          const p = accepted.findLast(isPart);
          if (!p) return problem({ status: 409, title: 'No accepted order has more than one piece' });
          callOff(w, p, [{ ...leftOf(p)[0]!, quantity: 1 }]);
          return { status: 200, body: { cancelled: 1 } };
        }
        const open = accepted.slice(-Math.max(1, Number(body.n) || 1));
        for (const p of open) callOff(w, p);
        return { status: 200, body: { cancelled: open.length } };
      }
      case 'POST /control/stage':
        for (const p of w.purchases)
          if (p.stage && p.status === 'accepted') setStage(w, p, body.stage as MakerStage);
        return { status: 200, body: {} };
      case 'POST /control/site-out':
        w.siteOut = { ...w.siteOut, [String(body.site)]: skus };
        return { status: 200, body: w.siteOut };
      case 'POST /control/reprints':
        return { status: 200, body: { sent: sendReprints(w) } };
      case 'POST /control/settle-returns':
        return { status: 200, body: { settled: settleReturns(w) } };
      case 'POST /control/undeliverable': {
        const tracking = bringBack(w, now(), typeof body.reference === 'string' ? body.reference : undefined);
        return tracking
          ? { status: 200, body: { tracking } }
          : problem({ status: 409, title: 'No parcel is on its way' });
      }
      case 'POST /control/close-statement':
        return { status: 200, body: { lines: closeNow(w, now(), Number(body.wrong) || 0) } };
      case 'POST /control/surcharge':
        w.surcharge = Math.min(Math.max(Number(body.percent) || 0, 0), 100);
        return { status: 200, body: { percent: w.surcharge } };
      case 'POST /control/notices':
        w.notices = Array.isArray(body.notices) ? (body.notices as Warehouse['notices']) : [];
        return { status: 200, body: { notices: w.notices } };
      case 'POST /control/reset':
        startAnew(w);
        return { status: 200, body: {} };
      case 'POST /control/pace':
        pace.set(body.pace);
        return { status: 200, body: { pace: pace.name } };
      default:
        return null;
    }
  };
}
