import {
  type Address,
  type Claim,
  type GoodsPlace,
  isAccepted,
  isReturn,
  type LineUnits,
  type OrderEvent,
  paidIn,
  type Return,
  type ReturnAnswer,
  type ReturnKind,
  unitsOf,
  withAddress,
  withText,
} from '../../core/orders';
import { FAULTS, type ReturnRules } from '../../core/returns';
import {
  applyChange,
  buyerOf,
  keepAsset,
  type Order,
  type SupplierConnection,
  supplierById,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { shopNow } from '../memory/assortment';
import { type Said, tell } from './actions';
import { isToldByService } from './advance';

const no = (reason: string): Said => ({ ok: false, reason });

const caseOf = (order: Order, id: string): Return | undefined =>
  order.cases.find((c): c is Return => c.id === id && isReturn(c));

/** Opens a return that nobody outside told of. @param says what the buyer said; '' for nothing */
export async function openReturn(
  work: Work,
  id: string,
  about: { readonly what: ReturnKind; readonly units: readonly LineUnits[]; readonly reason: string },
  says: string,
): Promise<Said> {
  if (!about.units.length) return no('Choose the units that it is about.');
  return tell(
    work,
    id,
    (o) => `Open a return of ${o.number}`,
    async (order): Promise<OrderEvent | string> => {
      const taken = about.units.some(({ line, units }) => {
        const l = order.lines.find((one) => one.id === line);
        const others = order.cases.filter(isReturn).flatMap((c) => (c.state === 'declined' ? [] : c.units));
        return !l || units + unitsOf(others, line) > l.quantity;
      });
      if (taken) return 'More units are named than were sold and are not in another return.';
      const text = says.trim().slice(0, 2000);
      const before = text ? await buyerOf(work.db, order) : null;
      const own = before && before.erasedAt === null ? withText(before, text) : null;
      if (own && own.buyer !== before) await work.db.buyers.put(own.buyer);
      return { kind: 'open return', ...about, words: own?.place ?? null };
    },
  );
}

/** An answer to a buyer, as a person gives it. */
export interface AnswerGiven {
  readonly answer: ReturnAnswer;
  /** What is given back, in minor units of the order's currency; 0 where nothing is. */
  readonly minor: number;
  readonly label: 'buyer' | 'seller';
  readonly says: string;
}

/** Answers a return. Where no service reaches the marketplace, it is as a person says that it was done there. */
export async function answerReturn(work: Work, id: string, which: string, given: AnswerGiven): Promise<Said> {
  const { answer, minor } = given;
  const says = given.says.trim().slice(0, 1000);
  if (answer === 'decline' && !says) return no('Say why, as the buyer reads it.');
  if (answer === 'refund' && (!Number.isSafeInteger(minor) || minor < 1))
    return no('The refund is an amount above nothing.');
  const shop = await shopNow(work);
  let outside = false;
  const said = await tell(
    work,
    id,
    (o) => `Answer the return of ${o.number}`,
    (order): OrderEvent | string => {
      const c = caseOf(order, which);
      if (!c) return 'This return is not known.';
      if (c.sent) return 'It is answered already.';
      const left = paidIn(order) - order.refunded;
      if (answer === 'refund' && minor > left)
        return `At most what the buyer paid and has not got back can be refunded.`;
      outside = !isToldByService(order, shop);
      return { kind: 'answer return', case: which, answer, minor, label: given.label, says };
    },
  );
  if (!said.ok || !outside) return said;
  return tell(work, id, (o) => `${o.number}: the return was answered`, {
    kind: 'return told',
    case: which,
    refused: null,
  });
}

/** Photographs of one return at most, and the bytes of one. */
const MOST_PHOTOS = 6;
const LARGEST_PHOTO = 20_000_000;

/** Asks the supplier of returned goods for the money or for others. The photographs are kept with the order. */
export async function claimReturn(
  work: Work,
  id: string,
  which: string,
  { supplier, reference }: { readonly supplier: string; readonly reference: string },
  wants: Claim['wants'],
  text: string,
  photos: readonly Blob[],
): Promise<Said> {
  const says = text.trim().slice(0, 500);
  if (!says) return no('Say what is wrong.');
  if (photos.length > MOST_PHOTOS) return no(`At most ${MOST_PHOTOS} photographs.`);
  for (const p of photos) {
    if (!/^image\/(jpeg|png|webp)$/.test(p.type)) return no('A photograph must be a JPEG, PNG or WebP.');
    if (p.size > LARGEST_PHOTO) return no('A photograph has more than 20 MB.');
  }
  const kept: string[] = [];
  for (const p of photos)
    kept.push(await keepAsset(work.db, p, { kind: 'evidence', name: 'Return', at: work.clock() }));
  return tell(
    work,
    id,
    (o) => `Ask about the return of ${o.number}`,
    (order): OrderEvent | string => {
      const c = caseOf(order, which);
      const p = order.purchases.find((one) => one.supplier === supplier && one.reference === reference);
      if (!c || !p || !isAccepted(p)) return 'This return or purchase is not known.';
      if (c.claim && c.claim.state !== 'refused') return 'The supplier was asked already.';
      return { kind: 'claim', case: which, supplier, reference, wants, says, photos: kept };
    },
  );
}

/** Notes what a person knows of a return: its reason, where the goods are, what a supplier without a service answered. */
export const noteReturn = (
  work: Work,
  id: string,
  which: string,
  note: {
    readonly reason?: string;
    readonly goods?: GoodsPlace;
    readonly claim?: Pick<Claim, 'state' | 'credit' | 'restocking' | 'answer'>;
  },
) =>
  tell(
    work,
    id,
    (o) => `Note at the return of ${o.number}`,
    (order): OrderEvent | string => {
      if (!caseOf(order, which)) return 'This return is not known.';
      const amounts = note.claim ? [note.claim.credit, note.claim.restocking] : [];
      if (amounts.some((n) => !Number.isSafeInteger(n) || n < 0)) return 'Amounts are not below nothing.';
      return { kind: 'note return', case: which, ...note };
    },
  );

/** Closes a return, or opens it again. */
export const closeReturn = (work: Work, id: string, which: string, closed: boolean) =>
  tell(work, id, (o) => `${closed ? 'Close' : 'Open'} the return of ${o.number}${closed ? '' : ' again'}`, {
    kind: 'close return',
    case: which,
    closed,
  });

/** Has an undeliverable parcel sent again, to a mended address; null for the one of before. */
export const sendParcelAgain = (work: Work, id: string, which: string, address: Address | null) =>
  tell(
    work,
    id,
    (o) => `Send the parcel of ${o.number} again`,
    async (order): Promise<OrderEvent | string> => {
      const c = caseOf(order, which);
      if (!c?.parcel) return 'This parcel is not known.';
      if (c.parcel.again) return 'It is being sent again already.';
      const supplier: SupplierConnection | undefined = await supplierById(work.db, c.parcel.supplier);
      if (supplier?.lanes.purchases !== 'service')
        return 'Its supplier has no service: ask for it there, and close the return.';
      if (!address) return { kind: 'send again', case: which, address: order.address };
      const before = await buyerOf(work.db, order);
      const to = withAddress(before, address);
      if (to.buyer !== before) await work.db.buyers.put(to.buyer);
      return { kind: 'send again', case: which, address: to.place };
    },
  );

/** What is wrong with rules for returns; null for nothing. */
export function returnRulesProblem({ reasons, keepUpTo, limit }: ReturnRules): string | null {
  if (!reasons.length) return 'At least one reason is needed.';
  if (reasons.some((r) => !r.name.trim() || !r.id.trim())) return 'A reason needs a name.';
  if (reasons.some((r) => !FAULTS.includes(r.fault))) return 'A reason says whose fault it is.';
  if (new Set(reasons.map((r) => r.id)).size < reasons.length) return 'Two reasons have the same name.';
  if (Object.values(keepUpTo).some((n) => !Number.isSafeInteger(n) || n < 0))
    return 'An amount is not below nothing.';
  if (!(limit.percent > 0 && limit.percent <= 100) || !Number.isSafeInteger(limit.least) || limit.least < 1)
    return 'The limit is a share up to 100 % and a number of units of at least 1.';
  return null;
}

/** Sets how returns are handled, as one change. */
export async function setReturnRules(work: Work, rules: ReturnRules): Promise<Said> {
  const problem = returnRulesProblem(rules);
  if (problem) return no(problem);
  const { db } = work;
  await db.transaction('rw', db.shopTables, () =>
    applyChange(
      db,
      { by: 'person', name: 'Rules for returns', undoable: true },
      [{ table: 'settings', id: 'shop', set: { returns: rules } }],
      nowOf(work),
    ),
  );
  return { ok: true };
}
