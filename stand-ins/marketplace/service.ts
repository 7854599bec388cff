import { createHash, randomBytes } from 'node:crypto';
import type {
  WireCancel,
  WireDecline,
  WireDispatch,
  WireKnownListing,
  WireListing,
  WireListingAnswer,
  WireListingPage,
  WireListingResults,
  WireMarketAccount,
  WireOffer,
  WireOfferResults,
  WireOrderChanges,
  WireRefund,
  WireReturnAnswer,
} from '../../src/connect/wire';
import { type Answer, type Handler, problem, type Request } from '../answer';
import type { FaultSettings, Faults } from '../faults';
import { readFeed } from '../feed';
import type { Chance } from '../random';
import { statementAnswer } from '../statements';
import { buyersPicture } from './buyers-picture';
import { exampleFile, takeListingFile } from './listing-file';
import {
  askToCancel,
  cancelLines,
  dispatchedOf,
  dispatchParcel,
  type Grant,
  keepPicture,
  lapseRequests,
  listingErrors,
  type Market,
  openMarket,
  putListing,
  putOffer,
  type SaleWish,
  sellMany,
  soldOf,
  specOf,
  touch,
} from './market';
import {
  answerReturn,
  moveReturns,
  openReturn,
  type ReturnWish,
  refundOrder,
  winChargebacks,
  workOnReturns,
} from './returns';
import { closeNow, statementsOf } from './statements';

const escapeHtml = (text: string) => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** Applications on the seller's own machine may come back to any of its ports (RFC 8252, section 7.3). */
function isLoopback(redirect: string): boolean {
  try {
    const url = new URL(redirect);
    return url.protocol === 'http:' && ['127.0.0.1', 'localhost'].includes(url.hostname);
  } catch {
    return false;
  }
}

function consentPage(m: Market, query: URLSearchParams): Answer {
  const { house, site } = specOf(m);
  const redirect = query.get('redirect_uri') ?? '';
  const fields = ['redirect_uri', 'state', 'code_challenge']
    .map((n) => `<input type="hidden" name="${n}" value="${escapeHtml(query.get(n) ?? '')}">`)
    .join('');
  const bad =
    !isLoopback(redirect) || query.get('code_challenge_method') !== 'S256' || !query.get('code_challenge');
  const body = bad
    ? '<h1>This request cannot be granted</h1><p>The application that sent you here did not say properly where to return.</p>'
    : `<h1>${house}</h1><p>Signed in as <b>Dusk &amp; Dipper</b>, Bristol.</p><p><b>Sampan</b> asks to read your orders, and to create and change listings on ${site.name}.</p>
<form method="post" action="/consent">${fields}<button name="answer" value="allow">Allow</button> <button name="answer" value="refuse">Refuse</button></form>`;
  return page(`${house}: consent`, body, bad ? 400 : 200);
}

/** A listing as its buyer would see it. */
function goodsPage(m: Market, id: string): Answer {
  const listing = Object.values(m.listings).find((l) => l.id === id);
  const { house, site } = specOf(m);
  if (!listing || listing.state === 'draft')
    return problem({
      status: 404,
      title: listing ? 'This is a draft: buyers do not see it.' : 'No such goods',
    });
  const facts = Object.entries({ ...listing.options, ...listing.attributes })
    .map(([name, value]) => `<tr><th>${escapeHtml(name)}<td>${escapeHtml(value)}`)
    .join('');
  const shown =
    listing.state === 'live' && listing.quantity
      ? `${listing.quantity} in stock`
      : 'not for sale at the moment';
  // Descriptions were checked when the listing was taken: nothing active is in them.
  const pictures = listing.pictures
    .map((path, k) =>
      Object.hasOwn(m.pictures ?? {}, path)
        ? `<img src="${escapeHtml(path)}" alt="${escapeHtml(listing.alts?.[k] ?? '')}" width="200">`
        : '',
    )
    .join('');
  const body = `<p>${escapeHtml(site.name)}</p><h1>${escapeHtml(listing.title)}</h1><p><b>${listing.price} ${site.currency}</b>, ${shown}</p>${pictures}${listing.description}<table>${facts}</table>`;
  return page(`${listing.title} · ${house}`, body);
}

