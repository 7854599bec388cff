import { fold } from '../copy';
import { type Currency, parseMinor } from '../money';
import { carrierByShape, cleanTracking, type NumberShape, trackingsIn } from '../tracking';

/** A purchase that mails may speak of. */
export interface Awaited {
  readonly order: string;
  /** The order's number on its marketplace. */
  readonly number: string;
  readonly reference: string;
  readonly supplier: string;
  /** The supplier's own number, where it is known. */
  readonly known: string | null;
  readonly currency: Currency;
}

/** Something found in a mail: where it stands, so that a person can see it there. */
export interface Found<T> {
  readonly value: T;
  readonly at: number;
  readonly length: number;
}

/** What a mail says of one purchase. */
export interface MailFinding {
  readonly about: Awaited;
  /** Where it is named. */
  readonly named: Found<string>;
  readonly number: Found<string> | null;
  readonly parcels: readonly (Found<string> & { readonly carrier: string })[];
  /** All that is charged, in the purchase's currency. */
  readonly total: Found<number> | null;
  readonly cancelled: Found<string> | null;
}

const CANCELLED =
  /\b(cancel(?:l?ed|lation)|out of stock|no longer available|(?:cannot|can’t|can't|unable to) (?:supply|deliver|fulfil)|storniert|nicht lieferbar|annul[ée]e?|indisponible|anulowan\w*)\b/iu;

const OWN_NUMBER =
  /(?:our (?:order|ref(?:erence)?)|order (?:number|no\.?|confirmation)|confirmation (?:number|no\.?)|auftrags?(?:nummer|nr\.?)?|bestell(?:nummer|nr\.?)|commande(?: n[°o]\.?)?|zam[óo]wieni\w+(?: nr)?)\s*(?:is|ist|:|#|=)?\s*([A-Z]{0,6}[- /]?\d{3,}[A-Z0-9-]*)/giu;

const TOTAL =
  /(?:total(?: charged)?|amount(?: charged| due)?|charged|gesamt(?:betrag)?|summe|montant(?: total)?|razem|do zap[łl]aty)\s*(?:is|ist|:|=)?\s*(?:[£€$]|[A-Z]{3}|z[łl])?\s*(\d[\d.,’' ]*\d|\d)/giu;

/** A run of letters that a reference or a number can be: `uk:PW-1#2`. */
const NAME = /[\p{L}\d][\p{L}\d:#/_.-]*/gu;

/** Purchases by what they can be named: made once for many mails. */
export type Names = ReadonlyMap<string, readonly Awaited[]>;

/** @returns purchases by their names, in small letters */
export function namesOf(awaited: readonly Awaited[]): Names {
  const names = new Map<string, Awaited[]>();
  for (const about of awaited)
    for (const name of new Set([about.reference, about.known, about.number])) {
      const key = name?.trim().toLowerCase();
      if (key) names.set(key, [...(names.get(key) ?? []), about]);
    }
  return names;
}

/** Where purchases are named first, whole names alone: `PW-1` is not named by `PW-10`. */
function namedIn(text: string, names: Names): { readonly about: Awaited; readonly found: Found<string> }[] {
  const first = new Map<Awaited, Found<string>>();
  for (const m of text.matchAll(NAME)) {
    // A mark at the end ends the sentence.
    const value = m[0].replace(/[:#/_.-]+$/, '');
    for (const about of names.get(value.toLowerCase()) ?? [])
      if (!first.has(about)) first.set(about, { value, at: m.index, length: value.length });
  }
  return [...first].map(([about, found]) => ({ about, found }));
}

/**
 * What a mail says of purchases that are awaited. Where it names several, each has the part from where it is named to where
 * the next is; what stands before the first belongs to the first.
 * @param carriers names that a carrier may go by
 * @param shapes how numbers of the seller's carriers look
 */
export function readMail(
  text: string,
  names: Names,
  carriers: readonly string[],
  shapes: readonly NumberShape[] = [],
): MailFinding[] {
  const named = namedIn(text, names);
  // A first purchase of an order is named by the order's number; a second one has a reference of its own.
  const meant = named.filter(
    (one) =>
      !named.some((o) => o !== one && o.found.at === one.found.at && o.found.length > one.found.length),
  );
  meant.sort((a, b) => a.found.at - b.found.at);
  return meant.map(({ about, found }, k) => {
    const from = k === 0 ? 0 : found.at;
    const to = meant[k + 1]?.found.at ?? text.length;
    return findingIn(text.slice(from, to), from, about, found, carriers, shapes);
  });
}

function findingIn(
  part: string,
  offset: number,
  about: Awaited,
  named: Found<string>,
  carriers: readonly string[],
  shapes: readonly NumberShape[],
): MailFinding {
  const ours = new Set([about.reference, about.number].map((one) => one.toLowerCase()));
  const trackings = trackingsIn(part, shapes).filter((t) => !ours.has(t.tracking.toLowerCase()));
  const numbers = [...part.matchAll(OWN_NUMBER)]
    .map((m) => ({
      value: m[1]!.trim(),
      at: offset + m.index + m[0].lastIndexOf(m[1]!),
      length: m[1]!.length,
    }))
    .filter(
      (n) =>
        !ours.has(n.value.toLowerCase()) && !trackings.some((t) => t.tracking === cleanTracking(n.value)),
    );
  const totals = [...part.matchAll(TOTAL)].flatMap((m) => {
    const read = parseMinor(m[1]!, about.currency);
    return read.ok
      ? [{ value: read.value, at: offset + m.index + m[0].lastIndexOf(m[1]!), length: m[1]!.length }]
      : [];
  });
  const gone = CANCELLED.exec(part);
  const folded = fold(part);
  const carrier = carriers.find((name) => folded.includes(fold(name))) ?? '';
  return {
    about,
    named,
    number: numbers[0] ?? null,
    parcels: trackings.map(({ tracking, at, length }) => ({
      value: tracking,
      at: offset + at,
      length,
      // A name in the mail may be another carrier's: the number itself says more.
      carrier: carrierByShape(tracking, shapes) ?? carrier,
    })),
    // The last total is that of all.
    total: totals.at(-1) ?? null,
    cancelled: gone && { value: gone[0], at: offset + gone.index, length: gone[0].length },
  };
}
