import { type Chance, chance } from '../random';
import type { StockedItem } from './item';

interface Family {
  name: string;
  category: string;
  words: readonly string[];
  cost: readonly [number, number];
  grams: readonly [number, number];
  /** Option names and values; each combination is an item of one group. */
  options?: Readonly<Record<string, readonly string[]>>;
  msrp?: boolean;
  map?: boolean;
  about: string;
}

const COLOURS = ['Slate', 'Night blue', 'Moss', 'Rust', 'Sand', 'Black'];
const FAMILIES: readonly Family[] = [
  {
    name: 'Red-light head torch',
    category: 'Lighting > Torches',
    words: ['3 modes', '5 modes', 'rechargeable', 'with rear lamp', 'featherweight'],
    cost: [690, 1890],
    grams: [60, 140],
    about: 'Keeps your eyes used to the dark: the red beam dims from full to a glow.',
  },
  {
    name: 'Red-light hand torch',
    category: 'Lighting > Torches',
    words: ['pocket', 'with dimmer', 'long reach', 'on a cord'],
    cost: [420, 1290],
    grams: [70, 190],
    about: 'For reading charts at the eyepiece without losing night sight.',
  },
  {
    name: 'Lantern',
    category: 'Lighting > Lanterns',
    words: ['folding', 'amber', 'with hook', 'USB'],
    cost: [890, 2490],
    grams: [220, 640],
    options: { Colour: COLOURS.slice(0, 3) },
    about: 'A warm light for camp tables and balconies.',
  },
  {
    name: 'Planisphere',
    category: 'Charts > Planispheres',
    words: ['30 cm, 51° north', '20 cm, 51° north', '25 cm, 42° north', 'luminous'],
    cost: [340, 890],
    grams: [80, 240],
    msrp: true,
    about: 'Turn the disc to date and hour and it shows the sky above you.',
  },
  {
    name: 'Star atlas',
    category: 'Charts > Atlases',
    words: ['spiral bound', 'field edition', 'large print', 'double stars'],
    cost: [890, 2290],
    grams: [380, 1450],
    msrp: true,
    map: true,
    about: 'Charts to magnitude 7.5 with an index of deep-sky objects.',
  },
  {
    name: 'Moon map',
    category: 'Charts > Maps',
    words: ['folded', 'wall size', 'mirror image', 'wipe clean'],
    cost: [240, 790],
    grams: [60, 310],
    msrp: true,
    about: 'Named craters, rilles and seas, printed on tear-proof sheet.',
  },
  {
    name: 'Dew strap',
    category: 'Optics > Dew control',
    words: ['10 cm, USB', '20 cm, USB', '30 cm, 12 V', '40 cm, 12 V'],
    cost: [890, 2290],
    grams: [40, 160],
    about: 'A gentle heat around the tube keeps the glass clear all night.',
  },
  {
    name: 'Dew shield',
    category: 'Optics > Dew control',
    words: ['flexible', 'folding', 'felt lined'],
    cost: [690, 1890],
    grams: [120, 420],
    options: { Size: ['80 mm', '120 mm', '150 mm', '200 mm'] },
    about: 'Rolls flat in the bag, holds dew and stray light off the lens.',
  },
  {
    name: 'Lens cap set',
    category: 'Optics > Caps and cases',
    words: ['7 sizes', '12 sizes', 'with cords', 'soft'],
    cost: [140, 490],
    grams: [30, 120],
    about: 'Push-fit caps that stay on in the bag.',
  },
  {
    name: 'Moon filter 1.25"',
    category: 'Optics > Filters',
    words: ['13 %', '18 %', '25 %', 'variable'],
    cost: [520, 1490],
    grams: [20, 50],
    msrp: true,
    map: true,
    about: 'Takes the glare off a full moon so that detail shows.',
  },
  {
    name: 'Eyepiece case',
    category: 'Optics > Caps and cases',
    words: ['foam, 6 places', 'foam, 12 places', 'padded roll', 'hard shell'],
    cost: [690, 2490],
    grams: [210, 1100],
    about: 'Cut foam holds each eyepiece by itself.',
  },
  {
    name: 'Desiccant capsule 1.25"',
    category: 'Optics > Care',
    words: ['pack of 2', 'pack of 4', 'rechargeable'],
    cost: [180, 690],
    grams: [30, 90],
    about: 'Sits in the focuser and keeps the tube dry; turns pink when full.',
  },
  {
    name: 'Lens cleaning kit',
    category: 'Optics > Care',
    words: ['travel', 'with blower', '50 sheets'],
    cost: [260, 990],
    grams: [60, 260],
    about: 'Blower, brush, fluid and cloths for coated glass.',
  },
  {
    name: 'Observing chair',
    category: 'Furniture > Chairs',
    words: ['folding, 12 heights', 'folding, 8 heights', 'with back rest'],
    cost: [3890, 7890],
    grams: [5200, 9400],
    options: { Colour: ['Slate', 'Black'] },
    msrp: true,
    about: 'Sit at the eyepiece at any height from 20 to 85 cm.',
  },
  {
    name: 'Camp stool',
    category: 'Furniture > Chairs',
    words: ['three legs', 'with bag', 'low'],
    cost: [790, 2190],
    grams: [700, 1900],
    options: { Colour: COLOURS },
    about: 'Folds to the size of a thermos flask.',
  },
  {
    name: 'Folding table',
    category: 'Furniture > Tables',
    words: ['60 cm', '90 cm', 'roll top'],
    cost: [1690, 4290],
    grams: [1900, 5200],
    about: 'For charts, flask and laptop.',
  },
  {
    name: 'Thermos flask',
    category: 'Kitchen > Flasks',
    words: ['0.5 l', '0.75 l', '1 l', 'with two cups'],
    cost: [690, 1990],
    grams: [310, 780],
    options: { Colour: COLOURS },
    msrp: true,
    about: 'Hot for twelve hours, tested at minus five.',
  },
  {
    name: 'Enamel mug',
    category: 'Kitchen > Mugs',
    words: ['star trail', 'plain', 'double wall'],
    cost: [240, 790],
    grams: [140, 280],
    options: { Colour: COLOURS.slice(0, 4) },
    about: 'Rolled rim, 350 ml.',
  },
  {
    name: 'Wool blanket',
    category: 'Clothing > Blankets',
    words: ['constellation weave', 'herringbone', 'recycled'],
    cost: [1490, 3290],
    grams: [900, 1700],
    options: { Colour: COLOURS.slice(0, 4) },
    about: 'For shoulders and knees on long nights.',
  },
  {
    name: 'Fingerless gloves',
    category: 'Clothing > Gloves',
    words: ['flip top', 'wool', 'windproof'],
    cost: [520, 1590],
    grams: [60, 140],
    options: { Size: ['S', 'M', 'L', 'XL'], Colour: ['Black', 'Slate'] },
    about: 'Fingers free for focus knobs, tops fold over in between.',
  },
  {
    name: 'Beanie with red lamp',
    category: 'Clothing > Hats',
    words: ['rechargeable', 'two lamps'],
    cost: [590, 1390],
    grams: [90, 150],
    options: { Colour: COLOURS },
    about: 'The lamp lifts out for washing.',
  },
  {
    name: 'Binocular harness',
    category: 'Optics > Straps',
    words: ['adjustable', 'quick release', 'wide'],
    cost: [440, 1290],
    grams: [90, 230],
    about: 'Takes the weight off the neck and stops the swing.',
  },
  {
    name: 'Tripod',
    category: 'Optics > Tripods',
    words: ['travel', 'carbon', 'heavy duty', 'with fluid head'],
    cost: [2890, 11890],
    grams: [1100, 5200],
    msrp: true,
    map: true,
    about: 'Holds steady to 8 kg, legs lock by quarter turn.',
  },
  {
    name: 'Phone holder for eyepieces',
    category: 'Optics > Cameras',
    words: ['universal', 'three axis'],
    cost: [890, 2790],
    grams: [140, 380],
    msrp: true,
    about: 'Lines the camera of a phone up with the eyepiece.',
  },
  {
    name: 'Power pack 12 V',
    category: 'Power > Batteries',
    words: ['7 Ah', '12 Ah', '20 Ah'],
    cost: [3290, 9890],
    grams: [1300, 3900],
    msrp: true,
    about: 'Runs a mount and two dew straps for a night.',
  },
  {
    name: 'Cable set',
    category: 'Power > Cables',
    words: ['12 V, 2 m', 'USB, 1 m', 'splitter'],
    cost: [190, 890],
    grams: [50, 210],
    about: 'Red sheathed so that nobody trips.',
  },
  {
    name: 'Red film sheets A4',
    category: 'Lighting > Filters',
    words: ['pack of 5', 'pack of 10', 'self-adhesive'],
    cost: [120, 420],
    grams: [40, 110],
    about: 'Turns any screen or torch into a red one.',
  },
  {
    name: 'Rain cover',
    category: 'Outdoor > Covers',
    words: ['small', 'large', 'insulated'],
    cost: [690, 2890],
    grams: [160, 800],
    about: 'Goes over telescope and mount as they stand.',
  },
  {
    name: 'Ground sheet',
    category: 'Outdoor > Covers',
    words: ['2 x 2 m', '3 x 2 m', 'with pegs'],
    cost: [590, 1990],
    grams: [350, 1300],
    options: { Colour: COLOURS.slice(1, 4) },
    about: 'Find what you dropped: light grey on one side.',
  },
  {
    name: 'Compass',
    category: 'Outdoor > Navigation',
    words: ['luminous', 'sighting', 'baseplate'],
    cost: [490, 2190],
    grams: [40, 120],
    msrp: true,
    about: 'For aligning a mount before the pole star shows.',
  },
];
const BRANDS = ['Fellmoor', 'Tarnlight', 'Oxbow & Reed', 'Nethergate', 'Calder Field', 'Wickham Vale'];