const MOST_VISITS = 500;

/** Somebody came to a page by an address with a mark in it, and will buy. */
function noteVisit(m: Market, id: string, via: string | null): void {
  const listing = Object.values(m.listings).find((l) => l.id === id);
  if (!listing || !via || !/^[\w.-]{1,40}$/.test(via)) return;
  m.visits = [...(m.visits ?? []), { sku: listing.sku, via }].slice(-MOST_VISITS);
}

const page = (title: string, body: string, status = 200): Answer => ({
  status,
  headers: {
    'content-type': 'text/html; charset=utf-8',
    'content-security-policy':
      "default-src 'none'; style-src 'unsafe-inline'; img-src 'self'; frame-ancestors 'none'",
  },
  body: `<!doctype html><html lang="en"><meta charset="utf-8"><title>${escapeHtml(title)}</title><style>body{font:16px/1.5 sans-serif;max-width:34rem;margin:12vh auto;padding:0 1rem;color:#2b2118;background:#fbf7f0}button{font:inherit;padding:.5rem 1.2rem;margin-right:.5rem}th{text-align:left;font-weight:normal;padding-right:1rem}</style>${body}</html>`,
});

function consentAnswer(m: Market, body: Record<string, string>): Answer {
  if (!isLoopback(body.redirect_uri ?? '')) return problem({ status: 400, title: 'Bad redirect_uri' });
  const back = new URL(body.redirect_uri!);
  back.searchParams.set('state', body.state ?? '');
  if (body.answer === 'allow') {
    const code = randomBytes(18).toString('base64url');
    m.codes[code] = { challenge: body.code_challenge ?? '', redirect: body.redirect_uri! };
    back.searchParams.set('code', code);
  } else back.searchParams.set('error', 'access_denied');
  return { status: 303, headers: { location: back.href } };
}

/** A token works for an hour. */
const TOKEN_ENDS = 3_600;

const secret = () => randomBytes(24).toString('base64url');

function given(m: Market, now: number, before: string | null): Answer {
  const grant: Grant = { access: secret(), until: now + TOKEN_ENDS * 1_000, refresh: secret(), before };
  m.grants = [...(m.grants ?? []).slice(-20), grant];
  return {
    status: 200,
    body: {
      access_token: grant.access,
      token_type: 'Bearer',
      expires_in: TOKEN_ENDS,
      refresh_token: grant.refresh,
      scope: 'orders listings',
    },
  };
}

const notValid = (detail: string) =>
  problem({ status: 400, type: 'urn:wire:grant', title: 'The code is not valid', detail });

function token(m: Market, body: Record<string, string>, now: number): Answer {
  if (body.grant_type === 'refresh_token') {
    const grant = m.grants?.find((g) => g.refresh === body.refresh_token);
    return grant
      ? given(m, now, grant.refresh)
      : notValid('It was renewed before, or the consent was withdrawn.');
  }
  const grant = Object.hasOwn(m.codes, body.code ?? '') ? m.codes[body.code!] : undefined;
  const challenge = createHash('sha256')
    .update(body.code_verifier ?? '')
    .digest('base64url');
  if (!grant || grant.challenge !== challenge || grant.redirect !== body.redirect_uri)
    return notValid('It was used before, or belongs to another request.');
  delete m.codes[body.code!];
  return given(m, now, null);
}

/** Whether a token is good. Once a renewed one is used, what renewed it is of no use any more. */
function isGood(m: Market, access: string, now: number): boolean {
  if (m.tokens.includes(access)) return true;
  const grant = m.grants?.find((g) => g.access === access);
  if (!grant || grant.until <= now) return false;
  if (grant.before !== null) m.grants = m.grants!.filter((g) => g.refresh !== grant.before);
  grant.before = null;
  return true;
}

