import { formatMoney } from '../money';
import { trackingProblemInWords } from '../tracking';
import { countOf } from '../units';
import {
  type AskedBack,
  type CancelRequest,
  type Case,
  type Misprint,
  outstanding,
  type TooLate,
  type TrackingCase,
} from './cases';
import type { AddressProblem, Check } from './check';
import type { OrderFact } from './facts';
import { type LineUnits, unitsOf } from './line-units';
import { chargeOf, isActive, numberOf, type OrderState, type Purchase } from './order';
import { isFor } from './purchases';
import { type Return, type ReturnKind, returnStep } from './return';

const PARTS = {
  name: 'The name',
  line1: 'The street',
  line2: 'The second line',
  town: 'The town',
  postcode: 'The postcode',
} as const;

/** What an address lacks, as it is said to the seller. */
export function addressProblemInWords(p: AddressProblem): string {
  switch (p.why) {
    case 'name':
      return 'The name is missing.';
    case 'street':
      return 'The street is missing.';
    case 'town':
      return 'The town is missing.';
    case 'no postcode':
      return 'The postcode is missing.';
    case 'country code':
      return `“${p.value}” is not a country code.`;
    case 'garbled':
      return `${PARTS[p.part]} lost letters when it was read: type it as the buyer wrote it.`;
    case 'postcode':
      return 'The postcode is not one of this country.';
    case 'destination':
      return `${p.supplier} does not ship to ${p.value}.`;
    case 'box':
      return `It is a post-office box or a locker, where ${p.supplier}’s carrier does not deliver.`;
    case 'long':
      return `${PARTS[p.part]} is longer than the ${p.longest} characters that ${p.supplier} takes.`;
  }
}

/** One check in a sentence or two. */
export function checkInWords(c: Check): string {
  switch (c.kind) {
    case 'linked':
      return c.passed
        ? 'Every line is linked to a supplier item.'
        : `Not linked to a supplier item: ${c.unlinked.join(', ')}.`;
    case 'stock':
      if (c.passed) return 'There is enough stock.';
      return c.short.length
        ? c.short.map((s) => `${s.supplier} has ${s.has} of “${s.title}” left, ${s.sold} sold.`).join(' ')
        : 'Stock is unknown without a link.';
    case 'profit': {
      if (c.profit === null) return 'Profit is unknown: cost, shipping or an exchange rate is missing.';
      const money = (minor: number, plus = false) => formatMoney({ minor, currency: c.currency }, plus);
      return `Profit at today’s cost is ${money(c.profit, true)}, at least ${money(c.least)} is required.`;
    }
    case 'address':
      return c.problem ? addressProblemInWords(c.problem) : 'The address is complete.';
    case 'stopped':
      return c.passed
        ? 'Buying from its suppliers is not stopped.'
        : `Buying from ${c.suppliers.join(' and ')} is stopped.`;
    case 'delivery':
      return c.passed
        ? 'Its suppliers deliver there as usual.'
        : c.notices
            .map((n) =>
              n.kind === 'restricted'
                ? `${n.supplier} sends nothing there for now: ${n.why}`
                : `${n.supplier}’s parcels there take ${countOf(n.days, 'day')} longer: ${n.why}`,
            )
            .map((words) => (/[.!?]$/.test(words) ? words : `${words}.`))
            .join(' ');
    case 'costs':
      return c.passed
        ? 'Its costs are recent.'
        : c.old
            .map((o) => `${o.supplier}’s costs are ${countOf(o.days, 'day')} old, more than ${c.most}.`)
            .join(' ');
    case 'note':
      return c.passed ? 'The buyer left no note.' : 'The buyer left a note: read it before it is bought.';
    case 'unusual': {
      if (c.passed) return 'Amount and quantity are usual.';
      const money = (minor: number) => formatMoney({ minor, currency: c.currency });
      const paid =
        c.paid !== null && c.paid > c.mostPaid
          ? `${money(c.paid)} paid, more than the usual ${money(c.mostPaid)}.`
          : '';
      const units =
        c.units > c.mostUnits
          ? `${countOf(c.units, 'unit')} of one line, more than the usual ${c.mostUnits}.`
          : '';
      return [paid, units].filter(Boolean).join(' ');
    }
    case 'repeat':
      return c.passed
        ? 'The buyer has no other order of these goods within a day.'
        : `The same buyer ordered the same goods within a day: ${c.others.join(', ')}.`;
    case 'watched':
      return c.passed
        ? 'The buyer is not on your watch list.'
        : `The buyer is on your watch list${c.why ? `: ${c.why}` : ''}.`;
    case 'personalised':
      return c.passed
        ? 'Not personalised.'
        : `Personalised: “${c.titles.join('”, “')}”. Read the buyer’s words before it is made.`;
    case 'proof':
      return c.passed
        ? 'Nothing waits for its proof.'
        : `The proof of “${c.titles.join('”, “')}” is not approved.`;
    case 'balance':
      return c.passed
        ? 'It can be paid.'
        : c.short
            .map(
              (s) =>
                `${s.supplier}’s balance of ${formatMoney({ minor: s.balance, currency: s.currency })} does not cover ${formatMoney({ minor: s.spend, currency: s.currency })}.`,
            )
            .join(' ');
  }
}

