import type { WireBlank, WireBlankArea, WirePurchase, WireTechnique } from '../../src/connect/wire';
import { chance } from '../random';
import type { StockedItem } from './item';

const COTTON: WireTechnique = {
  name: 'Pigment print on cotton',
  halfTones: true,
  opaque: false,
  underprint: false,
  finestLine: 0.5,
};
const GARMENT: WireTechnique = {
  name: 'Direct to garment, white under-print',
  halfTones: false,
  opaque: false,
  underprint: true,
  finestLine: 0.4,
};
const PAPER: WireTechnique = {
  name: 'Pigment ink on paper',
  halfTones: true,
  opaque: true,
  underprint: false,
  finestLine: 0.1,
};
const VINYL: WireTechnique = {
  name: 'Solvent ink on vinyl, white under-print',
  halfTones: false,
  opaque: false,
  underprint: true,
  finestLine: 0.3,
};
const CERAMIC: WireTechnique = {
  name: 'Sublimation on ceramic',
  halfTones: true,
  opaque: false,
  underprint: false,
  finestLine: 0.3,
};
const CLOTH: WireTechnique = {
  name: 'Sublimation on polyester linen',
  halfTones: true,
  opaque: false,
  underprint: false,
  finestLine: 0.4,
};

const SITES = [
  { name: 'Leeds', country: 'GB', days: 2 },
  { name: 'Wrocław', country: 'PL', days: 3 },
];
const NEVER = ['Banknotes', 'Names, marks or pictures of others without their leave'];
const WHITE = { name: 'White', hex: '#ffffff' };
const NATURAL = { name: 'Natural', hex: '#efe6d2' };
const BLACK = { name: 'Black', hex: '#1c1d20' };

interface Kind extends Omit<WireBlank, 'items' | 'sites' | 'forbidden'> {
  /** What the item costs, cents, by size; `*` for all others. */
  costs: Record<string, number>;
  grams: Record<string, number>;
  about: string;
}

const front = (
  files: WireBlankArea['files'],
  technique: WireTechnique,
  bleed: number,
  safe: number,
  more: Partial<WireBlankArea> = {},
): WireBlankArea => ({
  id: 'front',
  name: 'Front',
  shape: 'rectangle',
  technique,
  bleed,
  safe,
  files,
  ...more,
});

const one = (width: number, height: number, dpi: number) => ({ '*': { width, height, dpi } });