export function marketplace(m: Market, faults: Faults, now: () => number): Handler {
  return (request) => {
    const at = `${request.method} ${request.path}`;
    if (at === 'GET /consent') return consentPage(m, request.query);
    if (at === 'POST /consent') return consentAnswer(m, (request.body ?? {}) as Record<string, string>);
    if (at === 'POST /token') return token(m, (request.body ?? {}) as Record<string, string>, now());
    const goods = /^\/goods\/([\w-]{1,20})$/.exec(request.path);
    if (goods && request.method === 'GET') {
      noteVisit(m, goods[1]!, request.query.get('via'));
      return goodsPage(m, goods[1]!);
    }
    const kept = request.method === 'GET' ? m.pictures?.[request.path] : undefined;
    if (kept)
      return { status: 200, headers: { 'content-type': kept.type }, body: Buffer.from(kept.data, 'base64') };
    if (!request.path.startsWith('/v1/')) return null;
    const [scheme, access] = (request.headers.authorization ?? '').split(' ');
    if (scheme !== 'Bearer' || !access || !isGood(m, access, now())) {
      return problem({
        status: 401,
        type: 'urn:wire:consent',
        title: 'Consent is missing or was withdrawn',
        detail: 'The consent was withdrawn or is not known.',
      });
    }
    return inside(m, faults, now, request, at);
  };
}

function inside(m: Market, faults: Faults, now: () => number, request: Request, at: string): Answer | null {
  if (at === 'GET /v1/account')
    return { status: 200, body: { seller: 'Dusk & Dipper', site: m.site } satisfies WireMarketAccount };
  const file = request.method === 'GET' ? /^\/v1\/files\/([\w.-]{1,80})$/.exec(request.path) : null;
  if (file) return { status: 200, headers: { 'content-type': 'image/png' }, body: buyersPicture(file[1]!) };
  if (at === 'GET /v1/site') return { status: 200, body: specOf(m).site };
  if (at === 'GET /v1/orders') {
    lapseRequests(m, now());
    workOnReturns(m, now());
    const { keys, next, more } = readFeed(m.feed, request.query, faults);
    const orders = keys.map((n) => m.orders.findLast((o) => o.number === n)!);
    return { status: 200, body: { orders, next, more } satisfies WireOrderChanges };
  }
  if (request.method === 'GET' && request.path.startsWith('/v1/statements'))
    return statementAnswer(statementsOf(m, now()), request.path, request.query);
  if (at === 'GET /v1/listings') return listingPage(m, request.query);
  if (at === 'PATCH /v1/offers') {
    const offers = (request.body as { offers?: WireOffer[] } | null)?.offers;
    if (!Array.isArray(offers) || offers.length > 200)
      return problem({
        status: 400,
        type: 'urn:wire:unreadable',
        title: 'offers must be a list of at most 200',
      });
    return {
      status: 200,
      body: { results: offers.map((o) => ({ sku: o.sku, ...putOffer(m, o) })) } as WireOfferResults,
    };
  }
  if (at === 'POST /v1/pictures') {
    const picture = keepPicture(m, request.headers['content-type'] ?? '', request.body);
    return picture
      ? { status: 200, body: { picture } }
      : problem({ status: 422, type: 'urn:wire:picture', title: 'Not a picture we can keep' });
  }
  if (at === 'POST /v1/listings') {
    const listings = (request.body as { listings?: WireListing[] } | null)?.listings;
    const most = specOf(m).site.limits?.listingsAtOnce ?? 1;
    if (!Array.isArray(listings) || listings.length > most)
      return problem({
        status: 400,
        type: 'urn:wire:unreadable',
        title: `listings must be a list of at most ${most}`,
      });
    const results: WireListingResults['results'] = listings.map((one) => {
      const errors = listingErrors(m, one);
      if (errors.length) return { ok: false, sku: one.sku, errors };
      return { ok: true, ...taken(request, putListing(m, one)) };
    });
    return { status: 200, body: { results } satisfies WireListingResults };
  }
  const listing = /^\/v1\/listings\/([^/]+)$/.exec(request.path);
  if (listing && request.method === 'PUT') {
    const body = { ...(request.body as WireListing), sku: decodeURIComponent(listing[1]!) };
    const errors = listingErrors(m, body);
    if (errors.length)
      return problem({
        status: 422,
        type: 'urn:wire:listing',
        title: 'The listing was refused',
        detail: errors.map((e) => e.reason).join(' '),
        errors,
      });
    return { status: 200, body: taken(request, putListing(m, body)) };
  }
  const one = /^\/v1\/orders\/([^/]+)$/.exec(request.path);
  if (one && request.method === 'GET') {
    const known = m.orders.findLast((o) => o.number === decodeURIComponent(one[1]!));
    return known
      ? { status: 200, body: known }
      : problem({ status: 404, type: 'urn:wire:unknown', title: 'No such order' });
  }
  const order = /^\/v1\/orders\/([^/]+)\/(dispatch|cancel|decline|message|refund|returns\/[^/]+)$/.exec(
    request.path,
  );
  if (order && request.method === 'POST')
    return onOrder(m, request, decodeURIComponent(order[1]!), order[2]!, now());
  return null;
}