/** What a sentence about an order has to know besides it. */
export interface Namer {
  /** A connection's name by its id. */
  readonly nameOf: (connection: string) => string;
}

/** An order as sentences tell of it. Without the buyer's texts, lines are told by their titles alone. */
type Told = Pick<OrderState, 'lines' | 'purchases'> & { readonly texts?: readonly string[] };

/** `1 of 3 “Enamel mug”`, line by line; `it` where it is all that was sold. */
export function unitsInWords(order: Omit<Told, 'purchases'>, units: readonly LineUnits[]): string {
  if (order.lines.every((l) => unitsOf(units, l.id) >= l.quantity)) return 'it';
  return units
    .flatMap(({ line, units: n }) => {
      const l = order.lines.find((one) => one.id === line);
      if (!l) return [];
      const text = l.personalisation === null ? undefined : order.texts?.[l.personalisation];
      const which = text ? `“${l.title}” for “${text}”` : `“${l.title}”`;
      return [n < l.quantity ? `${n} of ${l.quantity} × ${which}` : which];
    })
    .join(', ');
}

const purchaseOf = (order: Told, c: { supplier: string; reference: string }): Purchase | undefined =>
  order.purchases.find((p) => isFor(p, c.supplier, c.reference));

/** ` It costs £12.40.`; what a purchase costs of which nothing is wanted any more. */
function costInWords(p: Purchase | undefined, whole: boolean): string {
  const charge = p && chargeOf(p);
  const cost = charge ? charge.goods + charge.shipping : 0;
  return p && whole && cost > 0 ? ` It costs ${formatMoney({ minor: cost, currency: p.currency })}.` : '';
}

const isWhole = (p: Purchase | undefined, units: readonly LineUnits[]): boolean =>
  p?.lines.every((l) => unitsOf(units, l.line) >= l.units - l.calledOff) ?? false;

function problemInWords(tracking: string, problem: TrackingCase['problem'], market: string): string {
  switch (problem.why) {
    case 'number':
      return `${trackingProblemInWords(tracking, problem.what)}; ${market} was not notified.`;
    case 'used':
      return `${tracking} is the number of a parcel of ${problem.by}, too; ${market} was not notified.`;
    case 'carrier':
      return `${market} does not list the carrier ${problem.carrier}.`;
    case 'refused':
      return `${market} refused the parcel ${tracking}: ${problem.says}`;
  }
}

