import {
  type Buyer,
  type BuyerFile,
  isApproved,
  NO_PROOF,
  type OrderLine,
  openLines,
  withText,
} from '../../core/orders';
import {
  type BuyerField,
  type Problem,
  readWords,
  settable,
  type Values,
  writeValues,
} from '../../core/personal';
import { fieldOf, fieldsIn } from '../../core/print';
import {
  applyChange,
  buyerOf,
  keepAsset,
  marketById,
  type Order,
  orderById,
  type PersonalSettings,
  settingsOf,
} from '../../store';
import { marketAdapter } from '../context/adapters';
import { nowOf, type Work } from '../context/work';
import { type Assortment, caughtUp, shopNow } from '../memory/assortment';
import { drawOf } from '../print/designs';
import { areaJob, DesignFiles } from '../print/jobs';
import { personalFiles, printedItem } from '../print/prints';
import { pictureName } from '../print/words';
import { listingOf } from '../quoting/promised';
import { type Said, tell } from './actions';
import { questionRow } from './messages';

/** A line that waits for its proof. */
export interface WaitingProof {
  readonly order: string;
  readonly line: string;
  readonly number: string;
  readonly title: string;
  readonly units: number;
  readonly shipBy: number;
  /** When the buyer was asked; null where no answer is awaited. */
  readonly askedAt: number | null;
}

/** How a line is made with its buyer's words, as far as it is known. */
export interface ProofSheet extends WaitingProof {
  readonly marketplace: string;
  readonly buyer: string;
  /** The buyer's words as they came; '' for none. */
  readonly came: string;
  /** The note that came with the order; '' for none. */
  readonly note: string;
  readonly fields: readonly BuyerField[];
  /** As they are made, or would be by what was read. */
  readonly values: Values;
  /** A person changed what was read. */
  readonly corrected: boolean;
  readonly problems: readonly Problem[];
  readonly approved: boolean;
  readonly print: string;
  /** What its listing shows by now, where that is another print with room for words. */
  readonly now: string | null;
  readonly blank: string;
  readonly colour: string;
  readonly size: string;
  /** In order. */
  readonly areas: readonly { readonly id: string; readonly name: string }[];
}

/** The open lines of an order that are made with the buyer's words. */
function personalLines(assortment: Assortment, order: Order) {
  return openLines(order).flatMap((line) => {
    const full = assortment.get(listingOf(order, line));
    const made = full?.source?.made;
    const print = line.print ?? made?.print;
    const is = line.proof !== undefined || (line.print === undefined && made?.personal === true);
    return is && print && full?.source ? [{ line, print, source: full.source }] : [];
  });
}

/** Every line that waits for its proof, the most urgent first. */
export async function waitingProofs(work: Work): Promise<WaitingProof[]> {
  const assortment = await caughtUp(work);
  const waiting: WaitingProof[] = [];
  for (const order of assortment.openOrders) {
    if (order.aside) continue;
    for (const { line } of personalLines(assortment, order))
      if (!isApproved(line))
        waiting.push({
          ...{ order: order.id, line: line.id, number: order.number, title: line.title },
          ...{ units: line.open, shipBy: order.shipBy, askedAt: line.proof?.askedAt ?? null },
        });
  }
  return waiting.sort((a, b) => a.shipBy - b.shipBy || (a.order < b.order ? -1 : 1));
}

/** What a line's buyer said: the words of the line, else the note of the order. */
const cameOf = (order: Order, line: OrderLine, { texts }: Buyer): string => {
  const own = line.personalisation === null ? '' : (texts[line.personalisation] ?? '');
  return own || (order.buyerNote === undefined ? '' : (texts[order.buyerNote] ?? ''));
};

/** All that a proof is made of; null where it is not known any more. */
async function materialOf(work: Work, id: string, lineId: string) {
  const { db } = work;
  const order = await orderById(db, id);
  const known = order && personalLines(await caughtUp(work), order).find((l) => l.line.id === lineId);
  if (!order || !known) return null;
  const { line, print, source } = known;
  const printed = await printedItem(work, print, source.supplier, source.item);
  const buyer = await buyerOf(db, order);
  if (!printed || buyer.erasedAt !== null) return null;
  const fields = fieldsIn(printed.print.plan);
  const { personal } = await settingsOf(db);
  const words = line.proof?.words ?? null;
  const read =
    words === null
      ? readWords(cameOf(order, line, buyer), fields, personal?.patterns[order.marketplace])
      : readWords(buyer.texts[words] ?? '', fields);
  return {
    order,
    line,
    print,
    source,
    printed,
    buyer,
    fields,
    words,
    ...read,
    values: withFiles(read.values, fields, buyer),
  };
}

