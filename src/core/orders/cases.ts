import type { Currency } from '../money';
import type { TrackingProblem } from '../tracking';
import type { Instant } from '../units';
import { type LineUnits, without } from './line-units';
import { isReturn, type Return, returnStep } from './return';

interface CaseBase {
  /** Made of what it is about, so that what is heard twice opens one case. */
  readonly id: string;
  readonly at: Instant;
  /** When a person had seen how it stands; null while nobody has. */
  readonly seenAt: Instant | null;
}

/** The seller cancels units: what suppliers have of them is asked back first, and what is free then is cancelled. */
export interface Cancellation extends CaseBase {
  readonly kind: 'cancellation';
  readonly reason: string;
  /** How many units of each line are to be cancelled in all, those that were before with them. */
  readonly totals: readonly LineUnits[];
  /** What was cancelled in the end; null while it is under way. */
  readonly cancelled: readonly LineUnits[] | null;
}

/** Why units cannot come back: the parcel was on its way, or the supplier's own words. */
export type TooLate = { readonly by: 'parcel' } | { readonly by: 'supplier'; readonly says: string };

/** Units that a supplier is asked to take back, because their sale was or is to be cancelled. */
export interface AskedBack extends CaseBase {
  readonly kind: 'asked back';
  readonly by: 'marketplace' | 'seller';
  readonly reason: string;
  readonly supplier: string;
  readonly reference: string;
  readonly units: readonly LineUnits[];
  /** Of those, what came back, and what comes anyway. */
  readonly back: readonly LineUnits[];
  readonly late: readonly LineUnits[];
  readonly why: TooLate | null;
}

/** Units that a supplier cancelled by itself. */
export interface CalledOff extends CaseBase {
  readonly kind: 'called off';
  readonly supplier: string;
  readonly reference: string;
  readonly units: readonly LineUnits[];
}

/** A supplier refused a purchase. */
export interface Refused extends CaseBase {
  readonly kind: 'refused';
  readonly supplier: string;
  readonly reference: string;
  readonly says: string;
}

/** A supplier has an order for it that is not known here, besides one that is or not. */
export interface SecondPurchase extends CaseBase {
  readonly kind: 'second purchase';
  readonly supplier: string;
  readonly number: string;
  readonly besides: string | null;
}

/**
 * What came or will not come cannot be told from what a supplier said: it named an SKU (`which`) that several different
 * lines have, or sent more (`surplus`) than was to come.
 */
export interface Unclear extends CaseBase {
  readonly kind: 'unclear';
  readonly supplier: string;
  readonly reference: string;
  readonly item: string;
  readonly why: 'which' | 'surplus';
  /** The parcel's number; null for what was cancelled. */
  readonly tracking: string | null;
  /** The lines that it was taken for. */
  readonly units: readonly LineUnits[];
}

/** A parcel that the marketplace was not told of. */
export interface TrackingCase extends CaseBase {
  readonly kind: 'tracking';
  readonly tracking: string;
  readonly problem:
    | { readonly why: 'number'; readonly what: TrackingProblem }
    | { readonly why: 'carrier'; readonly carrier: string }
    /** Another order has a parcel of this number. */
    | { readonly why: 'used'; readonly by: string }
    | { readonly why: 'refused'; readonly says: string };
}

/** The marketplace did not take a cancellation. */
export interface CancellationRefused extends CaseBase {
  readonly kind: 'cancellation refused';
  readonly units: readonly LineUnits[];
  readonly says: string;
}

/** The buyer asks the marketplace to cancel; the seller answers, or the marketplace does at a time. */
export interface CancelRequest extends CaseBase {
  readonly kind: 'cancel request';
  /** As the marketplace knows it. */
  readonly request: string;
  /** How many units of each line would be cancelled in all. */
  readonly totals: readonly LineUnits[];
  /** Which of the buyer's texts says why; null for none. */
  readonly reason: number | null;
  readonly answerBy: Instant | null;
  /** `accepted` while suppliers are asked, `granted` once all of it is cancelled, `over` where nobody waits for an answer. */
  readonly answered: 'accepted' | 'granted' | 'declined' | 'over' | null;
  /** It was accepted before, and a supplier did not take back what it has. */
  readonly kept: boolean;
}

