import { pastedMail, readMailFile } from '@/connect/mail';
import { chargeOf, numberOf, parcelsOf, standingOf } from '@/core/orders';
import type { Order } from '@/store';
import { keepSender, readMails, takeMail } from '@/work/orders/mails';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
let n = 0;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(6);
  // What is bought goes by hand: nothing but mails tells of it.
  await v.work.db.connections.update('brackwater', {
    lanes: { catalogue: 'service', purchases: 'by hand', tracking: 'by hand' },
  } as never);
});
afterEach(() => v.end());

const sold = async (): Promise<Order> => {
  const made = sell(v.outside.market, chance(++n + 7), v.work.clock(), { quantity: 1 })!;
  await v.settle(61_000);
  return (await v.work.db.orders.get(`pennywharf:${made.number}`))!;
};
const now = async ({ id }: Order) => (await v.work.db.orders.get(id))!;
const eml = (body: string, headers = '') =>
  new Blob([
    `From: Stock desk <desk@brackwater.example>\r\nTo: shop@mail.example\r\nSubject: Your order\r\nDate: Mon, 02 Nov 2026 10:00:00 +0000\r\n${headers}\r\n${body}`,
  ]);
const agreed = ({ proposals }: Awaited<ReturnType<typeof readMails>>[number]) => {
  const { about, number, parcels, total, cancelled } = proposals[0]!.finding;
  return {
    ...{ order: about.order, reference: about.reference, supplier: about.supplier },
    number: number?.value ?? '',
    parcels: parcels.map(({ value, carrier }) => ({ tracking: value, carrier })),
    total: total?.value ?? null,
    cancelled: cancelled !== null,
  };
};

test('a mail gives number, charge and tracking of an order; the marketplace is told once, however often it is read', async () => {
  const order = await sold();
  expect(standingOf(order)).toBe('forwarding');
  const { goods, shipping } = order.purchases[0]!.expected;
  const total = ((goods + shipping) / 100).toFixed(2);
  const file = eml(
    `Order ${order.number} is confirmed.\nOur reference: BT-90017\nTotal: £${total}\nFen Post, tracking number: FP 2231 8890 12`,
    'Content-Type: text/plain; charset=utf-8\r\n',
  );
  const [read] = await readMails(v.work, [file], ['a.eml']);
  expect(read!.proposals).toMatchObject([{ doubt: '', known: false }]);
  // Nothing is done before a person says so.
  expect((await now(order)).purchases[0]!.state).toBe('waiting');
  expect(await takeMail(v.work, agreed(read!))).toEqual({ ok: true });
  await v.settle();
  const moved = await now(order);
  expect(numberOf(moved.purchases[0]!)).toBe('BT-90017');
  expect(chargeOf(moved.purchases[0]!)).toEqual({ goods, shipping });
  expect(parcelsOf(moved.purchases[0]!).map((p) => p.tracking)).toEqual(['FP2231889012']);
  const told = () => v.outside.market.orders.find((o) => o.number === order.number)!.dispatches;
  expect(told()).toMatchObject([{ tracking: 'FP2231889012' }]);
  const [again] = await readMails(v.work, [file], ['a.eml']);
  expect(again!.proposals[0]?.known ?? true).toBe(true);
  await takeMail(v.work, agreed(read!));
  await v.settle();
  expect(told()).toHaveLength(1);
  expect(parcelsOf((await now(order)).purchases[0]!)).toHaveLength(1);
});

test('a trusted sender’s clear mails are taken by themselves; doubtful ones, odd senders and cancellations are asked about', async () => {
  const [a, b, c] = [await sold(), await sold(), await sold()];
  await keepSender(v.work, 'desk@brackwater.example', { supplier: 'brackwater', taken: true });
  const [clear, odd, gone] = await readMails(
    v.work,
    [
      eml(`${a!.number}: our reference: BT-1001`),
      eml(`${b!.number}: our reference: BT-1002`, 'Reply-To: desk@elsewhere.example\r\n'),
      eml(`${c!.number} is cancelled: out of stock`),
    ],
    ['a', 'b', 'c'],
  );
  expect([clear!.taken, odd!.taken, gone!.taken]).toEqual([1, 0, 0]);
  expect([odd, gone].map((m) => m!.proposals[0]!.doubt)).toEqual([
    expect.stringMatching(/another domain/),
    expect.stringMatching(/cancelled/),
  ]);
  expect((await now(a!)).purchases[0]).toMatchObject({ state: 'accepted', number: 'BT-1001' });
  expect((await now(c!)).purchases[0]!.state).toBe('waiting');
  await takeMail(v.work, agreed(gone!));
  // The supplier has none of it: nothing is bought again before a person looked.
  expect(standingOf(await now(c!))).toBe('held');
});

test('mails of any kind are read as words alone, and what is none says so while the rest goes on', async () => {
  const order = await sold();
  const latin = new Blob([
    'From: a@b.example\r\nSubject: =?iso-8859-1?Q?Best=E4tigung?=\r\nContent-Type: text/html; charset=iso-8859-1\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n',
    `<script>alert(1)</script><p>Auftragsnummer: KD-7781 f=FCr ${order.number}</p>`,
  ]);
  const mail = await readMailFile(latin);
  expect(mail.subject).toBe('Bestätigung');
  expect(mail.text).toContain('KD-7781 für');
  expect(mail.text).not.toMatch(/script|alert/);
  const inner = `From: x@y.example\r\nSubject: inner\r\n\r\n${order.number} tracking: ZZ12345678`;
  const nested = new Blob([
    `From: a@b.example\r\nSubject: Fwd\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=q\r\n\r\n--q\r\nContent-Type: message/rfc822\r\n\r\n${inner}\r\n--q--\r\n`,
  ]);
  const read = await readMails(v.work, [new Blob(['\u0000\u0001 no mail']), latin, nested], ['x', 'y', 'z']);
  expect(read.map((r) => [r.name, r.reason !== '', r.proposals.length])).toEqual([
    ['x', true, 0],
    ['y', false, 1],
    ['z', false, 1],
  ]);
  expect(pastedMail('a\u202eb').text).toBe('ab');
});
