import type { Result, Trouble } from '../../connect/reach';
import type { NewPurchase, SupplierOrder } from '../../connect/supplier';
import { type Buyer, isAsking } from '../../core/orders';
import {
  buyerOf,
  type OutboxBodies,
  type OutboxRow,
  orderById,
  readAsset,
  type SupplierConnection,
} from '../../store';
import { supplierAdapter } from '../context/adapters';
import type { Work } from '../context/work';
import { takeStatement } from '../orders/supplier-news';
import { noteHealth } from '../outbox/circuit';
import { type GivenPrints, givePrints } from '../print/prints';
import { answer } from './answered';
import { askElsewhere } from './elsewhere';
import { isFinal } from './tries';

/** Writes down that a row is about to leave, unless it was withdrawn or replaced meanwhile. */
async function noteLeaving(
  work: Work,
  row: OutboxRow<'buy'>,
  given: GivenPrints,
  words: Awaited<ReturnType<typeof approvedWords>>,
): Promise<{ readonly before: OutboxRow<'buy'>; readonly purchase: NewPurchase } | null> {
  const { outbox, buyers } = work.db;
  return work.db.transaction('rw', outbox, buyers, async () => {
    const now = await outbox.get(row.id);
    if (now?.state !== 'waiting' || now.at !== row.at) return null;
    await outbox.update(row.id, { sentAt: work.clock() });
    const before = now as OutboxRow<'buy'>;
    return { before, purchase: toBuy(before.body, await buyerOf(work.db, { id: row.order }), given, words) };
  });
}

/** The buyer's words of each line that is made with them, as they were approved. */
async function approvedWords({ db }: Work, row: OutboxRow<'buy'>) {
  const order = await orderById(db, row.order);
  const texts = order?.lines.some((l) => l.proof) ? (await buyerOf(db, order)).texts : [];
  return ({ line, personalisation }: OutboxBodies['buy']['lines'][number]) => {
    const approved = order?.lines.find((l) => l.id === line)?.proof?.approved;
    const text = approved && texts[approved.words];
    return approved && typeof text === 'string' && approved.words === personalisation
      ? { text, approved: approved.files }
      : null;
  };
}

/** A purchase with the buyer's address and words in it, and the maker's names of its print files. */
function toBuy(
  { gift, ...body }: OutboxBodies['buy'],
  { addresses, texts }: Buyer,
  given: GivenPrints,
  words: Awaited<ReturnType<typeof approvedWords>>,
): NewPurchase {
  const textOf = (text: string | number) => (typeof text === 'string' ? text : texts[text]!);
  return {
    ...body,
    address: addresses[body.address]!,
    lines: body.lines.map(({ print: _, ...l }) => {
      const prints = given.get(l.line);
      return {
        ...l,
        personalisation: l.personalisation === null ? null : textOf(l.personalisation),
        ...(prints && { prints }),
        ...(prints && words(l) && { personal: true as const }),
      };
    }),
    slip: textOf(body.slip),
    ...(gift !== undefined && { gift: textOf(gift) }),
  };
}

/** The purchase that may be there already, as its supplier knows it; null where it is sure that there is none. */
async function lookUp(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'buy'>,
): Promise<Result<SupplierOrder | null>> {
  const found = await (await supplierAdapter(work, c)).find(row.body.reference);
  if (!found.ok) return found;
  const there = found.value.find((p) => p.status !== 'cancelled') ?? found.value.at(-1);
  return { ok: true, value: there ?? null };
}

/**
 * Buys. Where it left before and no answer is known, the supplier is first asked whether it has the purchase:
 * only if it has none does it go again, with the same key; and not at all if the sale was cancelled meanwhile.
 */