const KINDS: readonly Kind[] = [
  {
    id: 'tea-towel',
    name: 'Tea towel, cotton and linen',
    category: 'Printed goods > Tea towels',
    care: 'Wash at 40 °C, iron on the back.',
    colours: [NATURAL, WHITE],
    areas: [front(one(2953, 4134, 150), COTTON, 5, 20)],
    costs: { '*': 540 },
    grams: { '*': 135 },
    about: 'Half linen, half cotton, 50 × 70 cm, hemmed, with a loop.',
  },
  {
    id: 'poster',
    name: 'Poster, matt 200 g',
    category: 'Printed goods > Posters',
    care: 'Sent in a tube.',
    colours: [WHITE],
    sizes: ['A4', 'A3', 'A2', 'A1'],
    areas: [
      front(
        {
          A4: { width: 2552, height: 3579, dpi: 300 },
          A3: { width: 3579, height: 5031, dpi: 300 },
          A2: { width: 2516, height: 3543, dpi: 150 },
          A1: { width: 3543, height: 5004, dpi: 150 },
        },
        PAPER,
        3,
        8,
      ),
    ],
    costs: { A4: 290, A3: 420, A2: 680, A1: 990 },
    grams: { A4: 110, A3: 140, A2: 190, A1: 270 },
    about: 'Matt paper of 200 g, inks that last, printed to the edge.',
  },
  {
    id: 'sticker-sheet',
    name: 'Sticker sheet, A5 vinyl',
    category: 'Printed goods > Stickers',
    care: 'Wipe clean.',
    colours: [WHITE],
    areas: [front(one(1748, 2480, 300), VINYL, 2, 5)],
    costs: { '*': 165 },
    grams: { '*': 25 },
    about: 'Weatherproof vinyl, kiss cut, A5.',
  },
  {
    id: 'cushion',
    name: 'Cushion cover, 45 × 45 cm',
    category: 'Printed goods > Cushions',
    care: 'Wash at 30 °C, inside out.',
    colours: [WHITE, NATURAL],
    areas: [
      front(one(2776, 2776, 150), CLOTH, 10, 30),
      front(one(2776, 2776, 150), CLOTH, 10, 30, { id: 'back', name: 'Back', extra: '2.10' }),
    ],
    costs: { '*': 620 },
    grams: { '*': 190 },
    about: 'Linen look, hidden zip, without filling.',
  },
  {
    id: 'mug',
    name: 'Mug, 330 ml',
    category: 'Printed goods > Mugs',
    care: 'Fit for dishwasher and microwave.',
    colours: [WHITE],
    areas: [front(one(2362, 1063, 300), CERAMIC, 0, 4, { id: 'wrap', name: 'Wrap' })],
    costs: { '*': 310 },
    grams: { '*': 380 },
    about: 'White ceramic, printed all around.',
  },
  {
    id: 't-shirt',
    name: 'T-shirt, heavy cotton',
    category: 'Printed goods > T-shirts',
    care: 'Wash at 30 °C, inside out.',
    colours: [
      WHITE,
      BLACK,
      { name: 'Night blue', hex: '#1f2c4d' },
      { name: 'Moss', hex: '#4d5a3a' },
      { name: 'Rust', hex: '#9c4a2c' },
      { name: 'Sand', hex: '#d9c7a3' },
    ],
    sizes: ['XS', 'S', 'M', 'L', 'XL', '2XL', '3XL', '4XL'],
    areas: [
      front(one(2362, 3150, 200), GARMENT, 0, 0),
      front(one(2362, 3150, 200), GARMENT, 0, 0, { id: 'back', name: 'Back', extra: '3.20' }),
      front(one(630, 630, 200), GARMENT, 0, 0, { id: 'sleeve', name: 'Sleeve', extra: '1.50' }),
    ],
    costs: { '*': 610, '2XL': 720, '3XL': 780, '4XL': 840 },
    grams: { '*': 190, '2XL': 230, '3XL': 245, '4XL': 260 },
    about: 'Combed cotton of 190 g, side seams, sizes from XS to 4XL.',
  },
  {
    id: 'tote',
    name: 'Tote bag',
    category: 'Printed goods > Bags',
    care: 'Wash at 30 °C, inside out.',
    colours: [NATURAL, BLACK],
    areas: [front(one(1654, 1890, 150), GARMENT, 0, 0)],
    costs: { '*': 370 },
    grams: { '*': 110 },
    about: 'Cotton of 140 g, long handles, 38 × 42 cm.',
  },
  {
    id: 'framed-print',
    name: 'Framed print',
    category: 'Printed goods > Framed prints',
    care: 'Ready to hang.',
    colours: [BLACK, { name: 'Oak', hex: '#b98f5a' }, WHITE],
    sizes: ['30 × 40 cm', '50 × 70 cm'],
    areas: [
      front(
        {
          '30 × 40 cm': { width: 3543, height: 4724, dpi: 300 },
          '50 × 70 cm': { width: 2953, height: 4134, dpi: 150 },
        },
        PAPER,
        3,
        10,
      ),
    ],
    costs: { '30 × 40 cm': 1250, '50 × 70 cm': 2100 },
    grams: { '30 × 40 cm': 950, '50 × 70 cm': 2100 },
    about: 'Wood frame, acrylic glass, matt paper.',
  },
];

const codeOf = (text: string) =>
  text
    .split(/[\s-]+/)
    .map((word) => (/^\d/.test(word) ? word : word.slice(0, 2)))
    .join('')
    .replace(/[×]/g, '')
    .toUpperCase();

const skuOf = (kind: Kind, colour: string, size: string) =>
  [
    'TL',
    kind.id
      .split('-')
      .map((w) => w.slice(0, 2))
      .join('')
      .toUpperCase(),
    codeOf(colour),
    ...(size ? [codeOf(size)] : []),
  ].join('-');