const lateInWords = (why: TooLate | null, name: string, number: string): string =>
  why?.by === 'supplier' && why.says
    ? `${name} does not take ${number} back: ${why.says}`
    : why?.by === 'supplier'
      ? `${name} does not cancel it.`
      : `${name} had shipped ${number} by then.`;

function askedBackInWords(c: AskedBack, order: Told, name: string): string {
  const p = purchaseOf(order, c);
  const number = (p && numberOf(p)) ?? 'it';
  const waits = outstanding(c);
  if (waits.length)
    return p && p.lane !== 'service'
      ? `Ask ${name} to cancel ${unitsInWords(order, waits)}, then record the outcome.`
      : `${name} is asked to cancel ${unitsInWords(order, waits)}.`;
  const back = c.back.length
    ? p && !isActive(p)
      ? `Cancelled after it was bought: ${name} took ${number} back.${costInWords(p, true) || ' It costs nothing.'}`
      : `${name} took ${unitsInWords(order, c.back)} of ${number} back.`
    : '';
  if (!c.late.length) return back;
  const why = lateInWords(c.why, name, number);
  const late =
    c.by === 'seller'
      ? `It was not cancelled. ${why}`
      : `Cancelled after it was bought. ${why}${costInWords(p, isWhole(p, c.late))}`;
  const what = isWhole(p, c.late) ? '' : ` ${unitsInWords(order, c.late)} comes anyway.`;
  return [back, `${late}${what}`].filter(Boolean).join(' ');
}

/** One case in a sentence or two. @param market the name of the order's marketplace */
export function caseInWords(c: Case, order: Told, { nameOf }: Namer, market: string): string {
  switch (c.kind) {
    case 'cancellation':
      return c.cancelled === null
        ? `To be cancelled: ${c.reason}`
        : c.cancelled.length
          ? `Cancelled: ${unitsInWords(order, c.cancelled)}. ${c.reason}`
          : 'It was not cancelled.';
    case 'asked back':
      return askedBackInWords(c, order, nameOf(c.supplier));
    case 'called off': {
      const p = purchaseOf(order, c);
      const number = (p && numberOf(p)) ?? c.reference;
      return p && !isActive(p)
        ? `${nameOf(c.supplier)} cancelled ${number}.${costInWords(p, true)}`
        : `${nameOf(c.supplier)} cancelled ${unitsInWords(order, c.units)} of ${number}.`;
    }
    case 'refused':
      return `${nameOf(c.supplier)} refused it: ${c.says}`;
    case 'second purchase':
      return c.besides === null
        ? `${nameOf(c.supplier)} has an order ${c.number} for it that is not known here.`
        : `${nameOf(c.supplier)} has a second order for it: ${c.number} besides ${c.besides}. Cancel one of them there.`;
    case 'unclear': {
      if (c.why === 'surplus')
        return `${nameOf(c.supplier)} sent more of ${c.item} in ${c.tracking} than was to come: ask what it sent and charges.`;
      const said = c.tracking === null ? 'cancelled' : `shipped in ${c.tracking}`;
      return `${nameOf(c.supplier)} named only the SKU ${c.item} of what it ${said}, which more than one line has. It was taken for ${unitsInWords(order, c.units)}: ask which was meant.`;
    }
    case 'tracking':
      return problemInWords(c.tracking, c.problem, market);
    case 'cancellation refused':
      return `${market} refused the cancellation: ${c.says}`;
    case 'cancel request':
      return requestInWords(c, order);
    case 'dearer': {
      const money = (minor: number) => formatMoney({ minor, currency: c.currency });
      return `${nameOf(c.supplier)} charges ${money(c.charged)} for ${c.number}, ${money(c.charged - c.expected)} more than was expected.`;
    }
    case 'misprint':
      return misprintInWords(c, order, nameOf(c.supplier));
    case 'return':
      return returnInWords(c, order, nameOf);
    case 'note':
      return c.says;
  }
}