const combinations = (options: Readonly<Record<string, readonly string[]>>): Record<string, string>[] =>
  Object.entries(options).reduce<Record<string, string>[]>(
    (all, [name, values]) => all.flatMap((o) => values.map((v) => ({ ...o, [name]: v }))),
    [{}],
  );

function gtin(n: number): string {
  const body = `506${String(7_000_000 + n).padStart(9, '0')}`;
  let sum = 0;
  for (let i = 0; i < 12; i++) sum += Number(body[i]) * (i % 2 ? 3 : 1);
  return body + ((10 - (sum % 10)) % 10);
}

const upTo = (n: number, step: number, less: number) => Math.ceil(n / step) * step - less;

/**
 * `count` items from a seed, the same on every machine, sorted by SKU. About three in ten come as variants of
 * a group.
 */
export function makeCatalogue(seed: number, count: number): StockedItem[] {
  const luck: Chance = chance(seed);
  const items: StockedItem[] = [];
  for (let round = 0; items.length < count; round++) {
    const family = FAMILIES[round % FAMILIES.length]!;
    const brand = luck.pick(BRANDS);
    const word = luck.pick(family.words);
    const mark = `${String.fromCharCode(65 + (round % 26))}${Math.floor(round / FAMILIES.length) + 1}`;
    const cost = luck.whole(...family.cost);
    const grams = luck.whole(...family.grams);
    const group = family.options ? `BWG-${String(round + 1).padStart(5, '0')}` : undefined;
    for (const options of family.options ? combinations(family.options) : [undefined]) {
      if (items.length >= count) break;
      const sku = `BW-${String(10_001 + items.length).padStart(6, '0')}`;
      const noPicture = luck.next() < 0.03;
      const noGtin = luck.next() < 0.06;
      items.push({
        sku,
        group,
        title: `${family.name}, ${word}, ${brand} ${mark}`,
        brand,
        category: family.category,
        options,
        gtin: noGtin ? undefined : gtin(items.length),
        cost,
        map: family.map ? upTo(cost * 1.75, 100, 1) : null,
        msrp: family.msrp ? upTo(cost * 2.6 + 300, 100, 1) : null,
        stock: luck.next() < 0.07 ? 0 : luck.whole(1, luck.next() < 0.3 ? 20 : 400),
        grams,
        description: `<p>${family.about}</p><ul><li>Made by ${brand}, ${word}</li><li>Weight ${grams} g</li></ul>${luck.next() < 0.02 ? '<script>track()</script><p onclick="buy()">See our <a href="https://brackwater.example">shop</a>.</p>' : ''}`,
        // Heavy and bulky goods come from the second store.
        shipsFrom: grams > 4000 || items.length % 11 === 0 ? 'Gdynia' : 'Hull',
        dispatchDays: items.length % 5 === 0 ? 3 : 1,
        pictures: noPicture ? [] : [`/pictures/${sku}.svg`, `/pictures/${sku}-b.svg`],
      });
    }
  }
  return items;
}

/** A still drawing for an item: a shape and colours from its SKU, so that rows can be told apart. */
export function drawPicture(name: string): string {
  const luck = chance([...name].reduce((h, c) => (h * 31 + c.charCodeAt(0)) >>> 0, 7));
  const hue = luck.whole(0, 359);
  const shapes = Array.from({ length: 3 }, () => {
    const [x, y, r] = [luck.whole(60, 180), luck.whole(60, 180), luck.whole(18, 60)];
    return luck.next() < 0.5
      ? `<circle cx="${x}" cy="${y}" r="${r}"/>`
      : `<rect x="${x - r}" y="${y - r / 2}" width="${2 * r}" height="${r}" rx="6"/>`;
  }).join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" width="1000" height="1000" viewBox="0 0 240 240"><rect width="240" height="240" fill="hsl(${hue} 22% 88%)"/><g fill="hsl(${hue} 32% 38%)" fill-opacity=".75">${shapes}</g></svg>`;
}
