/**
 * What is searched: items of catalogues, listings, products on the Bench, orders; goods are what plans and presets go by,
 * and buying is an order before it is bought, as rules go by it.
 */
export type Subject = 'item' | 'goods' | 'listing' | 'bench' | 'order' | 'buying';

const GOODS = ['item', 'goods', 'listing', 'bench'] as const;
const LISTED = ['listing', 'bench'] as const;
const PRICED = ['item', 'listing', 'bench'] as const;

/** What a number counts: amounts are typed in whole units of their currency, shares in percent. */
type Unit = 'money' | 'share' | 'pieces' | 'grams' | 'days' | 'hours';

interface NumberField {
  readonly of: readonly Subject[];
  readonly kind: 'number';
  readonly name: string;
  readonly unit: Unit;
  /** It changes as time passes. */
  readonly timely?: true;
  /** Several ranges of it stand for either: it is offered as bands to choose from. */
  readonly alternatives?: true;
  readonly example: string;
  readonly means: string;
}

interface TextField {
  readonly of: readonly Subject[];
  readonly kind: 'text';
  readonly name: string;
  readonly example: string;
  readonly means: string;
}

/** Flags with what each means, by subject where they differ. */
/** Something of the seller's own, asked for by its name. */
interface NamedField {
  readonly of: readonly Subject[];
  readonly kind: 'named';
  readonly name: string;
  readonly timely?: true;
  readonly example: string;
  readonly means: string;
}

interface FlagsField {
  readonly of: readonly Subject[];
  readonly kind: 'flags';
  /** Flags that change as time passes, by subject. */
  readonly timely?: Readonly<Partial<Record<Subject, readonly string[]>>>;
  readonly flags: Readonly<Partial<Record<Subject, Readonly<Record<string, string>>>>>;
}

const HAS = {
  barcode: 'a barcode',
  picture: 'a picture',
  map: 'a price that it may not be sold under',
  msrp: 'a price that its maker recommends',
} as const;