function misprintInWords(c: Misprint, order: Told, maker: string): string {
  const what = `${unitsInWords(order, c.units)} of ${c.number} came out wrong: ${c.reason}`;
  switch (c.state) {
    case 'asked':
      return `${what} ${maker} is asked to print it again.`;
    case 'granted':
      return `${what} ${maker} prints it again: ${c.says}`;
    case 'refused':
      return `${what} ${maker} does not print it again: ${c.says}`;
    case 'sent':
      return `${what} ${maker} sent it again by ${c.carrier}, ${c.tracking ?? 'without a number'}. Tell the buyer.`;
  }
}

const ABOUT: Readonly<Record<ReturnKind, string>> = {
  return: 'The buyer wants to send back',
  refund: 'The buyer wants money back for',
  'not received': 'The buyer did not receive',
  undeliverable: 'Could not be delivered and comes back:',
  chargeback: 'The buyer’s bank took the payment back for',
};

function returnInWords(c: Return, order: Told, nameOf: Namer['nameOf']): string {
  const words = c.words === null ? '' : (order.texts?.[c.words] ?? '');
  const about = `${ABOUT[c.what]} ${unitsInWords(order, c.units)}${words ? `: “${words}”` : '.'}`;
  if (c.refused) return `${about} The answer was not taken: ${c.refused}`;
  switch (returnStep(c)) {
    case 'answer':
      return `${about} It waits for your answer.`;
    case 'refund':
      return `${about} The goods came back: the refund is due.`;
    case 'held':
      return `${about} ${nameOf(c.parcel!.supplier)} holds the parcel: send it again, or refund the buyer.`;
    case 'ask outside':
      return `${about} Ask ${nameOf(c.claim!.supplier)} yourself, then record its answer.`;
    case 'see claim':
      return `${about} ${nameOf(c.claim!.supplier)} refused: ${c.claim!.answer}`;
    case 'close':
      return `${about} Nothing more is awaited: look at what it cost and close it.`;
    default:
      return c.claim?.state === 'asked'
        ? `${about} ${nameOf(c.claim.supplier)} was asked.`
        : c.claim?.state === 'granted'
          ? `${about} ${nameOf(c.claim.supplier)} agreed: ${c.claim.answer}`
          : about;
  }
}

function requestInWords(c: CancelRequest, order: Told): string {
  const words = c.reason === null ? '' : (order.texts?.[c.reason] ?? '');
  const asks = `The buyer asks to cancel ${unitsInWords(order, c.totals)}${words ? `: “${words}”` : '.'}`;
  switch (c.answered) {
    case null:
      return c.kept
        ? `${asks} What was bought for it is not taken back: decline, or refund it yourself.`
        : asks;
    case 'accepted':
      return `${asks} Accepted; what was bought is asked back.`;
    case 'granted':
      return `${asks} Accepted.`;
    case 'declined':
      return `${asks} Declined.`;
    case 'over':
      return `${asks} No answer is awaited any more.`;
  }
}

const LANE = { service: '', file: ' by file', 'by hand': ' by hand' } as const;

/** What happened to an order, in sentences. */
export const factsInWords = (
  facts: readonly OrderFact[],
  order: Told & { readonly marketplace: string },
  namer: Namer,
): string => facts.map((f) => factInWords(f, order, namer, namer.nameOf(order.marketplace))).join(' ');

