import { marketService } from '@/connect/marketplace';
import type { Reach } from '@/connect/reach';
import { supplierService } from '@/connect/supplier';
import { cleanHtml } from '@/core/copy';
import { healthOf } from '@/store';
import { SPOILS } from '../stand-ins/faults';
import { itemsIn, setOut } from './voyage';

const ITEM = {
  sku: 'BW-1',
  title: 'Torch',
  brand: 'B',
  category: 'Lighting',
  cost: '4.20',
  stock: 3,
  grams: 90,
  description: '<p>Red</p>',
  pictures: ['/pictures/a.svg'],
};
const answers =
  (body: unknown, init: ResponseInit = {}): Reach =>
  async () =>
    new Response(typeof body === 'string' ? body : JSON.stringify(body), init);
const page = (items: unknown[], more: object = {}) =>
  supplierService(
    answers({ currency: 'GBP', total: items.length, next: null, items, ...more }),
    's',
    'Basic x',
    'GBP',
  ).page('', null, 200);

test.each([
  ['negative cost', { cost: '-3.20' }, /cost/],
  ['no cost', { cost: undefined }, /cost/],
  ['a number for an amount', { cost: 4.2 }, /cost/],
  ['nothing for a cost', { cost: '0.00' }, /cost: 0/],
  ['a tenth of a penny', { cost: '4.205' }, /more digits/],
  ['an absurd cost', { cost: '99999999.00' }, /larger than any amount/],
  ['an absurd stock', { stock: 9e15 }, /stock/],
  ['half a piece', { stock: 1.5 }, /stock/],
  ['only markup for a title', { title: '<script>x</script>' }, /title/],
  ['a title of a megabyte', { title: 'x'.repeat(1e6) }, /title/],
  ['options that are not text', { options: { Size: { toString: 1 } } }, /options/],
  ['not an object', null, /not an object/],
])('refuses %s and takes the rest of the page', async (_, change, reason) => {
  const bad = change === null ? 'x' : { ...ITEM, sku: 'BW-2', ...change };
  const answer = await page([ITEM, bad, { ...ITEM, sku: 'BW-3' }]);
  if (!answer.ok || answer.value.unchanged) throw new Error('the page was refused');
  const read = answer.value.items.map((i) => i.read());
  expect(read.flatMap((r) => ('item' in r ? [r.item.sku] : []))).toEqual(['BW-1', 'BW-3']);
  expect(read.flatMap((r) => ('reason' in r ? [r.reason] : []))).toEqual([expect.stringMatching(reason)]);
});

test('names lose their markup, pictures come only from paths of the supplier, descriptions cannot run', async () => {
  const answer = await page([
    {
      ...ITEM,
      title: '<img src=x onerror=a()>Torch<script>b()</script>',
      description: '<p onclick="c()">Red</p><iframe src="//x"></iframe>',
      pictures: [
        'https://elsewhere.example/a.png',
        '//x/a.png',
        '/pictures/../../etc',
        '/pictures/a.svg',
        'javascript:x',
      ],
    },
  ]);
  if (!answer.ok || answer.value.unchanged) throw new Error();
  const read = answer.value.items[0]!.read();
  if (!('item' in read)) throw new Error(read.reason);
  expect(read.item.title).toBe('Torch');
  expect(read.detail.pictures).toEqual(['/pictures/a.svg']);
  expect(cleanHtml(read.detail.description)).toBe('<p>Red</p>');
});

test.each([
  ['another currency', () => page([ITEM], { currency: 'USD' }), /came in USD, not in GBP/],
  ['items that are no list', () => page([], { items: 'x' }), /cannot be read/],
  [
    'half a JSON',
    () => supplierService(answers('{"items":['), 's', '', 'GBP').page('', null, 200),
    /not whole JSON/,
  ],
  [
    'an endless answer',
    () => supplierService(answers('x'.repeat(9_000_000)), 's', '', 'GBP').page('', null, 200),
    /larger than 8 MB/,
  ],
])('refuses a page with %s and says why', async (_, ask, says) => {
  const answer = await ask();
  expect(answer).toMatchObject({ ok: false, trouble: { kind: 'nonsense' } });
  if (!answer.ok) expect(answer.trouble.says).toMatch(says);
});

