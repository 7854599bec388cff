import { cleanTracking, s10CheckDigit, trackingsIn } from '../tracking';
import { type Awaited, namesOf, readMail as readBy } from '.';

const awaited = (number: string, part: Partial<Awaited> = {}): Awaited => ({
  ...{ order: `uk:${number}`, number, reference: `uk:${number}`, supplier: 'hollin', known: null },
  currency: 'USD',
  ...part,
});
const readMail = (text: string, some: readonly Awaited[], carriers: readonly string[]) =>
  readBy(text, namesOf(some), carriers);
const CARRIERS = ['Fen Post', 'Rookline Parcels'];
const S10 = `LX47312482${s10CheckDigit('47312482')}GB`;

test('a confirmation gives the supplier’s number and what it charges', () => {
  const text = 'Thank you for PW-20123.\nOur reference: HO-55812\nGoods 24.90, shipping 5.95\nTotal: $30.85';
  const [found, ...more] = readMail(text, [awaited('PW-20123'), awaited('PW-2012')], CARRIERS);
  expect(more).toEqual([]);
  expect(found).toMatchObject({
    number: { value: 'HO-55812' },
    total: { value: 3085 },
    parcels: [],
    cancelled: null,
  });
  expect(text.slice(found!.number!.at, found!.number!.at + found!.number!.length)).toBe('HO-55812');
  expect(text.slice(found!.total!.at, found!.total!.at + found!.total!.length)).toBe('30.85');
});

test('tracking numbers are found by check digit or behind a word for them, with the carrier that is named', () => {
  const spaced = `${S10.slice(0, 2)} ${S10.slice(2, 5)} ${S10.slice(5, 8)} ${S10.slice(8, 11)} ${S10.slice(11)}`;
  expect(
    readMail(`PW-1 left with fen post: ${spaced.toLowerCase()}`, [awaited('PW-1')], CARRIERS),
  ).toMatchObject([{ parcels: [{ value: S10, carrier: 'Fen Post' }] }]);
  const said = [
    ['Sendungsnummer: 0034 0434 1234 5678', '0034043412345678'],
    ['Tracking https://post.example/t?id=ab12345678&l=en today', 'AB12345678'],
    ['tracking number RP 7781 2234 by Rookline', 'RP77812234'],
    ['(00)340123450000000009', ''],
    ['(00)340123450000000000', '00340123450000000000'],
    ['order 12345678 was sent', ''],
  ] as const;
  for (const [text, tracking] of said)
    expect([text, trackingsIn(text).map((t) => t.tracking)]).toEqual([text, tracking ? [tracking] : []]);
  expect(cleanTracking(' lx 473 ')).toBe('LX473');
});

test('two orders in one mail are told apart; a cancellation and an amount belong to the one they stand with', () => {
  const text = `PW-1: unfortunately cancelled, out of stock.\nPW-2 was sent. Tracking: AB12345678. Total 12,90`;
  const [first, second] = readMail(text, [awaited('PW-2'), awaited('PW-1')], []);
  expect(first).toMatchObject({
    about: { number: 'PW-1' },
    cancelled: { value: 'cancelled' },
    parcels: [],
    total: null,
  });
  expect(second).toMatchObject({ about: { number: 'PW-2' }, cancelled: null, total: { value: 1290 } });
});

test('a second purchase of an order is known by its whole reference, and what names nothing is no finding', () => {
  const two = [awaited('PW-1'), awaited('PW-1', { reference: 'uk:PW-1#2' })];
  expect(readMail('Ref uk:PW-1#2 shipped', two, []).map((f) => f.about.reference)).toEqual(['uk:PW-1#2']);
  expect(readMail('Our summer sale: 20 % off everything', two, [])).toEqual([]);
  expect(readMail('PW-10 and PW-1X were sent', two, [])).toEqual([]);
  expect(readMail('About PW-1.', two.slice(0, 1), [])).toHaveLength(1);
});
