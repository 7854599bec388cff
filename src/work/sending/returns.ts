import type { Result, Trouble } from '../../connect/reach';
import type { SupplierOrder } from '../../connect/supplier';
import {
  buyerOf,
  type MarketConnection,
  type OutboxRow,
  orderById,
  readAsset,
  type SupplierConnection,
} from '../../store';
import { marketAdapter, supplierAdapter } from '../context/adapters';
import type { Work } from '../context/work';
import { takeStatement } from '../orders/supplier-news';
import { answer } from './answered';
import { isFinal } from './tries';

/** Tells a marketplace how a buyer is answered, or of a refund of the seller's own. */
export async function sendReturn(
  work: Work,
  c: MarketConnection,
  row: OutboxRow<'return'>,
): Promise<Trouble | null> {
  const said = await (await marketAdapter(work, c)).answerReturn(row.id, row.body);
  if (!said.ok && !isFinal(said.trouble, row)) return said.trouble;
  const refused = said.ok ? null : said.trouble.says;
  const says = said.ok ? `${c.name} took the answer.` : `${c.name} did not take the answer: ${refused}`;
  await answer(
    work,
    row,
    said.ok ? 'done' : 'refused',
    says,
    (o) => `${o.number}: ${says}`,
    () => ({ kind: 'return told', case: row.body.case, refused }),
  );
  return null;
}

/** Asks a supplier about returned goods, with photographs. */
export async function sendClaim(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'claim'>,
): Promise<Trouble | null> {
  const { case: about, number, lines, reason, wants, says, photos } = row.body;
  const adapter = await supplierAdapter(work, c);
  const names: string[] = [];
  for (const photo of photos) {
    const kept = await readAsset(work.db, photo);
    if (!kept)
      return refusedClaim(
        work,
        c,
        row,
        'A photograph is not in this browser any more. Ask again without it.',
      );
    const given = await adapter.photo(kept.file);
    if (!given.ok)
      return isFinal(given.trouble, row) ? refusedClaim(work, c, row, given.trouble.says) : given.trouble;
    names.push(given.value);
  }
  const said = await adapter.claim(row.id, number, { id: about, lines, reason, wants, says, photos: names });
  if (!said.ok)
    return isFinal(said.trouble, row) ? refusedClaim(work, c, row, said.trouble.says) : said.trouble;
  return heard(work, c, row, said, `${c.name} was asked about ${number}.`);
}

async function refusedClaim(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'claim'>,
  says: string,
): Promise<null> {
  await answer(
    work,
    row,
    'refused',
    `${c.name} did not take the return: ${says}`,
    (o) => `${o.number}: ${c.name} did not take the return`,
    () => ({ kind: 'claim refused', case: row.body.case, says }),
  );
  return null;
}

/** Has an undeliverable parcel sent again. */
export async function sendParcelAgain(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'send again'>,
): Promise<Trouble | null> {
  const { number, tracking, address: place, case: about } = row.body;
  const order = await orderById(work.db, row.order);
  const address = order && (await buyerOf(work.db, order)).addresses[place];
  const said: Result<SupplierOrder> = address
    ? await (await supplierAdapter(work, c)).sendAgain(row.id, number, tracking, address)
    : { ok: false, trouble: { kind: 'refused', says: 'The address is not on record any more.' } };
  if (said.ok) return heard(work, c, row, said, `${c.name} sends ${tracking} again.`);
  if (!isFinal(said.trouble, row)) return said.trouble;
  const { says } = said.trouble;
  await answer(
    work,
    row,
    'refused',
    `${c.name} does not send it again: ${says}`,
    (o) => `${o.number}: the parcel is not sent again`,
    () => ({ kind: 'again refused', case: about, says }),
  );
  return null;
}

async function heard(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow<'claim' | 'send again'>,
  said: Extract<Result<SupplierOrder>, { ok: true }>,
  says: string,
): Promise<null> {
  await answer(
    work,
    row,
    'done',
    says,
    (o) => `${o.number}: ${says}`,
    (order) => takeStatement(work, order, said.value, c),
  );
  return null;
}
