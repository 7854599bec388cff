import { type Currency, formatMinor, formatRate, type Ppm, WHOLE } from '../money';

type NameOf = (marketplace: string) => string;

/** A guard by which a price is not lower, or not higher. */
export type FloorBy = 'map' | 'smallest-profit' | 'floor';
export type CeilingBy = 'msrp' | 'ceiling';

/** Why the price that a target names is not known. */
export type Unpriced =
  | { readonly is: 'nothing' | 'market price' }
  /** On another marketplace that the target goes by. */
  | { readonly is: 'not listed' | 'no price there'; readonly marketplace: string }
  /** Prices that go by each other, the first again at the end. */
  | { readonly is: 'circle'; readonly marketplaces: readonly string[] }
  | { readonly is: 'rate'; readonly from: Currency; readonly to: Currency }
  /** What the reader of formulas said of one that the seller wrote. */
  | { readonly is: 'formula'; readonly said: string };

/** Why no price can be given under a plan. */
export type PriceRefusal =
  | { readonly why: 'unreachable' }
  /** The target names a price that is not known. */
  | { readonly why: 'unknown'; readonly what: Unpriced }
  | {
      readonly why: 'guards';
      readonly floor: number;
      readonly floorBy: FloorBy;
      readonly ceiling: number;
      readonly ceilingBy: CeilingBy;
    };

/** What an own price breaks. Amounts in minor units of the marketplace; `least` and `most` are what the guard asks for. */
export type BrokenGuard =
  | { readonly guard: 'cost'; readonly loses: number }
  | { readonly guard: 'smallest profit'; readonly earns: number; readonly least: number }
  | { readonly guard: 'smallest margin'; readonly margin: Ppm; readonly least: Ppm }
  | { readonly guard: 'map'; readonly least: number }
  | { readonly guard: 'msrp'; readonly rate: Ppm; readonly msrp: number };

/** Why a listing has no price of its plan, or why its own one is not to be offered. */
export type PriceProblem =
  | PriceRefusal
  | { readonly why: 'no rate'; readonly from: Currency; readonly to: Currency }
  | { readonly why: 'no category' | 'no weight' | 'no plan' }
  /** `byZone`: what a supplier ships depends on where the buyers are. */
  | { readonly why: 'no parcel'; readonly grams: number; readonly byZone: boolean }
  | { readonly why: 'own price'; readonly price: number; readonly breaks: BrokenGuard };

/** Why a listing is held or was refused. */
export type ListingProblem =
  | PriceProblem
  /** A step of its price that waits for approval. */
  | { readonly why: 'step'; readonly from: number; readonly to: number }
  /** What the marketplace said to it; `marketplace` where it was an offer of what is on sale. */
  | { readonly why: 'refused'; readonly said: string; readonly marketplace?: string };

/** The beginning of the sentence that all problems of a kind share; searches find them by it. */
const ALWAYS = {
  unreachable: 'No price reaches this target',
  unknown: '',
  guards: 'Guards contradict',
  'no rate': 'There is no exchange rate',
  'no category': 'Choose a category',
  'no weight': 'Its weight is not known',
  'no plan': 'No price plan covers it',
  'no parcel': 'The supplier ships no parcel',
  'own price': 'Own price',
  step: 'A step to',
  refused: '',
} as const satisfies Record<ListingProblem['why'], string>;

/** Words that all problems of one kind have in them; '' where they have none in common. */
export const alwaysSaidOf = ({ why }: ListingProblem): string => ALWAYS[why];

function unpricedInWords(what: Unpriced, nameOf: NameOf): string {
  switch (what.is) {
    case 'nothing':
      return 'It comes to no price above nothing.';
    case 'market price':
      return 'Its market price is not known.';
    case 'not listed':
      return `It is not listed on ${nameOf(what.marketplace)}.`;
    case 'no price there':
      return `It has no price on ${nameOf(what.marketplace)}.`;
    case 'circle':
      return `Its prices go by each other in a circle: ${what.marketplaces.map(nameOf).join(', by ')}.`;
    case 'rate':
      return `There is no exchange rate from ${what.from} to ${what.to}.`;
    case 'formula':
      return what.said;
  }
}

const FLOORS = { map: 'MAP', 'smallest-profit': 'the smallest profit', floor: 'the floor' } as const;

/** A problem in a sentence. @param nameOf what a marketplace is called */
export function problemInWords(problem: ListingProblem, currency: Currency, nameOf: NameOf): string {
  const money = (minor: number) => formatMinor(minor, currency);
  const always = alwaysSaidOf(problem);
  switch (problem.why) {
    case 'unreachable':
      return `${always}: fees, tax and margin together take the whole of it. Lower the target.`;
    case 'unknown':
      return unpricedInWords(problem.what, nameOf);
    case 'guards': {
      const ceiling = problem.ceilingBy === 'msrp' ? 'MSRP' : 'the ceiling';
      return `${always}: ${FLOORS[problem.floorBy]} asks for at least ${money(problem.floor)}, ${ceiling} allows at most ${money(problem.ceiling)}.`;
    }
    case 'no rate':
      return `${always} from ${problem.from} to ${problem.to} yet. Enter one under Settings.`;
    case 'no category':
      return `${always}: the fees depend on it.`;
    case 'no weight':
      return `${always}, so shipping cannot be worked out.`;
    case 'no plan':
      return `${always}.`;
    case 'no parcel':
      return `${always} of ${problem.grams} g${problem.byZone ? ' to where the buyers are' : ''}.`;
    case 'own price':
      return `${always} ${money(problem.price)}${brokenInWords(problem.breaks, money)}`;
    case 'step': {
      const { from, to } = problem;
      const rate = formatRate(Math.round(((to - from) * WHOLE) / from / 1000) * 1000, true);
      return `${always} ${money(to)} (${rate}) waits for you.`;
    }
    case 'refused':
      return problem.marketplace ? `${nameOf(problem.marketplace)} refused: ${problem.said}` : problem.said;
  }
}

function brokenInWords(breaks: BrokenGuard, money: (minor: number) => string): string {
  switch (breaks.guard) {
    case 'cost':
      return `: each sale loses ${money(breaks.loses)}.`;
    case 'smallest profit':
      return ` earns ${money(breaks.earns)}, under the smallest profit of ${money(breaks.least)}.`;
    case 'smallest margin':
      return ` earns ${formatRate(breaks.margin)} of it, under the smallest margin of ${formatRate(breaks.least)}.`;
    case 'map':
      return ` is under MAP ${money(breaks.least)}.`;
    case 'msrp':
      return ` is over ${breaks.rate === WHOLE ? '' : `${formatRate(breaks.rate)} of `}MSRP ${money(breaks.msrp)}.`;
  }
}

/** Whether two problems are the same, figures included. */
export const sameProblem = (a: ListingProblem | null, b: ListingProblem | null): boolean =>
  a === b || (a?.why === b?.why && JSON.stringify(a) === JSON.stringify(b));