/** What is answered to a listing that was taken, with the address of its page. */
const taken = (
  { headers }: Request,
  { sku, id, state, revision }: ReturnType<typeof putListing>,
): WireListingAnswer & { sku: string } => ({
  sku,
  id,
  state: state as WireListingAnswer['state'],
  revision,
  ...(headers.host && { page: `http://${headers.host}/goods/${id}` }),
});

/** The seller's listings, by SKU; a cursor is the last SKU of the page before. */
function listingPage(m: Market, query: URLSearchParams): Answer {
  const state = query.get('state') ?? 'all';
  const category = query.get('category');
  const after = query.get('cursor') ?? '';
  const limit = Math.min(Math.max(Number(query.get('limit')) || 100, 1), 500);
  const all = Object.values(m.listings)
    .filter((l) => (state === 'all' || l.state === state) && (!category || l.category === category))
    .sort((a, b) => (a.sku < b.sku ? -1 : 1));
  const slice = all.filter((l) => l.sku > after).slice(0, limit);
  const last = slice.at(-1);
  const body: WireListingPage = {
    currency: specOf(m).site.currency,
    total: all.length,
    listings: slice.map(({ revision: _, older: __, ...l }): WireKnownListing => l),
    next: last && last !== all.at(-1) ? last.sku : null,
  };
  return { status: 200, body };
}

