import type { Misprint, TooLate, TrackingCase } from './cases';
import type { Check, CheckKind } from './check';
import type { LineUnits } from './line-units';
import type { Due, Lane, OwnKind, SourceShare } from './order';
import type { ClaimState, GoodsPlace, ReturnAnswer, ReturnKind, ReturnState } from './return';

/** What happened to an order in one step, with its figures; put into words where it is shown. */
export type OrderFact =
  | { readonly kind: 'came in' }
  | { readonly kind: 'entered'; readonly as: OwnKind }
  /** It was on its way or over when it was read first. */
  | { readonly kind: 'read late'; readonly as: string }
  /** By checks that failed; by none where a case holds it back. */
  | { readonly kind: 'held'; readonly by: readonly Check[] }
  /** Bought by itself at an instant, by a rule; by a person's word where nothing is said. */
  | { readonly kind: 'ready'; readonly due?: Due | null }
  | { readonly kind: 'kept back'; readonly kept: boolean }
  | { readonly kind: 'set aside'; readonly aside: boolean }
  | { readonly kind: 'source chosen'; readonly line: string; readonly supplier: string | null }
  | { readonly kind: 'line split'; readonly line: string; readonly shares: readonly SourceShare[] | null }
  | { readonly kind: 'service chosen'; readonly supplier: string; readonly service: string | null }
  /** A supplier did not take or keep it, and another is bought of. */
  | { readonly kind: 'next source'; readonly supplier: string }
  | {
      readonly kind: 'forwarded';
      readonly to: readonly { readonly supplier: string; readonly lane: Lane }[];
    }
  | { readonly kind: 'accepted'; readonly supplier: string; readonly number: string }
  | {
      readonly kind: 'shipped';
      readonly supplier: string;
      readonly carrier: string;
      readonly tracking: string;
      readonly inside: readonly LineUnits[];
      readonly part: boolean;
    }
  | { readonly kind: 'delivered'; readonly tracking: readonly string[] }
  | { readonly kind: 'news'; readonly supplier: string; readonly number: string }
  | { readonly kind: 'called off'; readonly supplier: string; readonly units: readonly LineUnits[] }
  | { readonly kind: 'refused'; readonly supplier: string; readonly says: string }
  | { readonly kind: 'second purchase'; readonly supplier: string; readonly number: string }
  | { readonly kind: 'unclear'; readonly supplier: string; readonly item: string }
  | {
      readonly kind: 'meant';
      readonly supplier: string;
      readonly item: string;
      readonly units: readonly LineUnits[];
    }
  | { readonly kind: 'sale cancelled'; readonly units: readonly LineUnits[] }
  | { readonly kind: 'to cancel'; readonly reason: string; readonly units: readonly LineUnits[] }
  | { readonly kind: 'withdrawn'; readonly supplier: string }
  | { readonly kind: 'looked up'; readonly supplier: string }
  | {
      readonly kind: 'asked back';
      readonly supplier: string;
      readonly number: string | null;
      readonly by: Lane;
    }
  | { readonly kind: 'came back'; readonly supplier: string; readonly units: readonly LineUnits[] }
  | { readonly kind: 'comes anyway'; readonly supplier: string; readonly why: TooLate }
  | { readonly kind: 'never bought'; readonly supplier: string }
  | {
      readonly kind: 'cancelled';
      readonly reason: string;
      readonly units: readonly LineUnits[];
      readonly all: boolean;
    }
  | { readonly kind: 'not cancelled' }
  | { readonly kind: 'refunded'; readonly minor: number }
  | { readonly kind: 'settled' }
  | { readonly kind: 'marketplace has'; readonly tracking: readonly string[] }
  | { readonly kind: 'told'; readonly tracking: string }
  | { readonly kind: 'not told'; readonly tracking: string; readonly problem: TrackingCase['problem'] }
  | { readonly kind: 'message'; readonly about: string; readonly refused: string | null }
  | { readonly kind: 'cancellation told' }
  | { readonly kind: 'cancellation known' }
  | { readonly kind: 'cancellation refused'; readonly says: string }
  | { readonly kind: 'cancel asked'; readonly units: readonly LineUnits[] }
  | { readonly kind: 'dearer'; readonly supplier: string }
  | { readonly kind: 'request over' }
  | { readonly kind: 'request declined' }
  | { readonly kind: 'decline told'; readonly refused: string | null }
  | { readonly kind: 'released'; readonly kinds: readonly CheckKind[] }
  | { readonly kind: 'edited'; readonly address: number | null; readonly slip: number | null }
  | { readonly kind: 'proof set'; readonly line: string; readonly print: boolean }
  | { readonly kind: 'words came'; readonly line: string; readonly bought: boolean }
  | { readonly kind: 'asked about words'; readonly line: string }
  | { readonly kind: 'misprint reported'; readonly supplier: string; readonly units: readonly LineUnits[] }
  | {
      readonly kind: 'reprint';
      readonly supplier: string;
      readonly state: Misprint['state'];
      readonly says: string;
    }
  | { readonly kind: 'proof approved'; readonly lines: readonly string[] }
  | { readonly kind: 'return opened'; readonly what: ReturnKind; readonly units: readonly LineUnits[] }
  /** @param minor given back to the buyer since, in the order's currency */
  | { readonly kind: 'return moved'; readonly state: ReturnState; readonly minor: number }
  | { readonly kind: 'return answered'; readonly answer: ReturnAnswer; readonly minor: number }
  | { readonly kind: 'return told'; readonly refused: string | null }
  | { readonly kind: 'return noted'; readonly goods: GoodsPlace | null }
  | { readonly kind: 'return closed'; readonly closed: boolean }
  | { readonly kind: 'claimed'; readonly supplier: string; readonly wants: 'refund' | 'replacement' }
  | {
      readonly kind: 'claim heard';
      readonly supplier: string;
      readonly state: ClaimState;
      readonly says: string;
    }
  | {
      readonly kind: 'parcel back';
      readonly supplier: string;
      readonly tracking: string;
      readonly why: string;
    }
  | { readonly kind: 'to send again'; readonly tracking: string }
  | { readonly kind: 'sent again'; readonly supplier: string; readonly tracking: string }
  | { readonly kind: 'again refused'; readonly says: string }
  | { readonly kind: 'written'; readonly supplier: string };
