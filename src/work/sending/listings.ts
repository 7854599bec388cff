import type { ListingSaid } from '../../connect/marketplace';
import type { Result, Trouble } from '../../connect/reach';
import type { WireAsk } from '../../connect/wire';
import { ownPicture } from '../../core/checks';
import type { BuyerField } from '../../core/personal';
import { fieldsIn } from '../../core/print';
import { type ListingDocument, type MarketConnection, type OutboxRow, sizedKey } from '../../store';
import { marketAdapter } from '../context/adapters';
import type { Work } from '../context/work';
import { ownPictureFile } from '../editing/pictures';
import { caughtUp } from '../memory/assortment';
import { backoff } from '../outbox/circuit';
import { close, offered, published, type Told } from './answered';
import { drafted } from './leaving';
import { isFinal, MOST_TRIES } from './tries';

/**
 * Gives a marketplace the pictures of our own that it does not have yet.
 * @returns the address of each there, by its name; without those that are not in this browser any more
 */
async function givePictures(
  work: Work,
  c: MarketConnection,
  leaving: readonly Told[],
): Promise<Result<ReadonlyMap<string, string>>> {
  const { assets } = work.db;
  const names = new Set(leaving.flatMap(({ document }) => document.pictures));
  const addresses = new Map<string, string>();
  for (const name of names) {
    const own = ownPicture(name);
    const asset = own && (await assets.get(own.hash));
    if (!own || !asset) continue;
    const key = own.fitted ? sizedKey(c.id, own) : c.id;
    let address = asset.on?.[key];
    if (!address) {
      const file = await ownPictureFile(work, name);
      if (!file) continue;
      const given = await (await marketAdapter(work, c)).picture(file);
      if (!given.ok) return given;
      address = given.value;
      const now = await assets.get(own.hash);
      await assets.update(asset.id, { on: { ...now?.on, [key]: address } });
    }
    addresses.set(name, address);
  }
  return { ok: true, value: addresses };
}

/** The first picture of our own that is not in this browser any more, counted from 1; 0 where none is. */
const missingPicture = ({ document: { pictures } }: Told, there: ReadonlyMap<string, string>): number =>
  pictures.findIndex((name) => ownPicture(name) && !there.has(name)) + 1;

/** A document with the addresses that a marketplace gave our pictures. */
function withAddresses(document: ListingDocument, addresses: ReadonlyMap<string, string>): ListingDocument {
  const addressOf = (name: string) => (ownPicture(name) ? addresses.get(name) : name);
  const { alts } = document;
  return {
    ...document,
    pictures: document.pictures.flatMap((name) => addressOf(name) ?? []),
    ...(alts && {
      alts: Object.fromEntries(Object.entries(alts).map(([name, text]) => [addressOf(name) ?? name, text])),
    }),
  };
}

/** What buyers are asked for, by listing. */
async function asksOf(
  work: Work,
  listings: readonly string[],
): Promise<ReadonlyMap<string, readonly WireAsk[]>> {
  const assortment = await caughtUp(work);
  const asks = new Map<string, readonly WireAsk[]>();
  for (const id of listings) {
    const made = assortment.get(id)?.source?.made;
    const print = made?.personal ? await work.db.prints.get(made.print) : undefined;
    if (print) asks.set(id, fieldsIn(print.plan).map(askOf));
  }
  return asks;
}

const askOf = (f: BuyerField): WireAsk => ({
  ...{ name: f.name, kind: f.kind, required: f.required },
  ...(f.kind === 'text' && { longest: f.most }),
  ...(f.kind === 'choice' && { choices: f.choices.map((c) => c.name) }),
});

export const refused = (reason: string): ListingSaid => ({ ok: false, reason });

/** Publishes listings in one request. What is told of each is made now, so that it is the newest. */
export async function sendPublications(
  work: Work,
  c: MarketConnection,
  rows: readonly OutboxRow<'publish'>[],
): Promise<Trouble | null> {
  const leaving = await drafted(work, c, rows);
  if (!leaving.length) return null;
  const there = await givePictures(work, c, leaving);
  if (!there.ok) return there.trouble;
  const whole = leaving.filter((told) => !missingPicture(told, there.value));
  if (whole.length < leaving.length)
    await published(work, c, leaving, (told) => {
      const at = missingPicture(told, there.value);
      return at
        ? refused(`Picture ${at} is not in this browser any more. Add it again, or take it out.`)
        : undefined;
    });
  if (!whole.length) return null;
  const asks = await asksOf(
    work,
    whole.map(({ row }) => row.body.listing),
  );
  const drafts = whole.map(({ row, document, ...told }) => ({
    ...told,
    document: withAddresses(document, there.value),
    sku: row.body.sku,
    draft: row.body.draft === true,
    ...(asks.get(row.body.listing) && { asks: asks.get(row.body.listing)! }),
  }));
  const answer = await (await marketAdapter(work, c)).publish(drafts);
  if (!answer.ok) {
    const { trouble } = answer;
    if (!rows.some((row) => isFinal(trouble, row))) return trouble;
    // What is not given up goes again later.
    const over = (told: Told) => (isFinal(trouble, told.row) ? refused(trouble.says) : undefined);
    await published(work, c, whole, over);
    return whole.every((told) => over(told) !== undefined) ? null : trouble;
  }
  const silent: OutboxRow[] = [];
  await published(work, c, whole, (told) => {
    const said = answer.value.get(told.row.body.sku);
    if (said) return said;
    if (told.row.attempts + 1 >= MOST_TRIES) return refused('It was sent several times and never answered.');
    silent.push(told.row);
    return undefined;
  });
  for (const row of silent) await unnamed(work, row);
  return null;
}

export async function sendOffers(
  work: Work,
  c: MarketConnection,
  batch: readonly OutboxRow<'offer'>[],
): Promise<Trouble | null> {
  const answer = await (await marketAdapter(work, c)).offers(batch.map((r) => r.body));
  if (!answer.ok) {
    if (!isFinal(answer.trouble, batch[0]!)) return answer.trouble;
    for (const row of batch) await close(work, row, 'refused', answer.trouble.says);
    return null;
  }
  const refusals = new Map<string, string | null>();
  for (const row of batch) {
    const said = answer.value.get(row.body.sku);
    const refusal = said === undefined ? await unnamed(work, row) : said;
    if (refusal !== undefined) refusals.set(row.id, refusal);
  }
  await offered(work, c, batch, (row) => refusals.get(row.id));
  return null;
}

/** An offer that the answer does not name goes again later, and is given up after some tries. @returns the refusal, or undefined */
async function unnamed(work: Work, row: OutboxRow): Promise<string | undefined> {
  const attempts = row.attempts + 1;
  if (attempts >= MOST_TRIES) return 'it was sent several times and never answered.';
  const nextAt = work.clock() + backoff(row.attempts, work.chance());
  await work.db.outbox.update(row.id, { attempts, nextAt, says: 'The answer did not mention it.' });
  return undefined;
}
