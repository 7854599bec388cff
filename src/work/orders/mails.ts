import { type Mail, pastedMail, readMailFile } from '../../connect/mail';
import { type Awaited, type MailFinding, namesOf, readMail } from '../../core/mail';
import { chargeOf, isActive, isFor, numberOf, type Purchase, parcelsOf } from '../../core/orders';
import { trackingProblem } from '../../core/tracking';
import { applyChange, type MailSender, type Order, orderById, settingsOf, supplierById } from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp, shopNow } from '../memory/assortment';
import { marketsOf } from '../quoting/worth';
import type { Said } from './actions';
import { advance, orderChange } from './advance';
import { saidOf } from './outside-service';
import { takeStatement } from './supplier-news';

/** What a mail says of a purchase, and whether a person has to look at it. */
export interface MailProposal {
  /** Names it among those of its mail. */
  readonly id: string;
  readonly finding: MailFinding;
  /** Why it is not taken by itself; '' where it is clear. */
  readonly doubt: string;
  /** What it would change is known already. */
  readonly known: boolean;
}

/** A mail that was dropped, and what was found in it. */
export interface ReadMail {
  readonly name: string;
  readonly mail: Mail | null;
  /** Why it could not be read. */
  readonly reason: string;
  readonly proposals: readonly MailProposal[];
  /** How many of them were taken at once, since the seller trusts the sender. */
  readonly taken: number;
}

/** What is taken of a mail, as a person agreed to it. */
export interface Agreed {
  readonly order: string;
  readonly reference: string;
  readonly supplier: string;
  /** The supplier's number; '' to keep the one that is known. */
  readonly number: string;
  readonly parcels: readonly { readonly carrier: string; readonly tracking: string }[];
  /** Goods and shipping together; null where it is not said. */
  readonly total: number | null;
  readonly cancelled: boolean;
}

const awaitedOf = (order: Order, p: Purchase): Awaited => ({
  order: order.id,
  number: order.number,
  reference: p.reference,
  supplier: p.supplier,
  known: numberOf(p),
  currency: p.currency,
});

/** Whether all that a mail says of a purchase is on record. */
function isKnown(p: Purchase, { number, parcels, total, cancelled }: MailFinding): boolean {
  const charge = chargeOf(p);
  return (
    !cancelled &&
    (!number || numberOf(p) === number.value) &&
    parcels.every((one) => parcelsOf(p).some((known) => known.tracking === one.value)) &&
    (!total || (charge !== null && charge.goods + charge.shipping === total.value)) &&
    Boolean(number || parcels.length || total)
  );
}

function doubtOf(p: Purchase, finding: MailFinding, mail: Mail, sender: MailSender | undefined): string {
  if (mail.odd) return 'Replies to it go to another domain than it comes from.';
  if (sender && sender.supplier !== p.supplier) return 'It comes from the sender of another supplier.';
  if (finding.cancelled) return `It says “${finding.cancelled.value}”.`;
  const bad = finding.parcels.find((one) => trackingProblem(one.value));
  if (bad) return `${bad.value} is not a tracking number as its shape has it.`;
  if (finding.parcels.length > 1) return 'It names several tracking numbers.';
  if (finding.parcels.some((one) => !one.carrier)) return 'It names no carrier.';
  const { goods, shipping } = p.expected;
  if (finding.total && finding.total.value > (goods + shipping) * 1.1)
    return 'It charges more than was expected.';
  if (!finding.number && !finding.parcels.length && !finding.total)
    return 'It names the order and nothing else.';
  return '';
}