test.each([
  [401, 'credentials'],
  [403, 'credentials'],
  [429, 'limit'],
  [500, 'outage'],
  [502, 'unreachable'],
  [503, 'outage'],
  [409, 'refused'],
  [422, 'refused'],
] as const)('status %i is %s', async (status, kind) => {
  const headers = { 'retry-after': '7', 'content-type': 'application/problem+json' };
  const reach = answers(
    { type: 'urn:wire:state', title: 'No', status, detail: 'Because' },
    { status, headers },
  );
  const answer = await supplierService(reach, 's', '', 'GBP').account();
  expect(answer).toMatchObject({ ok: false, trouble: { kind, ...(status === 429 && { retryAfter: 7000 }) } });
});

test.each([
  ['a page', '<h1>Not Found</h1>', 'text/html', 404],
  ['JSON of its own', '{"error":"no"}', 'application/json', 404],
  [
    'a problem without a type of the contract',
    '{"type":"about:blank","title":"No"}',
    'application/problem+json',
    413,
  ],
  [
    'a type of the contract that is no problem document',
    '{"type":"urn:wire:state"}',
    'application/json',
    409,
  ],
])('%s of somebody between refuses nothing', async (_, body, type, status) => {
  const answer = await supplierService(
    answers(body, { status, headers: { 'content-type': type } }),
    's',
    '',
    'GBP',
  ).account();
  expect(answer).toMatchObject({ ok: false, trouble: { kind: 'stray', status } });
});

test('an order in another currency or with a negative amount is left out with a reason, the others come in', async () => {
  const order = {
    number: 'PW-1',
    status: 'paid',
    currency: 'GBP',
    paidAt: '2026-11-02T09:00:00Z',
    shipBy: '2026-11-04T09:00:00Z',
    buyer: { name: 'N', email: 'n@mail.example' },
    shipTo: { name: 'N', line1: '1', town: 'Bath', postcode: 'BA1 5TT', country: 'GB' },
    lines: [{ id: '1', sku: 'DD-1', title: 'T', quantity: 1, unitPrice: '9.99' }],
  };
  const orders = [
    order,
    { ...order, number: 'PW-2', currency: 'EUR' },
    { ...order, number: 'PW-3', lines: [{ ...order.lines[0], unitPrice: '-1.00' }] },
    { ...order, number: 'PW-4', lines: [{ ...order.lines[0], quantity: 0 }] },
  ];
  const answer = await marketService(answers({ orders, next: 'c4', more: false }), 'm', 't', 'GBP').orders(
    null,
  );
  if (!answer.ok) throw new Error(answer.trouble.says);
  expect(answer.value.orders.map((o) => o.number)).toEqual(['PW-1']);
  expect(answer.value.refused).toHaveLength(3);
});

test.each(SPOILS)(
  'a catalogue spoiled by %s leaves what was known whole and heals by itself',
  async (spoil) => {
    const v = await setOut({ items: 40 });
    try {
      await v.settle();
      const known = async () => (await itemsIn(v.work.db)).size;
      expect(await known()).toBe(40);
      v.outside.faults.brackwater.set({ spoil });
      await v.work.db.jobs.update('brackwater:catalogue', { nextAt: 0 });
      await v.settle(1_000);
      expect(await known()).toBe(40);
      const job = (await v.work.db.jobs.get('brackwater:catalogue'))!;
      const c = await healthOf(v.work.db, 'brackwater');
      const said = `${job.lastSays} ${c.trouble?.says ?? ''}`;
      if (spoil !== 'markup') expect(said).toMatch(/not taken|not whole JSON|larger than 8 MB|not in GBP/);
      v.outside.faults.brackwater.set({ spoil: null });
      await v.settle(20 * 60_000);
      expect(await known()).toBe(40);
      expect((await healthOf(v.work.db, 'brackwater')).trouble).toBeNull();
    } finally {
      await v.end();
    }
  },
);
