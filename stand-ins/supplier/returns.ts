import type { WireClaim, WireCount, WirePurchaseAnswer, WireSendAgain } from '../../src/connect/wire';
import {
  changed,
  decimal,
  houseOf,
  keyOf,
  type Purchase,
  purchaseOnWire,
  type Refusal,
  s10,
  type Warehouse,
} from './warehouse';

const DAY = 86_400_000;
/** Days after which the returns desk takes nothing back. */
const LATEST = 60;
/** Days that goods have to be back after it agreed. */
const BACK_WITHIN = 14;
/** Percent that it keeps of goods that nothing was wrong with. */
const RESTOCKING = 15;
/** Days that an undeliverable parcel is held at no cost. */
const HELD = 10;

/** What the desk takes as its own fault, where it is shown. */
const ITS_FAULT: ReadonlySet<string> = new Set(['faulty', 'damaged', 'wrong goods', 'not received']);

type Answer = { answer: WirePurchaseAnswer } | { refusal: Refusal };

const refusal = (status: number, title: string, detail: string): Answer => ({
  refusal: { status, type: 'urn:wire:return', title, detail },
});

const answerFor = (w: Warehouse, p: Purchase): Answer => ({
  answer: { ...purchaseOnWire(p, houseOf(w).currency), balance: decimal(w.balance) },
});

const worthOf = (p: Purchase, lines: readonly WireCount[]) =>
  lines.reduce((sum, l) => sum + (p.costs[keyOf(l)] ?? p.costs[l.sku] ?? 0) * l.quantity, 0);

/**
 * The returns desk: what is wrong is credited at once against a photograph, or replaced; what a buyer only did not want
 * is credited once it is back, less a charge for taking it in. Nothing after sixty days.
 */
export function claim(w: Warehouse, number: string, said: WireClaim, now: number): Answer {
  const p = w.purchases.findLast((one) => one.number === number);
  if (!p) return refusal(404, 'No such order', `We have no order ${number}.`);
  if (p.returns?.some((r) => r.id === said.id && r.state !== 'refused')) return answerFor(w, p);
  const sentAt = p.parcels[0]?.shippedAt;
  if (sentAt === undefined) return refusal(409, 'Not sent yet', `${number} was not sent yet.`);
  if (now - sentAt > LATEST * DAY)
    return refusal(409, 'Too late', `${number} was sent more than ${LATEST} days ago.`);
  const more = said.lines.some(
    (l) => l.quantity > (p.lines.find((one) => keyOf(one) === keyOf(l))?.quantity ?? 0),
  );
  if (more || !said.lines.length) return refusal(422, 'Lines', 'More is named than was sent.');
  if (typeof said.says !== 'string' || !said.says.trim()) return refusal(422, 'Reason', 'Say what is wrong.');
  const ours = ITS_FAULT.has(said.reason);
  const shown = said.reason === 'not received' || said.photos.length > 0;
  if (said.photos.some((photo) => !w.photos?.includes(photo)))
    return refusal(422, 'Photograph', 'We have no such photograph.');
  if (ours && !shown) return refusal(422, 'Photograph', 'We need a photograph of what is wrong.');
  const worth = worthOf(p, said.lines);
  const others = (p.returns ?? []).filter((r) => r.id !== said.id);
  p.claims = { ...p.claims, [said.id]: { lines: said.lines, wants: said.wants } };
  if (!ours) {
    const answerBy = new Date(now + BACK_WITHIN * DAY).toISOString();
    p.returns = [
      ...others,
      {
        id: said.id,
        state: 'granted',
        says: `Send it back: we keep ${RESTOCKING} % for taking it in.`,
        answerBy,
      },
    ];
  } else if (said.wants === 'replacement') {
    p.returns = [...others, { id: said.id, state: 'granted', says: 'We send another one.' }];
  } else {
    w.balance += worth;
    p.returns = [
      ...others,
      { id: said.id, state: 'settled', says: 'Credited. Keep the goods.', credit: decimal(worth) },
    ];
  }
  changed(w, p);
  return answerFor(w, p);
}

/** Goods that the desk agreed to take come back, and replacements leave. @returns how many */
export function settleReturns(w: Warehouse): number {
  let n = 0;
  for (const p of w.purchases)
    for (const r of p.returns ?? []) {
      const asked = p.claims?.[r.id];
      if (r.state !== 'granted' || !asked) continue;
      n++;
      if (asked.wants === 'replacement' && !r.answerBy)
        Object.assign(r, {
          ...{ state: 'settled', carrier: houseOf(w).carriers[0] },
          tracking: s10(80_000_000 + Number(p.number.slice(3)) * 13 + n),
        });
      else {
        const worth = worthOf(p, asked.lines);
        const kept = Math.round((worth * RESTOCKING) / 100);
        w.balance += worth - kept;
        Object.assign(r, {
          ...{ state: 'settled', says: 'It is back.', back: true },
          ...{ credit: decimal(worth), restocking: decimal(kept) },
        });
      }
      changed(w, p);
    }
  return n;
}

/** The newest parcel that is on its way comes back. @returns its number */
export function bringBack(w: Warehouse, now: number, reference?: string): string | null {
  const p = w.purchases.findLast(
    (one) => one.status === 'shipped' && !one.back && (!reference || one.reference === reference),
  );
  const parcel = p?.parcels.at(-1);
  if (!p || !parcel) return null;
  p.back = [
    {
      tracking: parcel.tracking,
      why: 'No such number in the street.',
      heldUntil: new Date(now + HELD * DAY).toISOString(),
    },
  ];
  changed(w, p);
  return parcel.tracking;
}

/** Sends a parcel that came back out again, for its shipping anew. */
export function sendAgain(
  w: Warehouse,
  number: string,
  { tracking, shipTo }: WireSendAgain,
  now: number,
): Answer {
  const p = w.purchases.findLast((one) => one.number === number);
  const parcel = p?.back?.find((one) => one.tracking === tracking);
  if (!p || !parcel) return refusal(404, 'No such parcel', `We hold no parcel ${tracking}.`);
  if (parcel.again) return answerFor(w, p);
  if (parcel.heldUntil && Date.parse(parcel.heldUntil) < now)
    return refusal(
      409,
      'Too late',
      `${tracking} was held until ${parcel.heldUntil.slice(0, 10)} and is gone.`,
    );
  if (!shipTo?.line1 || !houseOf(w).shipsTo.includes(shipTo.country))
    return refusal(422, 'Address', 'We do not send there.');
  const charge = p.shipping || 295;
  if (w.balance < charge) return refusal(402, 'Balance too low', 'The balance does not cover it.');
  w.balance -= charge;
  p.shipTo = shipTo;
  p.back = p.back!.map((one) => (one === parcel ? { ...one, again: { charge: decimal(charge) } } : one));
  changed(w, p);
  return answerFor(w, p);
}
