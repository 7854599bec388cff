import { createHash } from 'node:crypto';
import type { WireItemPage, WireOrder, WirePurchaseAnswer } from '../src/connect/wire';
import { type StandIns, startStandIns } from '../stand-ins/start';

/**
 * The stand-ins keep to the wire contract; whoever writes another service against it can start from these.
 */
let s: StandIns;
let time = Date.parse('2026-11-02T09:00:00Z');
const BASIC = { authorization: `Basic ${Buffer.from('DD-4471:lantern-moss-42').toString('base64')}` };
const JSON_BODY = { 'content-type': 'application/json' };
const bw = (path: string, init: RequestInit = {}) =>
  fetch(s.origins.brackwater + path, { ...init, headers: { ...BASIC, ...init.headers } });
const pw = (path: string, init: RequestInit = {}, token = 'tok') =>
  fetch(s.origins.pennywharf + path, {
    ...init,
    headers: { authorization: `Bearer ${token}`, ...init.headers },
  });
const post = (body: unknown, headers: Record<string, string> = {}): RequestInit => ({
  method: 'POST',
  headers: { ...JSON_BODY, ...headers },
  body: JSON.stringify(body),
});

beforeEach(async () => {
  s = await startStandIns({
    folder: null,
    pace: 'still',
    items: 60,
    port: 0,
    now: () => time,
  });
  s.market.tokens.push('tok');
});
afterEach(() => s.stop());

const purchase = (sku: string, quantity = 1) => ({
  reference: 'PW-1',
  shop: 'Dusk & Dipper',
  shipTo: { name: 'Nia Lind', line1: '4 Otter Row', town: 'Bath', postcode: 'BA1 5TT', country: 'GB' },
  lines: [{ sku, quantity }],
  slip: 'Clear skies',
});

async function anyItem(): Promise<{ sku: string; stock: number }> {
  const page = (await (await bw('/v1/items?limit=60')).json()) as WireItemPage;
  return page.items.find((i) => i.stock > 5)!;
}

test('nothing is told without account and key', async () => {
  const answer = await fetch(`${s.origins.brackwater}/v1/items`, {
    headers: { authorization: `Basic ${btoa('DD-4471:wrong')}` },
  });
  expect(answer.status).toBe(401);
  expect(answer.headers.get('content-type')).toBe('application/problem+json');
  expect(await answer.json()).toMatchObject({ status: 401, type: 'urn:wire:credentials' });
  expect((await fetch(`${s.origins.brackwater}/v1/account`)).status).toBe(401);
});

test('pages follow cursors to the end, each item once, and an unchanged page is not sent again', async () => {
  const skus: string[] = [];
  let cursor = '';
  for (;;) {
    const answer = await bw(`/v1/items?limit=25${cursor ? `&cursor=${cursor}` : ''}`);
    const page = (await answer.json()) as WireItemPage;
    expect(page.total).toBe(60);
    skus.push(...page.items.map((i) => i.sku));
    const again = await bw(`/v1/items?limit=25${cursor ? `&cursor=${cursor}` : ''}`, {
      headers: { 'if-none-match': answer.headers.get('etag')! },
    });
    expect(again.status).toBe(304);
    if (!page.next) break;
    cursor = page.next;
  }
  expect(skus).toHaveLength(60);
  expect(new Set(skus).size).toBe(60);
});

test('a purchase with the same key is taken once and answered the same; another body with that key is refused', async () => {
  const { sku, stock } = await anyItem();
  const first = await bw('/v1/orders', post(purchase(sku, 2), { 'idempotency-key': 'key-00000001' }));
  const again = await bw('/v1/orders', post(purchase(sku, 2), { 'idempotency-key': 'key-00000001' }));
  const other = await bw('/v1/orders', post(purchase(sku, 1), { 'idempotency-key': 'key-00000001' }));
  expect([first.status, again.status, other.status]).toEqual([201, 200, 422]);
  expect(((await again.json()) as WirePurchaseAnswer).number).toBe(
    ((await first.json()) as WirePurchaseAnswer).number,
  );
  expect(s.warehouse.purchases).toHaveLength(1);
  const page = (await (await bw('/v1/items?limit=60')).json()) as WireItemPage;
  expect(page.items.find((i) => i.sku === sku)!.stock).toBe(stock - 2);
});