/** A supplier charges clearly more for a purchase than was expected when it was decided. */
export interface Dearer extends CaseBase {
  readonly kind: 'dearer';
  readonly supplier: string;
  readonly reference: string;
  readonly number: string;
  readonly expected: number;
  readonly charged: number;
  readonly currency: Currency;
}

/** Something came out wrong, and its maker is asked to print it again at its own cost. */
export interface Misprint extends CaseBase {
  readonly kind: 'misprint';
  readonly supplier: string;
  readonly reference: string;
  readonly number: string;
  readonly units: readonly LineUnits[];
  /** In the seller's words. */
  readonly reason: string;
  /** Id of the photograph, a file that is kept. */
  readonly photo: string;
  readonly state: 'asked' | 'granted' | 'refused' | 'sent';
  /** The maker's words; '' for none. */
  readonly says: string;
  /** Of what was printed again; null while it was not sent. */
  readonly carrier: string;
  readonly tracking: string | null;
}

/** Ids of the photographs that cases show. */
export const photosOf = (cases: readonly Case[]): string[] =>
  cases.flatMap((c) => (c.kind === 'misprint' ? [c.photo] : isReturn(c) ? (c.claim?.photos ?? []) : []));

/** Whether a maker's answer, or what it prints again, is awaited. */
export const isReprinting = (c: Case): c is Misprint =>
  c.kind === 'misprint' && (c.state === 'asked' || c.state === 'granted');

/** A sentence for a person, kept as it was written. */
export interface Note extends CaseBase {
  readonly kind: 'note';
  readonly says: string;
}

/** A case: an event beside the usual course of an order. Closing one never hides another. */
export type Case =
  | Cancellation
  | AskedBack
  | CalledOff
  | Refused
  | SecondPurchase
  | Unclear
  | TrackingCase
  | CancellationRefused
  | CancelRequest
  | Dearer
  | Misprint
  | Return
  | Note;

interface HasCases {
  readonly cases: readonly Case[];
}

/** Units that are asked back and not answered for. */
export const outstanding = (c: AskedBack): LineUnits[] => without(c.units, [...c.back, ...c.late]);

export const isAsking = (c: Case): c is AskedBack => c.kind === 'asked back' && outstanding(c).length > 0;

/** What was asked back of one purchase. */
export const askedBackOf = (order: HasCases, supplier: string, reference: string): AskedBack[] =>
  order.cases.filter(
    (c): c is AskedBack => c.kind === 'asked back' && c.supplier === supplier && c.reference === reference,
  );

/** The seller's cancellation that is under way. */
export const cancellationOf = (order: HasCases): Cancellation | undefined =>
  order.cases.find((c): c is Cancellation => c.kind === 'cancellation' && c.cancelled === null);

export const isRecalling = (order: HasCases): boolean => order.cases.some(isAsking);

export const isRequest = (c: Case): c is CancelRequest => c.kind === 'cancel request';

/** Whether all is cancelled that a buyer asked for. */
export const isGranted = (
  {
    lines,
  }: {
    readonly lines: readonly { readonly id: string; readonly quantity: number; readonly cancelled: number }[];
  },
  totals: readonly LineUnits[],
): boolean =>
  totals.every(({ line, units }) => {
    const sold = lines.find((l) => l.id === line);
    return !sold || sold.cancelled >= Math.min(units, sold.quantity);
  });

/** Whether a person has to see it: it ended, or waits for a word. What is under way is awaited. */
export function isUnseen(c: Case): boolean {
  // The buyer waits until it is answered, whoever has seen it.
  if (c.kind === 'cancel request') return c.answered === null;
  if (isReturn(c)) return returnStep(c) !== null;
  if (c.seenAt !== null) return false;
  switch (c.kind) {
    case 'cancellation':
      // What could not be cancelled is told by what was asked back.
      return false;
    case 'asked back':
      return outstanding(c).length === 0;
    case 'misprint':
      return !isReprinting(c);
    default:
      return true;
  }
}

/** Cases that a person has to see, the oldest first. */
export const unseenOf = (order: HasCases): Case[] => order.cases.filter(isUnseen);

/** Whether nothing is bought for its units before a person has looked. */
export const holdsBack = (c: Case): boolean =>
  isUnseen(c) &&
  (c.kind === 'called off' ||
    c.kind === 'refused' ||
    c.kind === 'second purchase' ||
    c.kind === 'cancellation refused' ||
    c.kind === 'cancel request' ||
    c.kind === 'note' ||
    (c.kind === 'unclear' && c.tracking === null));
