import { countOf } from '../../core/units';

/** What a simulated service is asked to do, so that one can see how the shop takes it. */
export interface Provocation {
  readonly words: string;
  /** Who is asked; `items` are some that the supplier has for listings in a state. */
  readonly of: 'supplier' | 'marketplace' | 'both' | { readonly items: 'live' | 'paused' };
  readonly what: string;
  /** The request, and the message after it; `n` is the number that the seller chose. */
  readonly body: object | ((n: number) => object);
  readonly done: string | ((n: number) => string);
}

const FINDS = 'The next reading of the catalogue finds it.';
const items = (says: string) => (n: number) => `${countOf(n, 'item')}: ${says}. ${FINDS}`;

export const PROVOCATIONS: readonly (readonly [group: string, list: readonly Provocation[]])[] = [
  [
    'The supplier',
    [
      {
        words: 'Costs rise by 25 %',
        of: { items: 'live' },
        what: 'cost',
        body: { percent: 25 },
        done: items('cost up 25 %'),
      },
      {
        words: 'Costs fall by 10 %',
        of: { items: 'live' },
        what: 'cost',
        body: { percent: -10 },
        done: items('cost down 10 %'),
      },
      {
        words: 'Out of stock',
        of: { items: 'live' },
        what: 'stock',
        body: { stock: 0 },
        done: items('out of stock'),
      },
      {
        words: 'Back in stock',
        of: { items: 'paused' },
        what: 'stock',
        body: { stock: 40 },
        done: items('back in stock'),
      },
      {
        words: 'Parcels leave',
        of: 'supplier',
        what: 'advance',
        body: { status: 'accepted' },
        done: 'Accepted orders were shipped.',
      },
      {
        words: 'Cancels an order',
        of: 'supplier',
        what: 'cancel',
        body: { n: 1 },
        done: 'The newest accepted order was cancelled by the supplier.',
      },
      {
        words: 'Cancels one piece of several',
        of: 'supplier',
        what: 'cancel',
        body: { pieces: 1 },
        done: 'The supplier cancelled one piece of its newest order of several.',
      },
      {
        words: 'It charges 20 % more than it lists',
        of: 'supplier',
        what: 'surcharge',
        body: { percent: 20 },
        done: 'What is bought from now on is charged 20 % dearer than listed.',
      },
      {
        words: 'It charges what it lists',
        of: 'supplier',
        what: 'surcharge',
        body: { percent: 0 },
        done: 'What is bought from now on is charged as listed.',
      },
      {
        words: 'Its parcels are delayed',
        of: 'supplier',
        what: 'notices',
        body: {
          notices: [{ kind: 'delayed', to: ['GB', 'IE'], days: 4, why: 'A road is closed by floods' }],
        },
        done: `Parcels to Britain and Ireland take four days longer. ${FINDS}`,
      },
      {
        words: 'It delivers as usual',
        of: 'supplier',
        what: 'notices',
        body: { notices: [] },
        done: `Nothing is delayed any more. ${FINDS}`,
      },
      {
        words: 'Parcels arrive',
        of: 'supplier',
        what: 'advance',
        body: { status: 'shipped' },
        done: 'Parcels were delivered.',
      },
    ],
  ],
  [
    'The marketplace',
    [
      {
        words: 'New orders',
        of: 'marketplace',
        what: 'orders',
        body: (n) => ({ n }),
        done: (n) => `${countOf(n, 'order')} made.`,
      },
      {
        words: 'A personalised order',
        of: 'marketplace',
        what: 'orders',
        body: { n: 1, personalised: true },
        done: 'A personalised order was made.',
      },
      {
        words: 'Two personalisations of one product',
        of: 'marketplace',
        what: 'orders',
        body: { n: 1, twins: true },
        done: 'An order of two lines of one product was made, each with its own words.',
      },
      {
        words: 'An order of three',
        of: 'marketplace',
        what: 'orders',
        body: { n: 1, quantity: 3 },
        done: 'An order of three pieces was made.',
      },
      {
        words: 'A badly addressed order',
        of: 'marketplace',
        what: 'orders',
        body: { n: 1, badAddress: true },
        done: 'An order with half a postcode was made.',
      },
      {
        words: 'An order that cannot be read',
        of: 'marketplace',
        what: 'orders',
        body: { n: 1, spoiled: true },
        done: 'An order was made whose country is no code.',
      },
      {
        words: 'A buyer cancels',
        of: 'marketplace',
        what: 'cancel',
        body: { n: 1 },
        done: 'The buyer of the newest paid order cancelled it.',
      },
      {
        words: 'A buyer cancels one unit of several',
        of: 'marketplace',
        what: 'cancel',
        body: { units: 1 },
        done: 'The buyer of the newest order of several units cancelled one.',
      },
      {
        words: 'A buyer asks to cancel',
        of: 'marketplace',
        what: 'ask-to-cancel',
        body: {},
        done: 'The buyer of the newest paid order asks to cancel it; the seller has a day to answer.',
      },
      {
        words: 'The sale fee rises',
        of: 'marketplace',
        what: 'fees',
        body: { rise: 2 },
        done: 'The sale fee is 2 points higher. “Read fees and rules” finds it.',
      },
      {
        words: 'A listing is edited there',
        of: 'marketplace',
        what: 'edit',
        body: {},
        done: 'The newest listing has another title there. “Look for edits on the site” finds it.',
      },
      {
        words: 'The sale fee as before',
        of: 'marketplace',
        what: 'fees',
        body: { rise: 0 },
        done: 'The sale fee is what it was.',
      },
      {
        words: 'Withdraw consent',
        of: 'marketplace',
        what: 'withdraw',
        body: {},
        done: 'Consent was withdrawn on the marketplace.',
      },
    ],
  ],
  [
    'The line between',
    [
      {
        words: 'Outage',
        of: 'both',
        what: 'faults',
        body: { outage: true },
        done: 'out of service until “All well”',
      },
      {
        words: 'Slow',
        of: 'both',
        what: 'faults',
        body: { slowMs: 4000 },
        done: 'answers take four seconds',
      },
      {
        words: 'Too many requests',
        of: 'both',
        what: 'faults',
        body: { tooMany: 3 },
        done: 'the next three requests are turned away',
      },
      {
        words: 'Lose the next answer',
        of: 'both',
        what: 'faults',
        body: { loseAnswers: 1 },
        done: 'the next answer is lost after it was carried out',
      },
      {
        words: 'Something between answers',
        of: 'both',
        what: 'faults',
        body: { stray: 1 },
        done: 'the next answer is replaced by a 404 from between, after it was carried out',
      },
      {
        words: 'Say things twice',
        of: 'both',
        what: 'faults',
        body: { duplicate: true },
        done: 'changes are told more than once',
      },
      {
        words: 'Tell late',
        of: 'both',
        what: 'faults',
        body: { late: 3 },
        done: 'changes come three readings late',
      },
      {
        words: 'Spoil a page',
        of: 'supplier',
        what: 'faults',
        body: { spoil: 'negative-cost' },
        done: 'The catalogue has a negative cost in it now.',
      },
      {
        words: 'All well',
        of: 'both',
        what: 'faults',
        body: {
          outage: false,
          slowMs: 0,
          tooMany: 0,
          loseAnswers: 0,
          stray: 0,
          duplicate: false,
          late: 0,
          spoil: null,
        },
        done: 'all well',
      },
    ],
  ],
];