function onOrder(m: Market, request: Request, number: string, step: string, now: number): Answer {
  const order = m.orders.findLast((o) => o.number === number);
  const key = request.headers['idempotency-key'];
  if (!order) return problem({ status: 404, type: 'urn:wire:unknown', title: 'No such order' });
  if (typeof key !== 'string')
    return problem({ status: 400, type: 'urn:wire:key-missing', title: 'Idempotency-Key is missing' });
  const body = JSON.stringify(request.body);
  const known = Object.hasOwn(m.keys, key) ? m.keys[key] : undefined;
  if (known)
    return known.body === body
      ? { status: 200, body: order }
      : problem({ status: 422, type: 'urn:wire:key-reused', title: 'Key used before' });
  if (step === 'message') {
    const text = (request.body as { text?: unknown } | null)?.text;
    if (typeof text !== 'string' || !text.trim() || text.length > 4000)
      return problem({ status: 422, type: 'urn:wire:message', title: 'A message has 1 to 4,000 characters' });
    m.messages = [...(m.messages ?? []), { number, text }];
    m.keys[key] = { body, number };
    return { status: 200, body: order };
  }
  if (step === 'decline') {
    const { request: id, reason } = (request.body ?? {}) as WireDecline;
    const asked = order.cancelRequest;
    if (asked?.id !== id || asked.state !== 'open' || typeof reason !== 'string' || !reason.trim())
      return problem({ status: 409, type: 'urn:wire:state', title: 'There is no such request to decline' });
    touch(m, order, { cancelRequest: { ...asked, state: 'declined' } });
    m.keys[key] = { body, number };
    return { status: 200, body: order };
  }
  if (step === 'refund' || step.startsWith('returns/')) {
    const wrong =
      step === 'refund'
        ? refundOrder(m, order, request.body as WireRefund)
        : answerReturn(m, order, decodeURIComponent(step.slice(8)), request.body as WireReturnAnswer);
    if (wrong) return problem({ status: 409, type: 'urn:wire:return', title: 'Return', detail: wrong });
    m.keys[key] = { body, number };
    return { status: 200, body: order };
  }
  if (order.status === 'cancelled')
    return problem({ status: 409, type: 'urn:wire:state', title: 'The order is cancelled' });
  if (step === 'dispatch') {
    const d = request.body as WireDispatch;
    const sent = order.dispatches?.some((one) => one.tracking === d?.tracking);
    if (order.status !== 'paid' || sent)
      return problem({
        status: 409,
        type: 'urn:wire:state',
        title: 'The order was dispatched before',
        detail: (order.dispatches ?? []).map((one) => one.tracking).join(', '),
      });
    if (!specOf(m).site.carriers.some((c) => c.code === d?.carrier))
      return problem({
        status: 422,
        type: 'urn:wire:carrier',
        title: 'Unknown carrier',
        errors: [{ field: 'carrier', reason: `We do not know “${d?.carrier}”.` }],
      });
    if (!Number.isFinite(Date.parse(d.shippedAt)) || Date.parse(d.shippedAt) > now + 60_000)
      return problem({ status: 422, type: 'urn:wire:time', title: 'shippedAt is not in the past' });
    dispatchParcel(m, order, d);
  } else {
    const { lines } = (request.body ?? {}) as WireCancel;
    const going = order.lines.flatMap((line) => {
      const to = lines ? (lines.find((one) => one?.id === line.id)?.quantity ?? 0) : line.quantity;
      const more = Math.min(to, line.quantity) - (line.cancelled ?? 0);
      return more > 0 ? [{ line, more }] : [];
    });
    const sent = going.some(({ line, more }) => soldOf(line) - dispatchedOf(order, line) < more);
    if (order.status !== 'paid' || sent || !going.length)
      return problem({ status: 409, type: 'urn:wire:state', title: 'The order is on its way' });
    cancelLines(m, order, lines);
  }
  m.keys[key] = { body, number };
  return { status: 200, body: order };
}

