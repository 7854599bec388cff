import type { Entry } from '../ledger';
import {
  amountsOf,
  correctionOf,
  coversOf,
  differencesOf,
  guessDays,
  guessForm,
  meaningOf,
  newAmong,
  payoutDays,
  readSigned,
  readStatementDay,
  readStatementRows,
  type Side,
  type Stated,
  type StatementForm,
  type StatementLine,
  slotOf,
  sumsByKind,
  takenOff,
  undecided,
  wrongTotals,
} from '.';

const NOON = Date.parse('2026-11-30T12:00:00Z');
const DAY = 86_400_000;

const entry = (kind: Entry['kind'], amount: number, part: Partial<Entry> = {}): Entry => ({
  ...{ kind, name: '', amount, currency: 'GBP', rate: null, at: NOON - DAY },
  ...{ from: kind === 'sale' || kind === 'refund' || kind === 'tax' ? '' : 'market', purchase: null },
  ...part,
});

const line = (
  kind: StatementLine['kind'],
  amount: number,
  part: Partial<StatementLine> = {},
): StatementLine => ({
  ...{ line: 1, day: '2026-11-30', order: 'A-1', document: '', text: '', currency: 'GBP' },
  ...{ kind, amount },
  ...part,
});

function stated(lines: readonly StatementLine[], part: Partial<Stated> = {}): Stated {
  const side: Side = part.side ?? 'marketplace';
  return {
    ...{ statement: 'market:1', from: 'market', side, purchase: null, currency: 'GBP', until: NOON },
    ...{ covers: coversOf(lines, side), amounts: amountsOf(lines) },
    ...part,
  };
}

describe('what differs', () => {
  const sale = [
    entry('sale', 5_000),
    entry('tax', -833),
    entry('sale fee', -500),
    entry('payment fee', -120),
  ];

  test('kinds that the two sides tell apart otherwise are compared together', () => {
    expect(
      differencesOf(sale, [stated([line('sale', 5_000), line('sale fee', -500), line('payment fee', -120)])]),
    ).toEqual([]);
    // Fees in one sum, postage apart from the price, all in one line.
    expect(
      differencesOf(sale, [stated([line('sale', 4_600), line('buyer shipping', 400), line('fees', -620)])]),
    ).toEqual([]);
    expect(differencesOf(sale, [stated([line('in all', 4_380)])])).toEqual([]);
    expect(differencesOf(sale, [stated([line('in all', 4_300)])])).toMatchObject([
      { minor: -80, stated: 4_300, recorded: 4_380 },
    ]);
    // Tax that the seller owes stands in no statement, and is no difference.
    expect(differencesOf([entry('tax', -833)], [stated([line('sale', 0)])])).toEqual([]);
  });

  test('a statement says nothing of what it never speaks of; what it speaks of is missed where an order lacks it', () => {
    const payments = stated([line('payment fee', -120)]);
    expect(differencesOf(sale, [payments])).toEqual([]);
    const whole = stated([line('sale', 5_000), line('sale fee', -500)], {
      covers: ['sales', 'fees', 'payment fees'],
    });
    expect(differencesOf(sale, [whole])).toMatchObject([{ groups: ['payment fees'], minor: 120 }]);
  });

  test('several statements add up, and what came after the last may stand in the next', () => {
    const first = stated([line('sale', 5_000), line('fees', -620)]);
    const refund = entry('refund', -5_000, { at: NOON + DAY });
    const back = entry('sale fee', 500, { at: NOON + DAY });
    expect(differencesOf([...sale, refund, back], [first])).toEqual([]);
    const second = stated([line('refund', -5_000), line('fees', 500)], {
      ...{ statement: 'market:2', until: NOON + 2 * DAY },
    });
    expect(differencesOf([...sale, refund, back], [first, second])).toEqual([]);
    // Once a later statement speaks of the order, what is not in it differs.
    const short = stated([line('refund', -4_000)], { statement: 'market:2', until: NOON + 2 * DAY });
    expect(differencesOf([...sale, refund, back], [first, short])).toMatchObject([
      { statement: 'market:2', groups: ['fees', 'payment fees'], minor: -500 },
      { statement: 'market:2', groups: ['refunds'], minor: 1_000 },
    ]);
  });

  test('a purchase is compared by its reference, in its own currency', () => {
    const of = (purchase: string, amount: number) =>
      entry('goods', amount, { from: 'supplier', purchase, currency: 'USD' });
    const entries = [
      of('A-1', -900),
      of('A-1#2', -400),
      entry('goods', -5, { from: 'other', purchase: 'A-1' }),
    ];
    const said = (purchase: string, amount: number) =>
      stated([line('goods', amount)], {
        ...{ from: 'supplier', side: 'supplier', statement: 'supplier:1', purchase, currency: 'USD' },
      });
    expect(differencesOf(entries, [said('A-1', -900), said('A-1#2', -410)])).toMatchObject([
      { purchase: 'A-1#2', currency: 'USD', minor: -10, recorded: -400 },
    ]);
  });

  test('a correction brings the record there, a kept difference is asked about again once it is another', () => {
    const said = [stated([line('sale', 5_000), line('fees', -655)])];
    const [d] = differencesOf(sale, said);
    expect(d).toMatchObject({ groups: ['fees', 'payment fees'], minor: -35 });
    const corrected = [...sale, correctionOf(d!, null, NOON + 9 * DAY)];
    expect(differencesOf(corrected, said)).toEqual([]);
    expect(corrected.at(-1)).toMatchObject({
      kind: 'sale fee',
      amount: -35,
      from: 'market',
      statement: 'market:1',
    });
    const kept = [{ slot: slotOf(d!), minor: -35, at: NOON }];
    expect(undecided(differencesOf(sale, said), kept)).toEqual([]);
    expect(undecided(differencesOf([...sale, entry('sale fee', -5)], said), kept)).toMatchObject([
      { minor: -30 },
    ]);
  });

  test('what a feed says later is taken off the correction up to what it was, and never turned round', () => {
    const fix = entry('sale fee', -40, { statement: 'market:1', name: 'as stated' });
    const off = (amount: number) =>
      takenOff([...sale, fix], [entry('sale fee', amount)], NOON).map((e) => e.amount);
    expect(off(-40)).toEqual([40]);
    expect(off(-25)).toEqual([25]);
    expect(off(-90)).toEqual([40]);
    // A fee that is given back is news of its own.
    expect(off(60)).toEqual([]);
    expect(takenOff([...sale, fix], [entry('refund', -40)], NOON)).toEqual([]);
    expect(takenOff(sale, [entry('sale fee', -40)], NOON)).toEqual([]);
  });
});

