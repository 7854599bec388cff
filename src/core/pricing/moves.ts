import { formatMinor } from '../money';

/** How what a marketplace is told of a listing followed what it depends on. Amounts in minor units of `currency`. */
export interface OfferMoves {
  /** What set it off; '' where the change itself says it. */
  readonly because: string;
  readonly currency: string;
  readonly price?: {
    readonly from: number;
    readonly to: number;
    /** The sum of then, in words: its plan may be another by now. */
    readonly by: string;
  };
  readonly shown?: { readonly from: number; readonly to: number };
  readonly state?: 'on sale again' | 'paused' | 'ended';
  readonly held?: {
    readonly at: number;
    /** Whether buyers are shown none meanwhile. */
    readonly none: boolean;
    readonly why: string;
  };
}

const STATES = {
  'on sale again': 'On sale again.',
  paused: 'Paused.',
  ended: 'Ended until there is stock.',
} as const;

/** `Cost 4.10 → 4.60. Price 12.99 → 13.99 by plan “Everything”: …. Shown 3 → 2.` */
export function movesInWords({ because, currency, price, shown, state, held }: OfferMoves): string {
  const money = (minor: number) => formatMinor(minor, currency);
  return [
    because,
    price && `Price ${money(price.from)} → ${money(price.to)} by ${price.by}.`,
    shown && `Shown ${shown.from} → ${shown.to}.`,
    state && STATES[state],
    held && `${held.none ? 'Held back, none shown,' : 'Held'} at ${money(held.at)}: ${held.why}`,
  ]
    .filter(Boolean)
    .join(' ');
}
