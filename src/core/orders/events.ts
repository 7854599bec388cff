import type { Entry } from '../ledger';
import type { Carrier } from '../tracking';
import type { Instant } from '../units';
import type { Check, CheckKind } from './check';
import type { LineUnits } from './line-units';
import type { ChosenSource, Due, Purchase, SourceShare } from './order';
import type { Claim, GoodsPlace, ReturnAnswer, ReturnKind, ReturnState } from './return';
import type { Statement } from './statement';

/** An event of an order. Each may come twice, late and in any order. */
export type OrderEvent =
  /** What a marketplace says of it. Units cancelled by line, in all. */
  | {
      readonly kind: 'marketplace said';
      readonly cancelled: readonly LineUnits[];
      readonly dispatched: readonly string[];
      readonly refunded: number;
      readonly settled: boolean;
      /** Which of the buyer's texts stands at lines now, where it is another; missing for as before. */
      readonly words?: readonly { readonly line: string; readonly text: number }[];
      /** The buyer's wish to cancel, as it stands there; missing for none. */
      readonly request?: {
        readonly id: string;
        readonly totals: readonly LineUnits[];
        /** Which of the buyer's texts says why; null for none. */
        readonly reason: number | null;
        readonly answerBy: Instant | null;
        readonly open: boolean;
      };
      /** Returns as they stand there; missing for none. Amounts in the order's currency, in all. */
      readonly returns?: readonly {
        readonly request: string;
        readonly what: ReturnKind;
        readonly units: readonly LineUnits[];
        readonly reason: string;
        /** Which of the buyer's texts says why; null for none. */
        readonly words: number | null;
        readonly answerBy: Instant | null;
        readonly state: ReturnState;
        /** The buyer has sent the goods. */
        readonly isSent: boolean;
        readonly refunded: number;
        readonly label: number;
        readonly fees: number;
      }[];
    }
  | {
      readonly kind: 'supplier said';
      readonly supplier: string;
      readonly said: Statement;
      /**
       * What of the purchase this copy of the shop does not know: all of it, or lines that are not in it here. Null where
       * nothing is missing, or nothing of it belongs here.
       */
      readonly adopted: Purchase | null;
    }
  /** It does not take a purchase. */
  | {
      readonly kind: 'supplier refused';
      readonly supplier: string;
      readonly reference: string;
      readonly says: string;
    }
  /** It was looked up, and the supplier has none: it never left. */
  | { readonly kind: 'never bought'; readonly supplier: string; readonly reference: string }
  /** It will not be sent: its supplier was disconnected. */
  | { readonly kind: 'not sent'; readonly supplier: string; readonly reference: string }
  /** It does not take back what it was asked for. */
  | {
      readonly kind: 'keeps it';
      readonly supplier: string;
      readonly reference: string;
      readonly says: string;
    }
  /** A person's word for it, where the supplier has no service. */
  | {
      readonly kind: 'answered outside';
      readonly supplier: string;
      readonly reference: string;
      readonly agreed: boolean;
    }
  | { readonly kind: 'written'; readonly supplier: string; readonly reference: string }
  | { readonly kind: 'parcel told'; readonly tracking: string }
  | { readonly kind: 'parcel refused'; readonly tracking: string; readonly says: string }
  | { readonly kind: 'cancellation told' }
  /** The buyer was written to; with why the marketplace did not take it. */
  | { readonly kind: 'message told'; readonly about: string; readonly refused: string | null }
  /** Units that the marketplace has as cancelled by line, in all, of the lines that it was asked to cancel. */
  | { readonly kind: 'cancellation refused'; readonly says: string; readonly there: readonly LineUnits[] }
  /** How it was decided with what is known now; see {@link Effect} `decide`. */
  | {
      readonly kind: 'decided';
      readonly checks: readonly Check[];
      readonly expected: readonly Entry[] | null;
      readonly passed: boolean;
      readonly why: readonly CheckKind[];
      readonly purchases: readonly Purchase[];
      /** When it is bought by itself; null where a person has to say so. */
      readonly due: Due | null;
      /** Cases that do not hold it any more: another source is bought of. */
      readonly over: readonly string[];
    }
  | { readonly kind: 'keep back'; readonly kept: boolean }
  | { readonly kind: 'set aside'; readonly aside: boolean }
  /** Which source the units of a line are bought of that nothing is bought for yet; null for that of the rule. */
  | { readonly kind: 'choose source'; readonly line: string; readonly source: ChosenSource | null }
  /** How the units of a line that nothing is bought for yet are split over sources; null for as the rule does. */
  | { readonly kind: 'split line'; readonly line: string; readonly shares: readonly SourceShare[] | null }
  /** Which shipping service of a supplier is taken; '' for the usual one, null for that of the rule. */
  | { readonly kind: 'choose service'; readonly supplier: string; readonly service: string | null }
  /** A line is made with other words of the buyer's, or with another print than it was shown with. */
  | {
      readonly kind: 'set proof';
      readonly line: string;
      readonly print: string;
      readonly words: number | null;
    }
  /** Units that a maker sent came out wrong. @param photo of a kept file */
  | {
      readonly kind: 'report misprint';
      readonly supplier: string;
      readonly reference: string;
      readonly units: readonly LineUnits[];
      readonly reason: string;
      readonly photo: string;
    }
  /** The maker does not take word of it. */
  | { readonly kind: 'misprint refused'; readonly case: string; readonly says: string }
  /** The buyer is asked about the words of a line. */
  | { readonly kind: 'ask about words'; readonly line: string }
  /** A person looked at how lines are made with the buyer's words. */
  | {
      readonly kind: 'approve proof';
      readonly lines: readonly {
        readonly line: string;
        readonly print: string;
        readonly words: number;
        readonly files: Readonly<Record<string, string>>;
      }[];
    }
  | { readonly kind: 'release'; readonly kinds: readonly CheckKind[]; readonly go: boolean }
  /** Goes to another of the buyer's addresses, or has another of the texts on its slip; null for as before. */
  | {
      readonly kind: 'edit';
      readonly to: { readonly address: number; readonly country: string } | null;
      readonly slip: number | null;
      /** What is written to whom it is given; missing for as before, null for nothing. */
      readonly gift?: number | null;
    }
  | { readonly kind: 'forward' }
  | { readonly kind: 'cancel'; readonly units: readonly LineUnits[]; readonly reason: string }
  | { readonly kind: 'seen'; readonly case: string }
  /** Which lines a supplier meant that named only their SKU, as a person found out. */
  | { readonly kind: 'meant'; readonly case: string; readonly units: readonly LineUnits[] }
  | { readonly kind: 'tell anyway'; readonly tracking: string }
  /** Says yes or no to a buyer's request to cancel. @see CancelRequest */
  | {
      readonly kind: 'answer request';
      readonly case: string;
      readonly accept: boolean;
      readonly says: string;
    }
  /** The seller opens a return that no marketplace told of. @param words which of the buyer's texts says why */
  | {
      readonly kind: 'open return';
      readonly what: ReturnKind;
      readonly units: readonly LineUnits[];
      readonly reason: string;
      readonly words: number | null;
    }
  /** The seller answers a buyer. @param minor what is given back, where it is a refund. @param label who pays the way back */
  | {
      readonly kind: 'answer return';
      readonly case: string;
      readonly answer: ReturnAnswer;
      readonly minor: number;
      readonly label: 'buyer' | 'seller';
      readonly says: string;
    }
  /** The marketplace took the answer; with why it did not. */
  | { readonly kind: 'return told'; readonly case: string; readonly refused: string | null }
  /** A supplier is asked for money, or for goods in place of others. @param photos of kept files */
  | {
      readonly kind: 'claim';
      readonly case: string;
      readonly supplier: string;
      readonly reference: string;
      readonly wants: Claim['wants'];
      readonly says: string;
      readonly photos: readonly string[];
    }
  | { readonly kind: 'claim refused'; readonly case: string; readonly says: string }
  /** What a person knows of a return; what is missing stays as it is. */
  | {
      readonly kind: 'note return';
      readonly case: string;
      readonly reason?: string;
      readonly goods?: GoodsPlace;
      readonly claim?: Pick<Claim, 'state' | 'credit' | 'restocking' | 'answer'>;
    }
  | { readonly kind: 'close return'; readonly case: string; readonly closed: boolean }
  /** An undeliverable parcel goes out again, to one of the buyer's addresses. */
  | { readonly kind: 'send again'; readonly case: string; readonly address: number }
  | { readonly kind: 'again refused'; readonly case: string; readonly says: string }
  /** The marketplace was told that it is declined; with why it did not take that. */
  | { readonly kind: 'decline told'; readonly refused: string | null };