/** Values with the buyer's pictures named as they are kept, as far as they are. */
const withFiles = (values: Values, fields: readonly BuyerField[], { files = [] }: Buyer): Values => {
  const out = { ...values };
  for (const f of fields) {
    const own = f.kind === 'picture' ? files.find((one) => one.from === values[f.id]) : undefined;
    if (own) out[f.id] = pictureName(own);
  }
  return out;
};

/** Fetches pictures of a buyer's that are not kept yet. @returns whether any came */
async function fetchPictures(work: Work, { order, fields, values, buyer }: Material): Promise<boolean> {
  const { db } = work;
  const market = await marketById(db, order.marketplace);
  if (!market) return false;
  const fetched: BuyerFile[] = [];
  for (const f of fields) {
    const from = f.kind === 'picture' ? (values[f.id] ?? '') : '';
    if (!from.startsWith('/') || buyer.files?.some((one) => one.from === from)) continue;
    const answer = await (await marketAdapter(work, market)).file(from);
    if (!answer.ok) continue;
    const opened = await drawOf(work).openDesign(answer.value, f.name);
    if (!opened.ok || opened.drawing) continue;
    const { width, height, type } = opened;
    const file = new Blob([answer.value], { type });
    const id = await keepAsset(db, file, { kind: 'buyer', name: f.name, at: work.clock() });
    fetched.push({ from, id, width, height });
  }
  if (!fetched.length) return false;
  await db.transaction('rw', db.buyers, async () => {
    const now = await db.buyers.get(order.id);
    if (now && now.erasedAt === null)
      await db.buyers.put({ ...now, files: [...(now.files ?? []), ...fetched] });
  });
  return true;
}

type Material = NonNullable<Awaited<ReturnType<typeof materialOf>>>;

async function problemsIn(
  work: Work,
  { printed, fields }: Material,
  values: Values,
  left: string,
  files = new DesignFiles(work),
): Promise<Problem[]> {
  const { print, blank, item } = printed;
  const found = await files.wording.problems(print.plan, values, (area) => {
    const own = blank.areas.find((a) => a.id === area);
    return own ? fieldOf(own, item.size) : null;
  });
  return left ? [...found, { field: fields[0]?.id ?? '', kind: 'left', text: left }] : found;
}

/** A proof as it stands; null where its line does not wait to be made, or is not known any more. */
export async function proofSheet(work: Work, id: string, lineId: string): Promise<ProofSheet | null> {
  let m = await materialOf(work, id, lineId);
  if (m && (await fetchPictures(work, m))) m = await materialOf(work, id, lineId);
  if (!m) return null;
  const { order, line, print, source, printed, buyer, fields, values, left, words } = m;
  const { blank, item } = printed;
  const shown = source.made?.personal ? source.made.print : null;
  return {
    ...{ order: id, line: lineId, number: order.number, title: line.title },
    ...{ units: line.open, shipBy: order.shipBy, marketplace: order.marketplace, buyer: buyer.name },
    askedAt: line.proof?.askedAt ?? null,
    came: line.personalisation === null ? '' : (buyer.texts[line.personalisation] ?? ''),
    note: order.buyerNote === undefined ? '' : (buyer.texts[order.buyerNote] ?? ''),
    ...{ fields, values, corrected: words !== null, print },
    problems: await problemsIn(work, m, values, words === null ? left : ''),
    approved: isApproved(line),
    now: shown !== print ? shown : null,
    ...{ blank: blank.name, colour: item.colour, size: item.size },
    areas: blank.areas.flatMap((a) => (printed.print.plan[a.id] ? [{ id: a.id, name: a.name }] : [])),
  };
}

/** What is wrong with words that were typed, before they are taken. */
export async function typedProblems(
  work: Work,
  id: string,
  line: string,
  values: Values,
): Promise<Problem[]> {
  const m = await materialOf(work, id, line);
  return m ? problemsIn(work, m, values, '') : [];
}

/** A picture of an area as it is made with some words, so many pixels long: drawn as its file is. Null where it is not known. */
export async function proofPicture(
  work: Work,
  id: string,
  lineId: string,
  areaId: string,
  values: Values,
  longest: number,
): Promise<Blob | null> {
  const m = await materialOf(work, id, lineId);
  const area = m?.printed.blank.areas.find((a) => a.id === areaId);
  if (!m || !area) return null;
  const { print, blank, item } = m.printed;
  const files = new DesignFiles(work);
  const designs = new Map(print.designs.map((d) => [d.id, d]));
  // What cannot be made is left out of the picture; it is said beside it.
  const job = await areaJob(area, item.size, print.plan, designs, files, values, true);
  const ground = blank.colours.find((c) => c.name === item.colour)?.hex ?? '#ffffff';
  return drawOf(work).areaPicture(job, ground, longest);
}