test.each([
  ['no key', (sku: string) => bw('/v1/orders', post(purchase(sku))), 400],
  [
    'too many',
    (sku: string) => bw('/v1/orders', post(purchase(sku, 9999), { 'idempotency-key': 'key-00000002' })),
    409,
  ],
  [
    'an unknown item',
    () => bw('/v1/orders', post(purchase('BW-none'), { 'idempotency-key': 'key-00000003' })),
    409,
  ],
  [
    'a strange country',
    (sku: string) =>
      bw(
        '/v1/orders',
        post(
          { ...purchase(sku), shipTo: { ...purchase(sku).shipTo, country: 'US' } },
          { 'idempotency-key': 'key-00000004' },
        ),
      ),
    422,
  ],
  [
    'no lines',
    (sku: string) =>
      bw('/v1/orders', post({ ...purchase(sku), lines: [] }, { 'idempotency-key': 'key-00000005' })),
    400,
  ],
  ['broken JSON', () => bw('/v1/orders', { method: 'POST', headers: JSON_BODY, body: '{' }), 400],
] as const)('a purchase with %s is refused and costs nothing', async (_, ask, status) => {
  const { sku } = await anyItem();
  const before = s.warehouse.balance;
  expect((await ask(sku)).status).toBe(status);
  expect(s.warehouse.purchases).toHaveLength(0);
  expect(s.warehouse.balance).toBe(before);
});

test('a purchase is found by its reference, and taken back while it has not left: the money and the goods come back but for what was picked', async () => {
  const { sku, stock } = await anyItem();
  const before = s.warehouse.balance;
  const { number } = (await (
    await bw('/v1/orders', post(purchase(sku, 2), { 'idempotency-key': 'key-00000010' }))
  ).json()) as WirePurchaseAnswer;
  const find = async (reference: string) =>
    (await (await bw(`/v1/orders?reference=${reference}`)).json()).orders;
  expect(await find('PW-1')).toMatchObject([{ number, status: 'accepted' }]);
  expect(await find('PW-2')).toEqual([]);
  const cancel = () =>
    bw(`/v1/orders/${number}/cancel`, post({ reason: 'x' }, { 'idempotency-key': 'back-0000001' }));
  for (let k = 0; k < 2; k++)
    expect(await (await cancel()).json()).toMatchObject({
      status: 'cancelled',
      charge: { goods: '0.00', shipping: '0.00' },
    });
  expect([s.warehouse.balance, (await anyItem()).stock]).toEqual([before, stock]);
  expect(await find('PW-1')).toMatchObject([{ status: 'cancelled' }]);
  const other = (await (
    await bw('/v1/orders', post(purchase(sku), { 'idempotency-key': 'key-00000011' }))
  ).json()) as WirePurchaseAnswer;
  await fetch(`${s.origins.brackwater}/control/advance`, post({ status: 'accepted' }));
  const late = await bw(
    `/v1/orders/${other.number}/cancel`,
    post({ reason: 'x' }, { 'idempotency-key': 'back-0000002' }),
  );
  expect([late.status, (await late.json()).type]).toEqual([409, 'urn:wire:state']);
  expect((await bw('/v1/orders/BT-1/cancel', post({}, { 'idempotency-key': 'back-0000003' }))).status).toBe(
    404,
  );
});