/** Blanks as Tinloft describes them. */
export const BLANKS: readonly WireBlank[] = KINDS.map(({ costs: _, grams: __, about: ___, ...kind }) => ({
  ...kind,
  forbidden: NEVER,
  personal: '0.60',
  items: kind.colours.flatMap(({ name }) =>
    (kind.sizes ?? ['']).map((size) => ({ sku: skuOf(kind as Kind, name, size), colour: name, size })),
  ),
  sites: SITES,
}));

/** The items of all blanks with cost and stock, by SKU. */
export function makeBlankItems(seed: number): StockedItem[] {
  const luck = chance(seed + 5);
  return KINDS.flatMap((kind) =>
    kind.colours.flatMap(({ name: colour }) =>
      (kind.sizes ?? ['']).map((size): StockedItem => {
        const sku = skuOf(kind, colour, size);
        return {
          sku,
          group: `TL-${kind.id}`,
          title: kind.name,
          brand: 'Tinloft',
          category: kind.category,
          options: {
            ...(kind.colours.length > 1 && { Colour: colour }),
            ...(size && { Size: size }),
          },
          cost: kind.costs[size] ?? kind.costs['*']!,
          map: null,
          msrp: null,
          stock: luck.next() < 0.04 ? 0 : luck.whole(40, 900),
          grams: kind.grams[size] ?? kind.grams['*']!,
          description: `<p>${kind.about}</p><p>${kind.care}</p>`,
          shipsFrom: 'Leeds',
          dispatchDays: 2,
          pictures: [`/pictures/${sku}.svg`],
        };
      }),
    ),
  ).sort((a, b) => (a.sku < b.sku ? -1 : 1));
}

/** What a piece for one order alone costs besides, cents. */
const PERSONAL = 60;

/** What is printed besides the first area, and for one order alone, cents. */
export function extraFor({ sku, prints = [], personal }: WirePurchase['lines'][number]): number {
  const blank = BLANKS.find((b) => b.items.some((item) => item.sku === sku));
  return prints.reduce(
    (sum, { area }) => {
      const extra = blank?.areas.find((a) => a.id === area)?.extra;
      return sum + (extra ? Math.round(Number(extra) * 100) : 0);
    },
    personal ? PERSONAL : 0,
  );
}

const SHAPES: Readonly<Record<string, string>> = {
  'tea-towel': '<path d="M70 40h100v160H70z"/><path d="M70 52h100" stroke="#0002" fill="none"/>',
  poster: '<path d="M68 30h104v146H68z"/>',
  'sticker-sheet': '<rect x="76" y="40" width="88" height="124" rx="5"/>',
  cushion: '<path d="M52 56q68-14 136 0 12 64 0 128-68 14-136 0-12-64 0-128z"/>',
  mug: '<path d="M66 64h88v104q0 14-14 14H80q-14 0-14-14z"/><path d="M154 84h14q16 0 16 22t-16 26h-14" fill="none" stroke-width="11" stroke="currentColor"/>',
  't-shirt': '<path d="M88 46q32 22 64 0l44 22-16 36-20-8v100H80V96l-20 8-16-36z"/>',
  tote: '<path d="M72 84h96v112H72z"/><path d="M94 84V50q0-14 26-14t26 14v34" fill="none" stroke-width="7" stroke="currentColor"/>',
  'framed-print': '<path d="M60 36h120v160H60z"/><path d="M72 48h96v136H72z" fill="#fbfaf6"/>',
};

/** A still drawing of a blank in its colour. */
export function drawBlank(name: string): string {
  const sku = name.replace(/\.svg$/, '');
  const blank = BLANKS.find((b) => b.items.some((item) => item.sku === sku));
  const colour = blank?.colours.find((c) => blank.items.some((i) => i.sku === sku && i.colour === c.name));
  const hex = colour?.hex ?? '#ffffff';
  return `<svg xmlns="http://www.w3.org/2000/svg" width="1000" height="1000" viewBox="0 0 240 240"><rect width="240" height="240" fill="#dde5e6"/><g fill="${hex}" color="${hex}" stroke="#12232b44" stroke-width="1.2">${SHAPES[blank?.id ?? ''] ?? ''}</g></svg>`;
}
