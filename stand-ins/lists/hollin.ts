import { chance } from '../random';

/** Where Hollin's lists say that its pictures lie. */
export const HOLLIN_HOST = 'lists.hollin.example';

/** An optical part as Hollin's list has it. Amounts in US cents. */
export interface Part {
  readonly code: string;
  readonly parent: string;
  readonly upc: string;
  readonly name: string;
  readonly brand: string;
  readonly group: string;
  readonly size: string;
  cost: number;
  readonly map: number | null;
  readonly msrp: number;
  stock: string;
  readonly pounds: string;
  readonly about: string;
}

const KINDS: readonly (readonly [string, string, number, number, readonly string[]])[] = [
  ['Plössl eyepiece', 'Eyepieces', 2200, 5400, ['6 mm', '9 mm', '12 mm', '20 mm', '32 mm']],
  ['Achromatic Barlow lens', 'Eyepieces', 3100, 7900, ['2x', '3x']],
  ['Star diagonal', 'Diagonals', 2900, 8800, ['1.25 in', '2 in']],
  ['Red-dot finder', 'Finders', 1800, 4200, ['']],
  ['Nebula filter', 'Filters', 3900, 9900, ['1.25 in', '2 in']],
  ['Polarising filter', 'Filters', 1400, 3600, ['1.25 in', '2 in']],
  ['Focuser knob', 'Parts', 700, 1900, ['']],
  ['Dovetail bar', 'Parts', 1100, 3900, ['20 cm', '30 cm', '40 cm']],
];
const BRANDS = ['Hollin', 'Merrow Glass', 'Ashtabula Optical'];

/** The check digit of a barcode (GS1 General Specifications, 7.9). */
const checkDigit = (digits: string) => {
  const sum = [...digits].reverse().reduce((n, d, i) => n + Number(d) * (i % 2 ? 1 : 3), 0);
  return String((10 - (sum % 10)) % 10);
};

/** Hollin Optics Wholesale's 600 parts, by seed. */
export function makeParts(seed: number, count = 600): Part[] {
  const luck = chance(seed);
  const parts: Part[] = [];
  for (let round = 1; parts.length < count; round++) {
    const [kind, group, low, high, sizes] = KINDS[round % KINDS.length]!;
    const brand = luck.pick(BRANDS);
    const model = `${String.fromCharCode(65 + (round % 26))}${100 + round}`;
    const cost = luck.whole(low, high);
    for (const [k, size] of sizes.entries()) {
      if (parts.length >= count) break;
      const eleven = `7${String(3_000_000_000 + parts.length * 37).slice(0, 10)}`;
      const own = cost + k * 210;
      parts.push({
        code: `HO-${model}${size ? `-${k + 1}` : ''}`,
        parent: size ? `HO-${model}` : '',
        upc: eleven + checkDigit(eleven),
        name: `${kind} ${model}`,
        brand,
        group,
        size,
        cost: own,
        map: luck.next() < 0.6 ? Math.round((own * 1.6) / 100) * 100 - 1 : null,
        msrp: Math.round((own * 2.2) / 100) * 100 - 1,
        stock: luck.next() < 0.1 ? 'out of stock' : luck.next() < 0.3 ? '>50' : String(luck.whole(1, 49)),
        pounds: (luck.whole(1, 30) / 10).toFixed(1),
        about: `${kind} by ${brand}, multi-coated. "Field tested" in Ohio.`,
      });
    }
  }
  return parts;
}

const dollars = (cents: number) => (cents / 100).toFixed(2);
const quoted = (text: string) => (/[",\n;]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

/** The list as Hollin mails it each week: comma separated, two lines above the names of the columns. */
export function partsCsv(parts: readonly Part[], day: string): string {
  const header = [
    'Item #',
    'Parent item',
    'UPC',
    'Description',
    'Brand',
    'Product group',
    'Size',
    'Dealer price USD',
    'MAP',
    'MSRP',
    'Availability',
    'Weight (lb)',
    'Image URL',
    'Long description',
  ];
  const rows = parts.map((p) =>
    [
      p.code,
      p.parent,
      p.upc,
      p.name,
      p.brand,
      p.group,
      p.size,
      dollars(p.cost),
      p.map === null ? '' : dollars(p.map),
      dollars(p.msrp),
      p.stock,
      p.pounds,
      `https://${HOLLIN_HOST}/pictures/${p.code}.jpg`,
      p.about,
    ]
      .map(quoted)
      .join(','),
  );
  return [`Hollin Optics Wholesale,Dealer price list,${day}`, '', header.join(','), ...rows, ''].join('\r\n');
}

export function partsStockCsv(parts: readonly Part[]): string {
  return ['UPC;On hand', ...parts.map((p) => `${p.upc};${p.stock}`), ''].join('\n');
}

export function partsJson(parts: readonly Part[]): string {
  return JSON.stringify({
    issued: 'weekly',
    catalog: {
      items: parts.map((p) => ({
        item_number: p.code,
        parent: p.parent || null,
        upc: p.upc,
        name: p.name,
        brand: { name: p.brand },
        category: p.group,
        options: { size: p.size || null },
        pricing: {
          dealer_price: dollars(p.cost),
          map: p.map === null ? null : dollars(p.map),
          msrp: dollars(p.msrp),
          currency: 'USD',
        },
        availability: p.stock,
        weight_lb: p.pounds,
        description: p.about,
      })),
    },
  });
}

const inXml = (text: string) => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

export function partsXml(parts: readonly Part[]): string {
  const items = parts.map(
    (p) =>
      `  <part code="${inXml(p.code)}"><upc>${p.upc}</upc><name>${inXml(p.name)}</name><brand>${inXml(p.brand)}</brand><category>${inXml(p.group)}</category><size>${inXml(p.size)}</size><price currency="USD"><dealer>${dollars(p.cost)}</dealer><msrp>${dollars(p.msrp)}</msrp></price><stock>${inXml(p.stock)}</stock><weight unit="lb">${p.pounds}</weight></part>`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>\n<pricelist issued="weekly">\n${items.join('\n')}\n</pricelist>\n`;
}
