import { Catalogue, Reading } from '@/core/catalogue';
import { linkAll, meaningOf, type Proposal, valueMeaning, type Wanted } from '@/core/linking';
import { makeOlder, type Older } from '../stand-ins/marketplace/older';
import { itemsOf, openWarehouse } from '../stand-ins/supplier/warehouse';

const stocked = [...itemsOf(openWarehouse(1847, 2400)).values()];

function stall(items = stocked) {
  const catalogue = new Catalogue();
  const reading = new Reading(catalogue, false);
  for (const i of items) {
    reading.put(
      {
        ...i,
        grams: i.grams ?? null,
        group: i.group ?? null,
        options: i.options ?? {},
        gtin: i.gtin ?? null,
        shipsFrom: '',
        days: null,
        pictures: 0,
      },
      { sku: i.sku, description: '', pictures: [] },
    );
  }
  while (reading.piece(true));
  return { supplier: 'brackwater', currency: 'GBP', catalogue };
}
const wantedOf = ({ listing: l }: Older): Wanted => ({
  id: l.id,
  sku: l.sku,
  group: l.group ?? null,
  gtin: l.gtin ?? null,
  title: l.title,
  brand: l.brand,
  options: l.options ?? {},
  price: Math.round(Number(l.price) * 100),
  currency: 'GBP',
});

interface Judged {
  readonly sure: number;
  readonly wrong: readonly (readonly [string, string | null, string])[];
  /** Of the listings that have an item: how many were linked rightly and surely. */
  readonly recall: number;
  /** Of those: how many have it among the candidates. */
  readonly shown: number;
  readonly byKind: Readonly<Record<string, string>>;
}

function judge(older: readonly Older[], proposals: readonly Proposal[]): Judged {
  const wrong: [string, string | null, string][] = [];
  let [sure, right, shown, real] = [0, 0, 0, 0];
  const kinds = new Map<string, [number, number]>();
  older.forEach((o, k) => {
    const p = proposals[k]!;
    const best = p.candidates[0]?.sku;
    if (o.sells) real++;
    if (o.sells && p.candidates.some((c) => c.sku === o.sells)) shown++;
    const kind = kinds.get(o.kind) ?? [0, 0];
    kind[1]++;
    if (p.sure) {
      sure++;
      if (best === o.sells) {
        right++;
        kind[0]++;
      } else wrong.push([o.listing.title, o.sells, best!]);
    }
    kinds.set(o.kind, kind);
  });
  return {
    sure,
    wrong,
    recall: right / real,
    shown: shown / real,
    byKind: Object.fromEntries([...kinds].map(([k, [a, b]]) => [k, `${a} of ${b}`])),
  };
}

test.each([12, 2024])('of 1,200 listings with known answers (seed %i), every sure link is right', (seed) => {
  const older = makeOlder(stocked, 1200, seed);
  const judged = judge(older, linkAll(older.map(wantedOf), [stall()]));
  if (process.env.SHOW) console.log(seed, older.length, judged);
  expect(judged.wrong).toEqual([]);
  expect(judged.recall).toBeGreaterThan(0.85);
  expect(judged.shown).toBeGreaterThan(0.96);
});

test('nothing is sure where the item itself is not offered', () => {
  const older = makeOlder(stocked, 400, 5);
  const sold = new Set(older.flatMap((o) => (o.sells ? [o.sells] : [])));
  const groups = new Set(stocked.filter((i) => sold.has(i.sku) && i.group).map((i) => i.group));
  const rest = stocked.filter((i) => !sold.has(i.sku) && !(i.group && groups.has(i.group)));
  const proposals = linkAll(older.map(wantedOf), [stall(rest)]);
  expect(proposals.filter((p) => p.sure)).toEqual([]);
});