/** Whether what passes its checks is bought: at once, when its rule says so, or by a person's word alone. */
export type Go = 'now' | 'by rule' | 'no';

/** An effect to carry out outside of the order after a step. */
export type Effect =
  /** Check it with what is known now, and say how: a `decided` event. */
  | { readonly kind: 'decide'; readonly go: Go }
  | { readonly kind: 'buy'; readonly purchase: Purchase }
  | { readonly kind: 'withdraw'; readonly supplier: string; readonly reference: string }
  /** Ask a supplier to take units out: how many of each line in all, so that asking twice takes them once. */
  | {
      readonly kind: 'take back';
      readonly supplier: string;
      readonly reference: string;
      readonly number: string;
      readonly reason: string;
      /** Null for all that it has. */
      readonly totals: readonly LineUnits[] | null;
      /** Units that it was asked for before and kept. */
      readonly kept: number;
    }
  | {
      readonly kind: 'tell parcel';
      readonly carrier: string;
      readonly tracking: string;
      readonly shippedAt: Instant;
      readonly inside: readonly LineUnits[];
      readonly anyway: boolean;
    }
  /** Tell the marketplace of a cancellation: how many units of each line in all; null for all. */
  | {
      readonly kind: 'tell cancellation';
      readonly reason: string;
      readonly totals: readonly LineUnits[] | null;
    }
  /** Ask a maker to print again what came out wrong, by its case. */
  | { readonly kind: 'tell misprint'; readonly case: string }
  | { readonly kind: 'tell decline'; readonly request: string; readonly says: string }
  /** Tell the marketplace how a buyer is answered, by the return's case. */
  | {
      readonly kind: 'tell return';
      readonly case: string;
      readonly answer: ReturnAnswer;
      readonly minor: number;
      readonly label: 'buyer' | 'seller';
      readonly says: string;
    }
  /** Ask a supplier about returned goods, or to send a parcel again, by the case. */
  | { readonly kind: 'tell claim'; readonly case: string }
  | { readonly kind: 'tell again'; readonly case: string }
  /** Bring what returns cost besides refunds on record. */
  | { readonly kind: 'post returns' }
  /** Bring the sale, or what a purchase is charged, on record. */
  | { readonly kind: 'post sale' }
  | { readonly kind: 'post purchase'; readonly supplier: string; readonly reference: string };

/** What a step has to know of the world besides the order. */
export interface Surroundings {
  readonly at: Instant;
  /** Whether a purchase that waits has left, or may have. */
  readonly hasLeft: (supplier: string, reference: string) => boolean;
  /** Carriers that its marketplace lists; none where it takes their names as they are. */
  readonly carriers: readonly Carrier[];
  /** The number of another order that has a parcel of a tracking number; null for none. Missing where nobody looks. */
  readonly usedBy?: (tracking: string) => string | null;
}