describe('lines', () => {
  test('the same line is taken once: by its reference, or without one by all that it says', () => {
    const a = line('sale', 100, { document: 'D1' });
    const b = line('sale', 100, { document: 'D2' });
    expect(newAmong([a, b], [])).toEqual({ fresh: [a, b], twice: [] });
    expect(newAmong([a, a], [])).toEqual({ fresh: [a], twice: [a] });
    expect(newAmong([a, b], [{ amounts: amountsOf([a]) }])).toEqual({ fresh: [b], twice: [a] });
    // Two units at one price are two lines, though they look the same; of an overlap as many are twice as there were.
    const plain = line('sale', 100);
    expect(newAmong([plain, plain], [])).toEqual({ fresh: [plain, plain], twice: [] });
    expect(newAmong([plain, plain], [{ amounts: amountsOf([plain]) }])).toEqual({
      fresh: [plain],
      twice: [plain],
    });
  });

  test('totals are those of the lines, with or without what was paid out', () => {
    const lines = [line('sale', 500), line('sale fee', -60), line('payout', -440)];
    const said = (minor: number) => wrongTotals({ lines, totals: [{ currency: 'GBP', minor }] });
    expect(said(440)).toEqual([]);
    expect(said(0)).toEqual([]);
    expect(said(450)).toEqual([{ currency: 'GBP', stated: 450, sum: 440 }]);
    expect(sumsByKind([...lines, line('sale', 20, { currency: 'EUR' })])).toEqual([
      { kind: 'sale', currency: 'GBP', lines: 1, minor: 500 },
      { kind: 'sale fee', currency: 'GBP', lines: 1, minor: -60 },
      { kind: 'payout', currency: 'GBP', lines: 1, minor: -440 },
      { kind: 'sale', currency: 'EUR', lines: 1, minor: 20 },
    ]);
  });

  test('payouts are expected as often as they came: by the median, a late one does not move the others', () => {
    const ends = ['2026-11-07', '2026-11-14', '2026-11-22', '2026-11-28'];
    expect(payoutDays('2026-11-01', ends, '2026-12-01', '2026-12-20')).toEqual([
      '2026-12-06',
      '2026-12-13',
      '2026-12-20',
    ]);
    expect(payoutDays('2026-11-01', [], '2026-12-01', '2026-12-20')).toEqual([]);
    // One alone: as long as itself.
    expect(payoutDays('2026-11-15', ['2026-11-28'], '2026-12-01', '2026-12-20')).toEqual(['2026-12-13']);
  });
});