test('an order on its way shows up in the feed after its cursor, with carrier and number', async () => {
  const { sku } = await anyItem();
  await bw('/v1/orders', post(purchase(sku), { 'idempotency-key': 'key-00000006' }));
  const first = await (await bw('/v1/orders')).json();
  expect(first.changes.map((c: { status: string }) => c.status)).toEqual(['accepted']);
  await fetch(`${s.origins.brackwater}/control/advance`, post({ status: 'accepted' }));
  const second = await (await bw(`/v1/orders?after=${first.next}`)).json();
  expect(second.changes).toMatchObject([
    {
      status: 'shipped',
      reference: 'PW-1',
      parcels: [{ carrier: 'Rookline Parcels', tracking: expect.stringMatching(/^LX\d{9}GB$/) }],
    },
  ]);
  expect((await (await bw(`/v1/orders?after=${second.next}`)).json()).changes).toEqual([]);
  // A page at a time, as long as it is asked for.
  const page = await (await bw('/v1/orders?limit=1')).json();
  expect([page.changes.length, page.more]).toEqual([1, true]);
  const rest = await (await bw(`/v1/orders?limit=1&after=${page.next}`)).json();
  expect([rest.changes.length, rest.more, rest.next]).toEqual([1, false, second.next]);
});

const VERIFIER = 'a-verifier-of-forty-three-characters-or-more-1234';
const CHALLENGE = createHash('sha256').update(VERIFIER).digest('base64url');
const consent = (answer: string, redirect = 'http://127.0.0.1:4800/connections/return') =>
  fetch(`${s.origins.pennywharf}/consent`, {
    method: 'POST',
    redirect: 'manual',
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
    body: new URLSearchParams({ redirect_uri: redirect, state: 'st', code_challenge: CHALLENGE, answer }),
  });
const exchange = (code: string, verifier = VERIFIER) =>
  fetch(`${s.origins.pennywharf}/token`, {
    method: 'POST',
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
    body: new URLSearchParams({
      code,
      code_verifier: verifier,
      redirect_uri: 'http://127.0.0.1:4800/connections/return',
    }),
  });

test('consent gives a code that works once, with the secret of who began it', async () => {
  const back = new URL((await consent('allow')).headers.get('location')!);
  expect(back.searchParams.get('state')).toBe('st');
  const code = back.searchParams.get('code')!;
  expect((await exchange(code, 'guessed')).status).toBe(400);
  const token = await (await exchange(code)).json();
  expect((await pw('/v1/account', {}, token.access_token)).status).toBe(200);
  expect((await exchange(code)).status).toBe(400);
});

test('a refused consent comes back with an error, and nobody is sent to another machine', async () => {
  expect(new URL((await consent('refuse')).headers.get('location')!).searchParams.get('error')).toBe(
    'access_denied',
  );
  expect((await consent('allow', 'https://evil.example/return')).status).toBe(400);
  const page = await fetch(
    `${s.origins.pennywharf}/consent?redirect_uri=${encodeURIComponent('"><script>')}`,
  );
  expect(page.status).toBe(400);
  expect(await page.text()).not.toContain('<script>');
});

const LISTING = {
  title: 'Red torch',
  description: '<p>Red</p>',
  category: 'lighting',
  brand: 'Fellmoor',
  pictures: ['/p.svg'],
  price: '12.99',
  quantity: 3,
  state: 'live',
  attributes: {
    condition: 'new',
    handling: '2',
    returns: 'r30',
    delivery: 'parcel',
    'tax-class': 'standard',
  },
};
const put = (sku: string, change: object = {}) =>
  pw(`/v1/listings/${sku}`, {
    method: 'PUT',
    headers: JSON_BODY,
    body: JSON.stringify({ ...LISTING, ...change }),
  });

