import type { WireKnownListing } from '../../src/connect/wire';
import { chance } from '../random';
import type { StockedItem } from '../supplier/item';

/**
 * A listing from before Sampan, and which supplier item it really sells; null for goods of another supplier.
 */
export interface Older {
  readonly listing: WireKnownListing;
  readonly sells: string | null;
  /** How it was made: what a linking has to go by. */
  readonly kind: 'sku' | 'gtin' | 'rewritten' | 'vague' | 'foreign' | 'decoy';
}

/** How many listings the demo's shop had before Sampan, and the seed they are made from. */
export const OLDER = 1200;
export const OLDER_SEED = 12;

/** Colours and sizes as the shop wrote them over the years. */
const ELSEWHERE: Readonly<Record<string, readonly string[]>> = {
  Black: ['Schwarz', 'Noir', 'black', 'Negro', 'Czarny'],
  Slate: ['Schiefer', 'Ardoise', 'slate', 'Pizarra'],
  'Night blue': ['Nachtblau', 'Bleu nuit', 'night blue', 'Azul noche'],
  Moss: ['Moos', 'Mousse', 'moss', 'Musgo'],
  Rust: ['Rost', 'Rouille', 'rust'],
  Sand: ['Sand', 'Sable', 'sand', 'Arena'],
  S: ['Klein', 'Small', 'S', 'Petit'],
  M: ['Mittel', 'Medium', 'M', 'Moyen'],
  L: ['Groß', 'Large', 'L', 'Grand'],
  XL: ['XL', 'Extra large'],
};
const OPTION_NAMES: Readonly<Record<string, readonly string[]>> = {
  Colour: ['Farbe', 'Color', 'Couleur', 'Colour'],
  Size: ['Größe', 'Size', 'Taille'],
};
const FOREIGN = [
  'Ceramic plant pot with saucer',
  'Bamboo cutlery set',
  'Linen apron, two pockets',
  'Beeswax candle, hand poured',
  'Cork coasters, set of 6',
  'Wooden puzzle, lighthouse',
  'Felt slippers, grey',
  'Garden twine on a spool',
];
const CATEGORY: Readonly<Record<string, string>> = {
  Lighting: 'lighting',
  Charts: 'maps',
  Optics: 'optics',
  Furniture: 'furniture',
  Kitchen: 'kitchen',
  Clothing: 'clothing',
};

/**
 * Makes the listings that a seller had before, from what the supplier offers, with the true answer beside
 * each. The kinds: the supplier's SKU kept; an own SKU with the barcode; text rewritten, without barcode;
 * text too vague to tell one item; goods of another supplier; and decoys, which look like an item and are
 * not: another measure, another model, a barcode or SKU that belongs to something else.
 */