describe('one listing', () => {
  const item = (sku: string, title: string, part: object = {}) => ({
    ...stocked[0]!,
    sku,
    title,
    brand: 'Fellmoor',
    options: undefined,
    group: undefined,
    gtin: undefined,
    cost: 800,
    ...part,
  });
  const find = (listing: Partial<Wanted>, items: ReturnType<typeof item>[]) =>
    linkAll(
      [
        {
          id: 'L',
          sku: 'OWN-1',
          group: null,
          gtin: null,
          title: '',
          brand: '',
          options: {},
          price: 1999,
          currency: 'GBP',
          ...listing,
        },
      ],
      [stall(items as never)],
    )[0]!;

  test('a SKU alone is not enough where the goods are others', () => {
    const p = find({ sku: 'BW-1', title: 'Ceramic plant pot' }, [
      item('BW-1', 'Head torch, 3 modes, Fellmoor A1'),
    ]);
    expect(p).toMatchObject({ sure: false, candidates: [{ sku: 'BW-1', by: 'sku', firm: false }] });
  });
  test('a barcode that says otherwise is named', () => {
    const p = find({ sku: 'BW-1', gtin: '4006381333931', title: 'Head torch, 3 modes, Fellmoor A1' }, [
      item('BW-1', 'Head torch, 3 modes, Fellmoor A1', { gtin: '4006381333948' }),
    ]);
    expect(p.sure).toBe(false);
    expect(p.candidates[0]!.reasons.map((r) => r.says).join()).toMatch(/barcodes differ/);
  });
  test('measures decide between look-alikes, whatever their unit', () => {
    const items = [
      item('A', 'Thermos flask 0.5 l, Fellmoor A1'),
      item('B', 'Thermos flask 1 l, Fellmoor A1'),
    ];
    expect(find({ title: 'FELLMOOR A1 thermos flask 500 ml' }, items)).toMatchObject({
      sure: true,
      candidates: [{ sku: 'A' }, { sku: 'B' }],
    });
    expect(find({ title: 'FELLMOOR A1 thermos flask 750 ml' }, items).sure).toBe(false);
  });
  test('colours and sizes meet across languages', () => {
    const variants = ['Black', 'Night blue', 'Moss'].map((c, k) =>
      item(`V${k}`, 'Camp stool, low, Fellmoor C3', { group: 'G', options: { Colour: c } }),
    );
    for (const [said, sku] of [
      ['Schwarz', 'V0'],
      ['Bleu nuit', 'V1'],
      ['Musgo', 'V2'],
    ] as const) {
      const p = find({ title: 'Fellmoor C3 camp stool low', options: { Farbe: said } }, variants);
      expect([p.sure, p.candidates[0]!.sku]).toEqual([true, sku]);
    }
    expect(find({ title: 'Fellmoor C3 camp stool low', options: { Farbe: 'Rot' } }, variants).sure).toBe(
      false,
    );
    expect(find({ title: 'Fellmoor C3 camp stool low' }, variants).sure).toBe(false);
  });
  test('the same barcode at two suppliers is sure, the second is at hand as backup', () => {
    const goods = item('A', 'Head torch, 3 modes, Fellmoor A1', { gtin: '4006381333931' });
    const two = [
      stall([goods] as never),
      { ...stall([{ ...goods, sku: 'Z', cost: 700 }] as never), supplier: 'other' },
    ];
    const [p] = linkAll(
      [
        {
          id: 'L',
          sku: 'OWN',
          group: null,
          gtin: '4006381333931',
          title: 'Fellmoor A1 head torch 3 modes',
          brand: 'Fellmoor',
          options: {},
          price: 1999,
          currency: 'GBP',
        },
      ],
      two,
    );
    expect(p).toMatchObject({ sure: true });
    expect(p!.candidates.map((c) => c.supplier).sort()).toEqual(['brackwater', 'other']);
  });
});

test.each([
  ['Größe: Groß', 'Large'],
  ['Bleu nuit', 'night blue'],
  ['0,5 l', '500 ml'],
  ['Czarny', 'NEGRO'],
])('%s means the same as %s', (a, b) => {
  expect(valueMeaning(a.replace(/^.*: /, ''))).toBe(valueMeaning(b));
});
test('model codes count as measures do: another one is another thing', () => {
  expect([...meaningOf('Torch A12, 3 modes').measures].sort()).toEqual(['3', 'a12']);
});