test.each([
  ['title', { title: 'x'.repeat(76) }],
  ['title', { title: 'The best torch' }],
  ['title', { title: '<b>torch</b>' }],
  ['description', { description: '<script>x</script>' }],
  ['category', { category: 'nothing' }],
  ['gtin', { category: 'optics' }],
  ['pictures', { pictures: [] }],
  ['condition', { attributes: {} }],
  ['colour', { attributes: { ...LISTING.attributes, colour: 'mint' } }],
  ['price', { price: '0.10' }],
  ['quantity', { quantity: -1 }],
])('a listing with a bad %s is refused by name', async (field, change) => {
  const answer = await put('DD-1', change);
  expect(answer.status).toBe(422);
  expect((await answer.json()).errors.map((e: { field: string }) => e.field)).toContain(field);
  expect(Object.keys(s.market.listings)).toEqual([]);
});

test('offers are answered one by one', async () => {
  await put('DD-1');
  const answer = await pw('/v1/offers', {
    method: 'PATCH',
    headers: JSON_BODY,
    body: JSON.stringify({
      offers: [
        { sku: 'DD-1', price: '13.99', quantity: 2, state: 'live' },
        { sku: 'DD-9', price: '1.00', quantity: 1, state: 'live' },
      ],
    }),
  });
  expect((await answer.json()).results).toMatchObject([
    { sku: 'DD-1', ok: true, revision: 2 },
    { sku: 'DD-9', ok: false },
  ]);
});

test('an order is dispatched once; the same key is answered again, another is refused', async () => {
  await put('DD-1');
  const { numbers } = await (await fetch(`${s.origins.pennywharf}/control/orders`, post({ n: 1 }))).json();
  const dispatch = (key: string, change: object = {}) =>
    pw(
      `/v1/orders/${numbers[0]}/dispatch`,
      post(
        {
          carrier: 'rookline',
          tracking: 'LX406160077GB',
          shippedAt: new Date(time).toISOString(),
          ...change,
        },
        { 'idempotency-key': key },
      ),
    );
  expect((await dispatch('k1', { carrier: 'unknown' })).status).toBe(422);
  expect((await dispatch('k1', { shippedAt: new Date(time + 3_600_000).toISOString() })).status).toBe(422);
  expect([
    (await dispatch('k1')).status,
    (await dispatch('k1')).status,
    (await dispatch('k2')).status,
  ]).toEqual([200, 200, 409]);
  const feed = await (await pw('/v1/orders')).json();
  const order = (feed.orders as WireOrder[]).at(-1)!;
  // 12.99: fee 12 % = 1.5588 → 1.56 a unit and 0.20; payment 2.4 % and 0.25.
  const units = order.lines[0]!.quantity;
  expect(order.charges).toEqual([
    { kind: 'sale', name: 'Sale fee', amount: (1.56 * units).toFixed(2) },
    { kind: 'sale', name: 'Order fee', amount: '0.20' },
    {
      kind: 'payment',
      name: 'Payment fee',
      amount: (Math.round(12.99 * units * 2.4) / 100 + 0.25).toFixed(2),
    },
  ]);
  expect(
    (await pw(`/v1/orders/${numbers[0]}/cancel`, post({ reason: 'x' }, { 'idempotency-key': 'k3' }))).status,
  ).toBe(409);
});

test('provoked faults happen as often as asked, and the control door stays open', async () => {
  const fault = (body: object) => fetch(`${s.origins.brackwater}/control/faults`, post(body));
  await fault({ tooMany: 2 });
  const limited = await bw('/v1/account');
  expect([limited.status, limited.headers.get('retry-after')]).toEqual([429, '3']);
  expect([(await bw('/v1/account')).status, (await bw('/v1/account')).status]).toEqual([429, 200]);
  await fault({ outage: true });
  expect((await bw('/v1/account')).status).toBe(503);
  await fault({ outage: false, loseAnswers: 1 });
  const { sku } = await anyItem();
  await expect(
    bw('/v1/orders', post(purchase(sku), { 'idempotency-key': 'key-00000007' })),
  ).rejects.toThrow();
  expect(s.warehouse.purchases).toHaveLength(1);
  time += 1;
});
