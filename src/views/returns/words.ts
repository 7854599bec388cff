import type { Claim, GoodsPlace, Return, ReturnKind, ReturnStep } from '../../core/orders';
import type { LossPart, Proposal } from '../../core/returns';

export const KIND: Readonly<Record<ReturnKind, string>> = {
  return: 'Return',
  refund: 'Refund asked for',
  'not received': 'Not received',
  undeliverable: 'Undeliverable',
  chargeback: 'Chargeback',
};

export const STEP: Readonly<Record<ReturnStep, string>> = {
  answer: 'Answer the buyer',
  mend: 'The answer was not taken',
  refund: 'Refund the buyer',
  held: 'Send again, or refund',
  'ask outside': 'Ask them, note the answer',
  'see claim': 'The supplier refused',
  close: 'Look at it and close it',
};

export const PLACE: Readonly<Record<GoodsPlace, string>> = {
  'with buyer': 'With the buyer',
  'on the way': 'On the way back',
  'at the supplier': 'At the supplier',
  'on the shelf': 'On your own shelf',
  kept: 'Kept by the buyer',
  lost: 'Lost',
  'written off': 'Written off',
};

export const PART: Readonly<Record<LossPart['kind'], string>> = {
  refund: 'Refund to the buyer',
  tax: 'VAT that is not due any more',
  fees: 'Fees given back',
  label: 'Return label, or the bank’s charge',
  credit: 'Credited by the supplier',
  restocking: 'Kept for restocking',
  'sending again': 'Sending it again',
};

/** Who is awaited where nothing is to be done. */
export function awaited(c: Return, supplier: string): string {
  if (c.closedAt !== null) return 'Closed';
  if (c.sent) return 'The answer is on its way';
  if (c.parcel?.again) return `${supplier} sends it again`;
  if (c.claim?.state === 'asked') return `${supplier} was asked`;
  if (c.claim?.state === 'granted')
    return c.claim.wants === 'replacement' ? `${supplier} sends another` : `${supplier} awaits the goods`;
  return c.goods === 'on the way' ? 'The goods are on their way back' : 'The buyer sends the goods back';
}

export function proposalInWords({ answer, claim, why }: Proposal): string {
  const because = {
    small: 'it is within the amount up to which buyers keep the goods',
    fault: 'by its reason the supplier or the carrier is at fault',
    usual: 'nothing speaks against it',
    delivered: 'its parcel was delivered',
    lost: 'its parcel is not known to have come',
  }[why];
  const what = {
    accept: 'let the buyer send it back',
    refund: 'refund the buyer',
    decline: 'decline, and say when it was delivered',
  }[answer];
  return `Proposed: ${what}${claim ? ', and ask the supplier' : ''}; ${because}.`;
}

export const CLAIM: Readonly<Record<Claim['state'], string>> = {
  asked: 'was asked',
  granted: 'agreed',
  refused: 'refused',
  settled: 'settled it',
};