describe('what files write', () => {
  test.each([
    ['12.50', '.', 1_250],
    ['-12.50', '.', -1_250],
    ['−12,50', ',', -1_250],
    ['12,50-', ',', -1_250],
    ['(1.299,00)', ',', -129_900],
    ['£-3.20', '.', -320],
    ['+4', '.', 400],
    ['1 299.00', '.', 129_900],
  ] as const)('%s is an amount', (text, decimal, value) => {
    expect(readSigned(text, decimal, 'GBP')).toEqual({ ok: true, value });
  });

  test.each([
    ['12.505', '.', /more decimals/],
    ['EUR 3.20', '.', /is in EUR/],
    ['12 pieces', '.', /not an amount/],
    ['', '.', /empty|not an amount/],
    ['1.5e3', '.', /short form|not an amount/],
  ] as const)('%s is none', (text, decimal, reason) => {
    expect(readSigned(text, decimal, 'GBP')).toEqual({ ok: false, reason: expect.stringMatching(reason) });
  });

  test.each([
    ['2026-11-30', 'year first', '2026-11-30'],
    ['2026-11-30T23:10:00Z', 'year first', '2026-11-30'],
    ['30.11.2026', 'day first', '2026-11-30'],
    ['30/11/26 10:15', 'day first', '2026-11-30'],
    ['11/30/2026', 'month first', '2026-11-30'],
    ['30 Nov 2026', 'day first', '2026-11-30'],
    ['31.11.2026', 'day first', null],
    ['yesterday', 'day first', null],
  ] as const)('%s, %s', (text, order, day) => {
    expect(readStatementDay(text, order)).toBe(day);
  });

  test('which comes first is seen from days that fit one order alone, and from points', () => {
    expect(guessDays(['03/11/2026', '25/11/2026'])).toBe('day first');
    expect(guessDays(['03/11/2026', '11/25/2026'])).toBe('month first');
    expect(guessDays(['01.13.2026', '01.12.2026'])).toBe('day first');
    expect(guessDays(['2026-11-03'])).toBe('year first');
    expect(guessDays([])).toBe('year first');
  });

  test.each([
    ['Verkauf', 'sale'],
    ['Remboursement', 'refund'],
    ['Prowizja', 'sale fee'],
    ['Opłata', 'fees'],
    ['Uitbetaling', 'payout'],
    ['Bonifico', 'payout'],
    ['Grundgebühr', 'charge'],
    ['Suma', 'total'],
    ['Saldo inicial', 'nothing'],
    ['Zauberei', undefined],
  ] as const)('%s means %s', (word, meaning) => {
    expect(meaningOf(word, 'marketplace')).toBe(meaning);
  });

  test('postage stands for what a buyer paid in one statement, for what it cost in the other', () => {
    expect(meaningOf('Shipping', 'marketplace')).toBe('buyer shipping');
    expect(meaningOf('Shipping', 'supplier')).toBe('shipping');
  });
});