/** Provoking things: orders of every kind, withdrawn consent. */
export function marketplaceControl(m: Market, faults: Faults, luck: Chance, now: () => number): Handler {
  return (request) => {
    const body = (request.body ?? {}) as Record<string, unknown> & SaleWish;
    switch (`${request.method} ${request.path}`) {
      case 'GET /control':
        return {
          status: 200,
          body: {
            faults: faults.settings,
            orders: m.orders.length,
            listings: Object.keys(m.listings).length,
          },
        };
      case 'GET /control/orders':
        return { status: 200, body: m.orders };
      case 'GET /control/listings':
        return { status: 200, body: Object.values(m.listings).filter((l) => !l.older) };
      case 'POST /control/faults':
        faults.set(body as Partial<FaultSettings>);
        return { status: 200, body: faults.settings };
      case 'POST /control/orders': {
        const n = Math.min(Math.max(Number(body.n) || 1, 1), 2_000);
        const made = sellMany(m, luck, now(), body, n);
        return made.length
          ? { status: 200, body: { numbers: made.map((o) => o.number) } }
          : problem({ status: 409, title: 'Nothing is for sale' });
      }
      case 'POST /control/ask-to-cancel': {
        const wanted = m.orders.filter((o) => o.status === 'paid' && o.cancelRequest?.state !== 'open');
        const of = body.number ? wanted.filter((o) => o.number === body.number) : wanted;
        const last = of.filter((o) => !body.units || o.lines.some((l) => soldOf(l) > 1)).at(-1);
        if (!last) return problem({ status: 409, title: 'No paid order is left to ask for' });
        askToCancel(m, last, luck, now(), body.units ? 1 : undefined);
        return { status: 200, body: { number: last.number } };
      }
      case 'POST /control/return': {
        const sent = m.orders.filter((o) => o.status === 'shipped' || o.status === 'delivered');
        const of = body.number ? sent.filter((o) => o.number === body.number) : sent;
        for (const o of [...of].reverse()) {
          const made = openReturn(m, o, luck, now(), body as ReturnWish);
          if (made) return { status: 200, body: { number: o.number, id: made.id } };
        }
        return problem({ status: 409, title: 'No order that was sent is left to return' });
      }
      case 'POST /control/move-returns':
        return { status: 200, body: { moved: moveReturns(m, now()) } };
      case 'POST /control/close-statement':
        return { status: 200, body: { lines: closeNow(m, now(), Number(body.wrong) || 0) } };
      case 'POST /control/win-chargebacks':
        return { status: 200, body: { won: winChargebacks(m) } };
      case 'POST /control/answer': {
        // A buyer says otherwise what is to be made.
        const of = m.orders.findLast(
          (o) => o.number === body.number && o.lines.some((l) => l.personalisation || l.fields),
        );
        if (!of) return problem({ status: 409, title: 'No such order with words of its buyer' });
        const line = of.lines.find((l) => l.personalisation || l.fields)!;
        const { fields: _, ...others } = line;
        const changed = { ...others, personalisation: String(body.text ?? '').slice(0, 1_000) };
        touch(m, of, { lines: of.lines.map((l) => (l === line ? changed : l)) });
        return { status: 200, body: { number: of.number } };
      }
      case 'POST /control/cancel': {
        const paid = m.orders.filter((o) => o.status === 'paid');
        if (body.units) {
          const some = paid.flatMap((order) => {
            const line = order.lines.find((l) => soldOf(l) - dispatchedOf(order, l) > 1);
            return line ? [{ order, line }] : [];
          });
          const last = some.at(-1);
          if (!last) return problem({ status: 409, title: 'No paid order has more than one unit' });
          const { order, line } = last;
          cancelLines(m, order, [{ id: line.id, quantity: (line.cancelled ?? 0) + 1 }]);
          return { status: 200, body: { cancelled: 1 } };
        }
        const open = paid.slice(-Math.max(1, Number(body.n) || 1));
        for (const o of open) cancelLines(m, o);
        return { status: 200, body: { cancelled: open.length } };
      }
      case 'POST /control/edit': {
        // Somebody edits the newest listing on the site itself.
        const own = Object.values(m.listings).filter((l) => !l.older);
        const edited = own.find((l) => l.sku === body.sku) ?? own.at(-1);
        if (!edited) return problem({ status: 409, title: 'Nothing is listed' });
        Object.assign(edited, {
          title: typeof body.title === 'string' ? body.title : `${edited.title}, edited here`,
          ...(typeof body.price === 'string' && { price: body.price }),
        });
        return { status: 200, body: { sku: edited.sku } };
      }
      case 'POST /control/example':
        return { status: 200, body: { text: exampleFile(m) } };
      case 'POST /control/listing-file':
        return { status: 200, body: { text: takeListingFile(m, String(body.text ?? '')) } };
      case 'POST /control/fees':
        m.feeRise = Math.min(Math.max(Number(body.rise) || 0, 0), 20);
        return { status: 200, body: { rise: m.feeRise } };
      case 'POST /control/reset':
        m.statements = undefined;
        Object.assign(m, openMarket(m.site));
        return { status: 200, body: {} };
      case 'POST /control/expire':
        for (const grant of m.grants ?? []) grant.until = 0;
        return { status: 200, body: {} };
      case 'POST /control/withdraw':
        m.tokens = [];
        m.grants = [];
        return { status: 200, body: {} };
      default:
        return null;
    }
  };
}