/** Every field that goods, listings and orders can be looked for by. A field means the same wherever it stands. */
export const VOCABULARY = {
  is: {
    of: ['item', 'listing', 'bench', 'order', 'buying'],
    kind: 'flags',
    timely: { order: ['late', 'overdue', 'needing'] },
    flags: {
      item: {
        stocked: 'in stock',
        new: 'not yet taken',
        taken: 'taken already',
        variant: 'other variants of what you took',
      },
      listing: {
        live: 'on sale',
        paused: 'paused, out of stock',
        needing: 'needs you',
        held: 'held at its price',
        step: 'a price step waits for you',
        leap: 'its cost leapt and waits for you',
        loss: 'sells below cost',
        own: 'own price',
        unlinked: 'no supplier item linked',
        edited: 'edited on the marketplace itself',
        changed: 'text not yet sent',
        ended: 'ended on the marketplace',
        ready: 'on the Bench, lacks nothing',
        lacking: 'on the Bench, lacks something',
        approved: 'on the Bench, approved',
        refused: 'refused by the marketplace',
      },
      bench: {
        ready: 'lacks nothing',
        lacking: 'lacks something',
        approved: 'approved',
        refused: 'refused by the marketplace',
        draft: 'a draft on the marketplace',
        publishing: 'on its way to the marketplace',
      },
      order: {
        needing: 'needs you',
        open: 'something to do or await',
        held: 'held before it is bought',
        ready: 'waits to be forwarded',
        late: 'no parcel near ship-by',
        overdue: 'on its way longer than usual',
        place: 'to order by hand or by file',
        personalised: 'made with the buyer’s own words',
        shipped: 'on its way to the buyer',
        delivered: 'with the buyer',
        cancelled: 'cancelled',
        aside: 'set aside',
        kept: 'kept back by you',
        noted: 'has a note of the buyer’s',
        asked: 'its buyer asks to cancel',
        returned: 'has a return or a refund of one',
        differs: 'an account statement says otherwise of it',
      },
      buying: {
        personalised: 'made with the buyer’s own words',
        noted: 'has a note of the buyer’s',
        split: 'bought of several suppliers',
      },
    },
  },
  has: {
    of: GOODS,
    kind: 'flags',
    flags: { item: HAS, goods: HAS, listing: HAS, bench: HAS },
  },
  cost: {
    of: GOODS,
    kind: 'number',
    name: 'Cost',
    unit: 'money',
    example: 'cost:5..20',
    means: 'its supplier asks from 5 to 20',
  },
  stock: {
    of: GOODS,
    kind: 'number',
    name: 'Stock',
    unit: 'pieces',
    example: 'stock:<5',
    means: 'its supplier has fewer than 5',
  },
  price: {
    of: PRICED,
    kind: 'number',
    name: 'Price',
    unit: 'money',
    example: 'price:>=20',
    means: 'a price from 20 on',
  },
  profit: {
    of: [...PRICED, 'order', 'buying'],
    kind: 'number',
    name: 'Profit',
    unit: 'money',
    example: 'profit:<4',
    means: 'a profit under 4',
  },
  margin: {
    of: PRICED,
    kind: 'number',
    name: 'Margin',
    unit: 'share',
    alternatives: true,
    example: 'margin:<15',
    means: 'a margin under 15 %',
  },
  paid: {
    of: ['order', 'buying'],
    kind: 'number',
    name: 'Paid',
    unit: 'money',
    example: 'paid:>50',
    means: 'paid more than 50',
  },
  units: {
    of: ['order', 'buying'],
    kind: 'number',
    name: 'Units',
    unit: 'pieces',
    example: 'units:>3',
    means: 'more than 3 units in all',
  },
  weight: {
    of: GOODS,
    kind: 'number',
    name: 'Weight',
    unit: 'grams',
    example: 'weight:<500',
    means: 'under 500 g',
  },
  days: {
    of: ['item'],
    kind: 'number',
    name: 'Handling days',
    unit: 'days',
    example: 'days:<=2',
    means: 'sent within 2 days',
  },
  moved: {
    of: ['listing'],
    kind: 'number',
    name: 'Hours since its last move',
    unit: 'hours',
    timely: true,
    example: 'moved:<24',
    means: 'moved within 24 hours',
  },
  sold: {
    of: ['listing'],
    kind: 'number',
    name: 'Days since last sale',
    unit: 'days',
    timely: true,
    example: 'sold:>30',
    means: 'no sale for over 30 days',
  },
  sales: {
    of: ['listing'],
    kind: 'number',
    name: 'Sold within 30 days',
    unit: 'pieces',
    timely: true,
    example: 'sales:>5',
    means: 'more than 5 units sold within 30 days',
  },
  group: {
    of: ['goods', 'listing'],
    kind: 'named',
    name: 'Group',
    timely: true,
    example: 'group:Lamps',
    means: 'in a group of yours',
  },
  on: {
    of: [...LISTED, 'order', 'buying'],
    kind: 'text',
    name: 'Marketplace',
    example: 'on:Loomhall',
    means: 'a marketplace',
  },
  brand: {
    of: GOODS,
    kind: 'text',
    name: 'Brand',
    example: 'brand:Fellmoor',
    means: 'a brand',
  },
  category: {
    of: GOODS,
    kind: 'text',
    name: 'Category',
    example: 'category:lamps',
    means: 'a category of the supplier or the marketplace',
  },
  country: {
    of: ['order', 'buying'],
    kind: 'text',
    name: 'Country',
    example: 'country:DE',
    means: 'goes to a country, by its code',
  },
  label: {
    of: ['order'],
    kind: 'text',
    name: 'Labels',
    example: 'label:gift',
    means: 'a label that you gave it',
  },
  supplier: {
    of: [...GOODS, 'buying'],
    kind: 'text',
    name: 'Supplier',
    example: 'supplier:Hollin',
    means: 'a supplier',
  },
  from: {
    of: ['item'],
    kind: 'text',
    name: 'Ships from',
    example: 'from:Hull',
    means: 'location it ships from',
  },
  sku: {
    of: [...GOODS, 'buying'],
    kind: 'text',
    name: 'SKU',
    example: 'sku:DD-0101',
    means: 'our SKU or the supplier’s',
  },
  template: {
    of: LISTED,
    kind: 'text',
    name: 'Copy template',
    example: 'template:Everyday',
    means: 'the copy template its texts are made of',
  },
  fault: {
    of: LISTED,
    kind: 'text',
    name: 'Fault',
    example: 'fault:picture',
    means: 'a word of what is missing or wrong',
  },
  mark: {
    of: ['order'],
    kind: 'text',
    name: 'Feed mark',
    example: 'mark:lantern-list',
    means: 'its buyer came by the mark of a feed',
  },
  town: {
    of: ['order'],
    kind: 'text',
    name: 'Town',
    example: 'town:Leeds',
    means: 'the buyer’s town',
  },
} as const satisfies Readonly<Record<string, NumberField | TextField | NamedField | FlagsField>>;

export type Vocabulary = typeof VOCABULARY;
export type FieldName = keyof Vocabulary;