describe('a file of rows', () => {
  const read = (header: string[], rows: string[][], form: StatementForm, side: Side = 'marketplace') =>
    readStatementRows(
      header,
      rows,
      rows.map((_, k) => k + 2),
      form,
      side,
    );
  const guess = (header: string[], rows: string[][], side: Side = 'marketplace') =>
    guessForm(header, rows, { side, currency: 'EUR' });

  test('a column for each kind: parts of each order, the net beside them left out, a total below', () => {
    const header = ['Date', 'Order', 'Gross', 'Refund', 'Fees', 'Net amount'];
    const rows = [
      ['2026-11-03', 'L-1', '40.00', '', '-6.10', '33.90'],
      ['2026-11-04', 'L-2', '25.00', '-25.00', '-1.00', '-1.00'],
      ['2026-11-04', '', '25.00', '', '', '25.00'],
      ['', 'Total', '65.00', '-25.00', '-7.10', '32.90'],
    ];
    const form = guess(header, rows);
    expect(form.columns).toEqual({
      date: 'day',
      order: 'order',
      gross: 'sale',
      refund: 'refund',
      fees: 'fees',
    });
    const got = read(header, rows, form);
    expect(got.problems).toEqual([]);
    expect(got.lines.map((l) => [l.line, l.order, l.kind, l.amount])).toEqual([
      [2, 'L-1', 'sale', 4_000],
      [2, 'L-1', 'fees', -610],
      [3, 'L-2', 'sale', 2_500],
      [3, 'L-2', 'refund', -2_500],
      [3, 'L-2', 'fees', -100],
      // Of no order: it is asked about.
      [4, '', 'sale', 2_500],
    ]);
    expect(got.refused).toEqual([]);
    // It lacks what belongs to no order.
    expect(wrongTotals(got)).toEqual([{ currency: 'EUR', stated: 3_290, sum: 5_790 }]);
    expect(got).toMatchObject({ firstDay: '2026-11-03', lastDay: '2026-11-04', odd: [] });
  });

  test('money in and out, two currencies, words that nobody knows: each is said, nothing is guessed into the books', () => {
    const header = ['Buchungstag', 'Vorgang', 'Soll', 'Haben', 'Währung', 'Bestellnummer', 'Buchungstext'];
    const rows = [
      ['03.11.2026', 'Verkauf', '', '40,00', 'EUR', 'L-1', 'Ada Lovelace'],
      ['03.11.2026', 'Gebühr', '6,10', '', 'EUR', 'L-1', ''],
      ['04.11.2026', 'Verkauf', '', '12,00', 'GBP', 'L-2', ''],
      ['04.11.2026', 'Auszahlung', '33,90', '', 'EUR', '', 'Bank'],
      ['05.11.2026', 'Sonstiges', '1,00', '', 'EUR', 'L-1', ''],
      ['05.11.2026', 'Verkauf', '', '', 'EUR', 'L-3', ''],
      ['05.11.2026', 'Verkauf', '', '1,00', 'Taler', 'L-3', ''],
    ];
    const form = guess(header, rows);
    expect(form).toMatchObject({ decimal: ',', days: 'day first' });
    const got = read(header, rows, form);
    expect(got.unknown).toEqual([{ word: 'Sonstiges', rows: 1 }]);
    expect(got.lines.map((l) => [l.kind, l.amount, l.currency, l.text])).toEqual([
      // Words of lines of orders may name their buyer: they are not kept.
      ['sale', 4_000, 'EUR', ''],
      ['fees', -610, 'EUR', ''],
      ['sale', 1_200, 'GBP', ''],
      ['payout', -3_390, 'EUR', 'Bank'],
    ]);
    expect(got.refused.map((r) => r.line)).toEqual([7, 8]);
    expect(got.refused[1]!.reason).toContain('no currency');
  });

  test('signs turned round are told by kind, and turned where the seller says so', () => {
    const header = ['Date', 'Reference', 'Order', 'Type', 'Amount'];
    const rows = [
      ['2026-11-03', 'I1', 'L-1', 'Goods', '9.00'],
      ['2026-11-03', 'I2', 'L-1', 'Shipping', '3.45'],
      ['2026-11-09', 'I3', '', 'Payment', '-12.45'],
    ];
    const form = guess(header, rows, 'supplier');
    const got = read(header, rows, form, 'supplier');
    expect(got.odd).toEqual(['goods', 'shipping', 'payout']);
    const turned = read(header, rows, { ...form, turned: got.odd }, 'supplier');
    expect(turned.odd).toEqual([]);
    expect(turned.lines.map((l) => l.amount)).toEqual([-900, -345, 1_245]);
  });

  test('what cannot be read this way is a problem in words', () => {
    const header = ['Something', 'Else'];
    const form = guess(header, [['a', 'b']]);
    expect(read(header, [['a', 'b']], form).problems).toEqual([
      'No column is the day.',
      'No column holds amounts.',
    ]);
    const both: StatementForm = {
      ...form,
      columns: { date: 'day', amount: 'amount', sale: 'sale', type: 'kind', order: 'order' },
    };
    expect(read(['Date', 'Amount', 'Sale', 'Type', 'Order'], [], both).problems).toEqual([
      expect.stringContaining('would count twice'),
    ]);
  });
});

test('whatever is stated, once each difference is corrected nothing differs and the record is what is stated', () => {
  let state = 7;
  const luck = (n: number) => {
    state = (state * 48_271) % 2_147_483_647;
    return state % n;
  };
  const kinds = ['sale', 'buyer shipping', 'refund', 'sale fee', 'payment fee', 'fees', 'in all'] as const;
  for (let round = 0; round < 300; round++) {
    const entries: Entry[] = [
      entry('sale', 1_000 + luck(4_000)),
      entry('sale fee', -luck(500)),
      entry('payment fee', -luck(90)),
    ];
    const all: Stated[] = [];
    for (let n = 0; n <= luck(3); n++) {
      const lines = Array.from({ length: 1 + luck(4) }, () =>
        line(kinds[luck(kinds.length)]!, luck(6_000) - 2_000),
      );
      all.push(stated(lines, { statement: `market:${n}`, until: NOON + n * DAY }));
    }
    let record = entries;
    for (const d of differencesOf(record, all)) record = [...record, correctionOf(d, null, NOON + 30 * DAY)];
    expect(differencesOf(record, all)).toEqual([]);
    // Every group that was stated is what it was stated to be, added up apart.
    if (all.some((s) => s.amounts.some((a) => a.kind === 'in all'))) {
      const sum = all.flatMap((s) => s.amounts).reduce((n, a) => n + a.amount, 0);
      expect(record.filter((e) => e.kind !== 'tax').reduce((n, e) => n + e.amount, 0)).toBe(sum);
    }
    // What was there before is there still.
    expect(record.slice(0, entries.length)).toEqual(entries);
  }
});