/** Adds words to a buyer's texts as a person set them. @returns their place */
async function keepWords(
  work: Work,
  order: Order,
  values: Values,
  fields: readonly BuyerField[],
): Promise<number> {
  const before = await buyerOf(work.db, order);
  const { buyer, place } = withText(before, writeValues(values, fields));
  if (buyer !== before) await work.db.buyers.put(buyer);
  return place;
}

/** Why a proof cannot be changed any more; null while it can. */
const isBought = (order: Order, line: string): string | null =>
  openLines(order).some((l) => l.id === line)
    ? null
    : `${order.number} is bought by now: its maker has the file.`;

const cleaned = (values: Values): Values =>
  Object.fromEntries(Object.entries(values).map(([id, v]) => [id, settable(v).slice(0, 1_000)]));

/** Makes a line with other words. What came stays on record. */
export async function correctProof(work: Work, id: string, line: string, values: Values): Promise<Said> {
  const m = await materialOf(work, id, line);
  if (!m) return { ok: false, reason: 'This proof is not known any more.' };
  return tell(
    work,
    id,
    (o) => `Words of ${o.number}`,
    async (order) =>
      isBought(order, line) ?? {
        kind: 'set proof',
        line,
        print: m.print,
        words: await keepWords(work, order, cleaned(values), m.fields),
      },
    { undoable: true },
  );
}

/** Makes a line as its listing shows it now instead of as it was shown when it was sold. */
export async function proofAsNow(work: Work, id: string, line: string, print: string): Promise<Said> {
  const m = await materialOf(work, id, line);
  if (!m) return { ok: false, reason: 'This proof is not known any more.' };
  const { words } = m.line.proof ?? NO_PROOF;
  return tell(
    work,
    id,
    (o) => `Print of ${o.number}`,
    (order) => isBought(order, line) ?? { kind: 'set proof', line, print, words },
    { undoable: true },
  );
}

/**
 * Approves how a line is made: with just these words, this print, and the files that came of both. It goes then as its
 * rule says.
 */
export async function approveProof(work: Work, id: string, lineId: string, values: Values): Promise<Said> {
  const m = await materialOf(work, id, lineId);
  if (!m) return { ok: false, reason: 'This proof is not known any more.' };
  let files: Record<string, string>;
  try {
    const made = await personalFiles(
      work,
      m.printed,
      readWords(writeValues(values, m.fields), m.fields).values,
    );
    files = Object.fromEntries(made.map(({ area, hash }) => [area, hash]));
  } catch (error) {
    return { ok: false, reason: (error as Error).message };
  }
  return tell(
    work,
    id,
    (o) => `Approve the proof of ${o.number}`,
    async (order) =>
      isBought(order, lineId) ?? {
        kind: 'approve proof',
        lines: [
          { line: lineId, print: m.print, files, words: await keepWords(work, order, values, m.fields) },
        ],
      },
    { undoable: true },
  );
}

/** Asks the buyer about the words of a line, by the marketplace. The order waits for the answer. */
export async function askBuyer(work: Work, id: string, line: string, text: string): Promise<Said> {
  const { db } = work;
  const question = text.trim().slice(0, 4_000);
  if (!question) return { ok: false, reason: 'The question is empty.' };
  return db.transaction('rw', db.shopTables, async (): Promise<Said> => {
    const order = await orderById(db, id);
    if (!order) return { ok: false, reason: 'This order is not known.' };
    const before = await buyerOf(db, order);
    const { buyer, place } = withText(before, question);
    const row = questionRow(order, place, await shopNow(work), work.clock());
    if (!row)
      return { ok: false, reason: 'This marketplace takes no messages from here. Write to the buyer there.' };
    if (await db.outbox.get(row.id)) return { ok: false, reason: 'The buyer was asked just that before.' };
    if (buyer !== before) await db.buyers.put(buyer);
    await db.outbox.put(row);
    return tell(work, id, (o) => `Ask the buyer of ${o.number}`, { kind: 'ask about words', line });
  });
}

/** Sets how marketplaces' texts are read, and which words are not printed. Proofs that nobody corrected are read anew. */
export async function setPersonal(work: Work, personal: PersonalSettings): Promise<void> {
  const { db } = work;
  await db.transaction('rw', [db.settings, db.changes, db.edits, db.earlier], () =>
    applyChange(
      db,
      { by: 'person', name: 'How buyers’ words are read' },
      [{ table: 'settings', id: 'shop', set: { personal }, says: 'Changed by you.' }],
      nowOf(work),
    ),
  );
}