function factInWords(f: OrderFact, order: Told, { nameOf }: Namer, market: string): string {
  switch (f.kind) {
    case 'entered':
      return `Entered by you: ${f.as}.`;
    case 'came in':
      return `Came in from ${market}.`;
    case 'read late':
      return `Read from ${market} as ${f.as}.`;
    case 'held':
      return `Held. ${f.by.map(checkInWords).join(' ')}`.trim();
    case 'ready':
      return f.due
        ? `All checks passed; goes by the rule “${f.due.rule}”.`
        : 'All checks passed; waits to be forwarded.';
    case 'kept back':
      return f.kept ? 'Kept back by you.' : 'Goes by its rule again.';
    case 'set aside':
      return f.aside ? 'Set aside: none of it is yours to forward.' : 'No longer set aside.';
    case 'source chosen': {
      const title = order.lines.find((l) => l.id === f.line)?.title ?? '';
      return f.supplier
        ? `“${title}” is to be bought from ${nameOf(f.supplier)}, chosen by you.`
        : `“${title}” is bought by the sourcing rule again.`;
    }
    case 'line split': {
      const title = order.lines.find((l) => l.id === f.line)?.title ?? '';
      return f.shares
        ? `“${title}” is split by you: ${f.shares.map((s) => `${s.units} of ${nameOf(s.supplier)}`).join(', ')}.`
        : `“${title}” is bought by the sourcing rule again.`;
    }
    case 'service chosen':
      return f.service === null
        ? `Shipping by ${nameOf(f.supplier)} goes by the rule again.`
        : `Shipping by ${nameOf(f.supplier)}: ${f.service || 'the usual service'}, chosen by you.`;
    case 'next source':
      return `${nameOf(f.supplier)} does not supply it: it is bought from the next source.`;
    case 'forwarded':
      return `All checks passed; goes to ${f.to.map((one) => `${nameOf(one.supplier)}${LANE[one.lane]}`).join(' and ')}.`;
    case 'accepted':
      return `${nameOf(f.supplier)} accepted it as ${f.number}.`;
    case 'shipped':
      return `${nameOf(f.supplier)} shipped ${f.part ? 'a part ' : ''}by ${f.carrier}, ${f.tracking}.`;
    case 'delivered':
      return `Delivered: ${f.tracking.join(', ')}.`;
    case 'news':
      return `${nameOf(f.supplier)} told news of ${f.number}.`;
    case 'called off':
      return `${nameOf(f.supplier)} cancelled ${unitsInWords(order, f.units)}.`;
    case 'refused':
      return `${nameOf(f.supplier)} refused it: ${f.says}`;
    case 'second purchase':
      return `${nameOf(f.supplier)} has an order ${f.number} for it that is not known here.`;
    case 'unclear':
      return `${nameOf(f.supplier)} said of ${f.item} what cannot be told apart.`;
    case 'meant':
      return `What ${nameOf(f.supplier)} said of ${f.item} was ${unitsInWords(order, f.units)}.`;
    case 'sale cancelled':
      return `Cancelled on the marketplace: ${unitsInWords(order, f.units)}.`;
    case 'to cancel':
      return `To be cancelled: ${f.reason}`;
    case 'withdrawn':
      return `Nothing was sent to ${nameOf(f.supplier)}.`;
    case 'looked up':
      return `Whether ${nameOf(f.supplier)} took it is being looked up.`;
    case 'asked back':
      return f.by === 'service'
        ? `${f.number} of ${nameOf(f.supplier)} is being cancelled.`
        : `Ask ${nameOf(f.supplier)} to cancel it, then record the outcome.`;
    case 'came back':
      return `${nameOf(f.supplier)} took ${unitsInWords(order, f.units)} back.`;
    case 'comes anyway':
      return lateInWords(f.why, nameOf(f.supplier), 'it');
    case 'never bought':
      return `${nameOf(f.supplier)} has no purchase of it.`;
    case 'cancelled':
      return f.all ? `Cancelled: ${f.reason}` : `Cancelled: ${unitsInWords(order, f.units)}. ${f.reason}`;
    case 'not cancelled':
      return 'It was not cancelled.';
    case 'refunded':
      return 'The marketplace refunded the buyer.';
    case 'settled':
      return 'The marketplace settled its fees.';
    case 'marketplace has':
      return `The marketplace has ${f.tracking.join(', ')}.`;
    case 'told':
      return `${market} was notified of the parcel ${f.tracking}.`;
    case 'not told':
      return problemInWords(f.tracking, f.problem, market);
    case 'message':
      return f.refused === null
        ? `The buyer was written to: ${f.about}.`
        : `${market} did not take the message “${f.about}” to the buyer: ${f.refused}`;
    case 'cancellation told':
      return `${market} was notified of the cancellation.`;
    case 'cancellation known':
      return `${market} had cancelled it already.`;
    case 'cancellation refused':
      return `${market} refused the cancellation: ${f.says}`;
    case 'dearer':
      return `${nameOf(f.supplier)} charges more than was expected.`;
    case 'cancel asked':
      return `The buyer asks to cancel ${unitsInWords(order, f.units)}.`;
    case 'request over':
      return 'The buyer’s request to cancel is over.';
    case 'request declined':
      return 'The buyer’s request to cancel was declined by you.';
    case 'decline told':
      return f.refused === null
        ? `${market} was told that the request is declined.`
        : `${market} did not take the answer to the buyer’s request: ${f.refused}`;
    case 'released':
      return f.kinds.length ? `Released by you: ${f.kinds.join(', ')}.` : 'Tried again by you.';
    case 'edited':
      return 'Changed by you.';
    case 'proof set':
      return f.print
        ? 'Made as its listing shows it now, by your word.'
        : 'The words that it is made with were changed.';
    case 'words came':
      return f.bought
        ? 'The buyer sent other words; it is bought with those of before.'
        : 'The buyer sent other words.';
    case 'asked about words':
      return 'You asked the buyer about the words.';
    case 'misprint reported':
      return `You said that ${unitsInWords(order, f.units)} came out wrong; ${nameOf(f.supplier)} is asked to print it again.`;
    case 'reprint':
      return f.state === 'sent'
        ? `${nameOf(f.supplier)} sent what it printed again.`
        : f.state === 'refused'
          ? `${nameOf(f.supplier)} does not print it again: ${f.says}`
          : `${nameOf(f.supplier)} prints it again.`;
    case 'return opened':
      return `${ABOUT[f.what]} ${unitsInWords(order, f.units)}.`;
    case 'return moved':
      return f.minor > 0
        ? 'The marketplace refunded the buyer for the return.'
        : `The return is ${f.state} at ${market}.`;
    case 'return answered':
      return f.answer === 'accept'
        ? 'You accepted the return.'
        : f.answer === 'decline'
          ? 'You declined it.'
          : 'You refund the buyer.';
    case 'return told':
      return f.refused === null
        ? `${market} took the answer.`
        : `${market} did not take the answer to the return: ${f.refused}`;
    case 'return noted':
      return f.goods ? `The returned goods are ${f.goods}.` : 'The return was changed by you.';
    case 'return closed':
      return f.closed ? 'The return is closed.' : 'The return was opened again.';
    case 'claimed':
      return `${nameOf(f.supplier)} was asked for ${f.wants === 'refund' ? 'the money' : 'a replacement'}.`;
    case 'claim heard':
      return f.state === 'refused'
        ? `${nameOf(f.supplier)} refused the return: ${f.says}`
        : f.state === 'settled'
          ? `${nameOf(f.supplier)} settled the return.`
          : `${nameOf(f.supplier)} agreed to the return.`;
    case 'parcel back':
      return `The parcel ${f.tracking} comes back to ${nameOf(f.supplier)}: ${f.why}`;
    case 'to send again':
      return `The parcel ${f.tracking} is to be sent again.`;
    case 'sent again':
      return `${nameOf(f.supplier)} sent the parcel ${f.tracking} again.`;
    case 'again refused':
      return `The parcel is not sent again: ${f.says}`;
    case 'proof approved':
      return f.lines.length > 1 ? 'You approved its proofs.' : 'You approved its proof.';
    case 'written':
      return `Written into an order file for ${nameOf(f.supplier)}.`;
  }
}