export function makeOlder(items: readonly StockedItem[], count: number, seed: number): Older[] {
  const luck = chance(seed);
  const made: Older[] = [];
  const used = new Set<string>();
  const byGroup = new Map<string, StockedItem[]>();
  for (const item of items)
    if (item.group) byGroup.set(item.group, [...(byGroup.get(item.group) ?? []), item]);
  let n = 0;
  const price = (item: StockedItem) =>
    ((Math.round((item.cost * (15 + luck.whole(0, 9))) / 10 / 100) * 100 + 399) / 100).toFixed(2);
  const add = (
    kind: Older['kind'],
    sells: StockedItem | null,
    part: Partial<WireKnownListing> & { title: string },
  ) => {
    n++;
    const odd = luck.next();
    made.push({
      kind,
      sells: sells?.sku ?? null,
      listing: {
        id: `PO${String(n).padStart(6, '0')}`,
        sku: `SHOP-${String(4000 + n)}`,
        description: '<p>From our shop in Bristol.</p>',
        category: (sells && CATEGORY[sells.category.split(' > ')[0]!]) ?? 'kitchen',
        brand: sells?.brand ?? '',
        pictures: ['/pictures/shop.svg'],
        price: sells ? price(sells) : `${luck.whole(6, 40)}.99`,
        quantity: luck.whole(0, 5),
        state: odd < 0.12 ? 'ended' : odd < 0.18 ? 'paused' : 'live',
        ...part,
      },
    });
  };
  const optionsOf = (item: StockedItem, names: ReadonlyMap<string, string>) =>
    Object.fromEntries(
      Object.entries(item.options ?? {}).map(([name, value]) => [
        names.get(name) ?? name,
        luck.pick(ELSEWHERE[value] ?? [value]),
      ]),
    );
  /**
   * The supplier's title in the shop's words: turned round, shouted, with words of praise, the brand first or
   * left out.
   */
  const rewrite = (item: StockedItem) => {
    const parts = item.title.split(', ');
    const [name, word, mark] = [parts[0]!, parts.slice(1, -1).join(' '), parts.at(-1)!];
    return luck.pick([
      `${mark} ${name.toLowerCase()} – ${word}`,
      `${name} ${word} by ${mark}`,
      `${mark}: ${word} ${name}`.toUpperCase(),
      `NEW ${name}, ${word} (${mark})`,
      `${name} | ${mark} | ${word} | stargazing`,
    ]);
  };
  for (let tries = 0; made.length < count && tries < items.length * 6; tries++) {
    const item = luck.pick(items);
    if (used.has(item.sku)) continue;
    const members = item.group ? byGroup.get(item.group)! : [item];
    if (members.some((m) => used.has(m.sku))) continue;
    for (const m of members) used.add(m.sku);
    const turn = luck.next();
    const names = new Map(
      Object.keys(item.options ?? {}).map((name) => [name, luck.pick(OPTION_NAMES[name] ?? [name])]),
    );
    const group = item.group ? `G${n + 1}` : undefined;
    if (turn < 0.26)
      for (const m of members)
        add('sku', m, {
          sku: m.sku,
          title: luck.next() < 0.5 ? m.title : rewrite(m),
          group,
          options: optionsOf(m, names),
          gtin: m.gtin,
        });
    else if (turn < 0.5) {
      const title = rewrite(item);
      // Of some products only the first variant ever got its barcode.
      const every = luck.next() < 0.6;
      members.forEach((m, k) => {
        add('gtin', m, {
          title,
          group,
          options: optionsOf(m, names),
          gtin: every || k === 0 ? m.gtin : undefined,
        });
      });
    } else if (turn < 0.78) {
      const title = rewrite(item);
      for (const m of members)
        add('rewritten', m, {
          title,
          group,
          options: optionsOf(m, names),
          brand: luck.next() < 0.6 ? m.brand : '',
        });
    } else if (turn < 0.86) add('vague', item, { title: item.title.split(', ')[0]!, brand: '' });
    else if (turn < 0.94)
      add('foreign', null, {
        title: `${luck.pick(FOREIGN)} ${luck.whole(1, 90)}`,
        brand: luck.pick(['', 'Petrel & Finch', 'Oddfellow']),
      });
    else {
      const other = luck.pick(items);
      const how = luck.whole(0, 3);
      // Another model of the same family, in everything else the same.
      if (how === 0)
        add('decoy', null, {
          title: item.title.replace(/[A-Z]\d+$/, `Z${luck.whole(900, 999)}`),
          brand: item.brand,
        });
      // Another measure.
      else if (how === 1)
        add('decoy', null, {
          title: `${item.title.replace(/\d+/, (d) => String(Number(d) * 2 + 1))}`,
          brand: item.brand,
          price: '5.99',
        });
      // A barcode that belongs to something else.
      else if (how === 2)
        add('decoy', null, { title: `${luck.pick(FOREIGN)} ${luck.whole(100, 900)}`, gtin: other.gtin });
      // An own SKU that happens to be the supplier's for something else.
      else if (!used.has(other.sku)) {
        used.add(other.sku);
        add('decoy', null, { sku: other.sku, title: `${luck.pick(FOREIGN)} ${luck.whole(100, 900)}` });
      }
    }
  }
  return made.slice(0, count);
}