/** Reads mails: files, or one that was pasted. What is clear of a trusted sender is taken at once. */
export async function readMails(
  work: Work,
  some: readonly (Blob | string)[],
  names: readonly string[],
  onProgress?: (done: number) => void,
): Promise<ReadMail[]> {
  const assortment = await caughtUp(work);
  const { shop } = assortment;
  const open = [...assortment.openOrders].flatMap((order) =>
    order.purchases.flatMap((p) => (isActive(p) && p.lane !== 'service' ? [{ order, p }] : [])),
  );
  const known = namesOf(open.map(({ order, p }) => awaitedOf(order, p)));
  const byKey = new Map(open.map(({ p }) => [`${p.supplier} ${p.reference}`, p]));
  const { senders = [], shapes = [] } = await settingsOf(work.db);
  const carriers = [...new Set(marketsOf(shop).flatMap((m) => m.site.carriers.map((c) => c.name)))];
  const read: ReadMail[] = [];
  for (const [k, one] of some.entries()) {
    const name = names[k] ?? '';
    try {
      const mail = typeof one === 'string' ? pastedMail(one) : await readMailFile(one);
      const sender = senders.find((s) => mail.from && s.address === mail.from);
      const proposals = readMail(mail.text, known, carriers, shapes).map((finding): MailProposal => {
        const { reference, supplier } = finding.about;
        const p = byKey.get(`${supplier} ${reference}`)!;
        return {
          id: `${k} ${supplier} ${reference}`,
          finding,
          doubt: doubtOf(p, finding, mail, sender),
          known: isKnown(p, finding),
        };
      });
      let taken = 0;
      if (sender?.taken)
        for (const proposal of proposals)
          if (!proposal.doubt && !proposal.known && (await takeFinding(work, proposal.finding, 'rule')).ok)
            taken++;
      read.push({ name, mail, reason: '', proposals, taken });
    } catch (error) {
      const reason = error instanceof RangeError ? error.message : 'It cannot be read as a mail.';
      read.push({ name, mail: null, reason, proposals: [], taken: 0 });
    }
    onProgress?.(k + 1);
  }
  return read;
}

const takeFinding = (work: Work, { about, number, parcels, total, cancelled }: MailFinding, by: 'rule') =>
  takeMail(
    work,
    {
      ...{ order: about.order, reference: about.reference, supplier: about.supplier },
      number: number?.value ?? '',
      parcels: parcels.map(({ value, carrier }) => ({ tracking: value, carrier })),
      total: total?.value ?? null,
      cancelled: cancelled !== null,
    },
    by,
  );

/** Takes what a mail says of a purchase, as if its supplier's service had said it. */
export async function takeMail(work: Work, agreed: Agreed, by: 'person' | 'rule' = 'person'): Promise<Said> {
  const { db } = work;
  const { order: id, reference, supplier, parcels, total } = agreed;
  return db.transaction('rw', db.shopTables, async (): Promise<Said> => {
    const order = await orderById(db, id);
    const c = await supplierById(db, supplier);
    const p = order?.purchases.find((one) => isFor(one, supplier, reference));
    if (!order || !c || !p || !isActive(p))
      return { ok: false, reason: 'There is no such purchase to go on with.' };
    if (p.lane === 'service') return { ok: false, reason: `${c.name} says itself what becomes of it.` };
    const at = work.clock();
    const before = parcelsOf(p).map((one) => ({ ...one, lines: one.inside.map((u) => countIn(p, u)) }));
    const fresh = parcels.filter((one) => !before.some((known) => known.tracking === one.tracking));
    // A mail names one amount: as much of it as was expected is shipping.
    const shipping = total === null ? 0 : Math.min(total, p.expected.shipping);
    const said = saidOf(
      p,
      {
        number: agreed.number || numberOf(p) || reference,
        status: agreed.cancelled ? 'cancelled' : before.length + fresh.length ? 'part shipped' : 'accepted',
        parcels: [
          ...before,
          ...fresh.map((one) => ({ ...one, shippedAt: at, deliveredAt: null, lines: null })),
        ],
        charge: total === null ? chargeOf(p) : { goods: total - shipping, shipping },
      },
      at,
    );
    const shop = await shopNow(work);
    const moved = await advance(work, shop, order, [await takeStatement(work, order, said, c)]);
    if (!moved) return { ok: true };
    const name = `Mail of ${c.name} about ${order.number}`;
    await applyChange(db, { by, name, undoable: false }, [orderChange(moved)], nowOf(work));
    return { ok: true };
  });
}

const countIn = (p: Purchase, { line, units }: { readonly line: string; readonly units: number }) => {
  const own = p.lines.find((l) => l.line === line);
  return { line, sku: own?.item ?? '', quantity: units * (own?.pack ?? 1) };
};

/** Remembers whose mails an address sends, and whether what is clear in them is taken without asking; null forgets it. */
export async function keepSender(
  work: Work,
  address: string,
  as: Omit<MailSender, 'address'> | null,
): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const others = ((await settingsOf(db)).senders ?? []).filter((s) => s.address !== address);
    await applyChange(
      db,
      { by: 'person', name: as ? `Mails of ${address}` : `Forget the mails of ${address}`, undoable: true },
      [{ table: 'settings', id: 'shop', set: { senders: as ? [...others, { ...as, address }] : others } }],
      nowOf(work),
    );
  });
}