export async function sendPurchase(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'buy'>,
): Promise<Trouble | null> {
  if (!(await askElsewhere(work, row))) return null;
  const words = await approvedWords(work, row);
  const given = await givePrints(work, c, row.body.lines, words);
  if (!given.ok) return 'trouble' in given ? given.trouble : notBought(work, c, row, given.says);
  const claimed = await noteLeaving(work, row, given.prints, words);
  if (!claimed) return null;
  const { before, purchase } = claimed;
  const { reference } = row.body;
  if (before.sentAt !== null) {
    const found = await lookUp(work, c, row);
    if (!found.ok) return doubtful(found.trouble);
    if (found.value) return bought(work, c, row, found.value);
    const order = await orderById(work.db, row.order);
    if (order?.cases.some((one) => isAsking(one) && one.supplier === c.id && one.reference === reference)) {
      const says = `${c.name} does not have it; fewer are wanted by now.`;
      await answer(
        work,
        row,
        'withdrawn',
        says,
        (o) => `${o.number} was not bought yet`,
        () => ({ kind: 'never bought', supplier: c.id, reference }),
      );
      return null;
    }
  }
  const said = await (await supplierAdapter(work, c)).buy(row.id, purchase);
  if (said.ok) return bought(work, c, row, said.value);
  if (said.trouble.type === 'urn:wire:key-reused') {
    // A key that was used before belongs to a purchase that is there: made before this copy of the shop, and
    // edited since.
    const found = await lookUp(work, c, row);
    return found.ok && found.value
      ? bought(work, c, row, found.value)
      : doubtful(found.ok ? said.trouble : found.trouble);
  }
  if (said.trouble.kind !== 'refused') return said.trouble;
  return notBought(work, c, row, said.trouble.says);
}

/** A refusal that says nothing of whether it was bought is one trouble among others. */
const doubtful = (trouble: Trouble): Trouble =>
  trouble.kind === 'refused' ? { ...trouble, kind: 'nonsense' } : trouble;

async function bought(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'buy'>,
  said: SupplierOrder,
): Promise<null> {
  await answer(
    work,
    row,
    'done',
    `Accepted as ${said.number}.`,
    (o) => `${c.name} accepted ${o.number}`,
    (order) => takeStatement(work, order, said, c),
  );
  await noteBalance(work, c, said);
  return null;
}

async function noteBalance(work: Work, c: SupplierConnection, { balance }: SupplierOrder): Promise<void> {
  if (balance !== null) await noteHealth(work, c.id, { balance });
}

async function notBought(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'buy'>,
  says: string,
): Promise<null> {
  await answer(
    work,
    row,
    'refused',
    `${c.name} refused it: ${says}`,
    (o) => `${c.name} refused ${o.number}`,
    () => ({ kind: 'supplier refused', supplier: c.id, reference: row.body.reference, says }),
  );
  return null;
}

export async function sendTakeBack(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'take back'>,
): Promise<Trouble | null> {
  const { number, reason, reference, lines } = row.body;
  const said = await (await supplierAdapter(work, c)).takeBack(row.id, number, reason, lines);
  if (!said.ok && !isFinal(said.trouble, row)) return said.trouble;
  await answer(
    work,
    row,
    said.ok ? 'done' : 'refused',
    said.ok ? `${number} was taken back.` : `${c.name} does not take ${number} back: ${said.trouble.says}`,
    () => (said.ok ? `${c.name} took ${number} back` : `${c.name} keeps ${number}`),
    (order) =>
      said.ok
        ? takeStatement(work, order, said.value, c)
        : { kind: 'keeps it', supplier: c.id, reference, says: said.trouble.says },
  );
  if (said.ok) await noteBalance(work, c, said.value);
  return null;
}

/** Asks a maker to print again what came out wrong, with its photograph. */
export async function sendMisprint(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'misprint'>,
): Promise<Trouble | null> {
  const { number, lines, reason, photo, case: about } = row.body;
  const kept = await readAsset(work.db, photo);
  const adapter = await supplierAdapter(work, c);
  const no = (says: string) =>
    answer(
      work,
      row,
      'refused',
      `${c.name} does not print ${number} again: ${says}`,
      (o) => `${c.name} does not print ${o.number} again`,
      () => ({ kind: 'misprint refused', case: about, says }),
    );
  if (!kept) {
    await no('The photograph is not in this browser any more.');
    return null;
  }
  const given = await adapter.photo(kept.file);
  if (!given.ok && !isFinal(given.trouble, row)) return given.trouble;
  const said = given.ok
    ? await adapter.misprint(row.id, number, { lines, reason, photo: given.value })
    : given;
  if (!said.ok) {
    if (!isFinal(said.trouble, row)) return said.trouble;
    await no(said.trouble.says);
    return null;
  }
  await answer(
    work,
    row,
    'done',
    `${c.name} prints ${number} again.`,
    (o) => `${c.name} prints ${o.number} again`,
    (order) => takeStatement(work, order, said.value, c),
  );
  return null;
}
