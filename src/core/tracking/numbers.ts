import { type NumberShape, shapesIn } from './shapes';
import { isS10, isSscc } from './tracking';

/** A tracking number as it stands in some text. */
export interface FoundTracking {
  readonly tracking: string;
  readonly at: number;
  readonly length: number;
}

/** Words that a tracking number stands behind, in the languages of the demo's suppliers and carriers. */
const LABEL =
  /(?:track(?:ing)?(?:[ -]?(?:no|number|nr|code|id))?|sendungs(?:nummer|nr)|paketnummer|num[eé]ro de suivi|suivi|numer przesy[lł]ki|nr przesy[lł]ki|trackingnummer|zending)\.?\s*(?:is|ist|:|#|=|-)?\s*/giu;

const NUMBER = /[A-Z0-9](?:[A-Z0-9-]| (?=[A-Z0-9])){5,39}/iy;

/** Without spaces, in capitals; of a link the part that is the number. */
export function cleanTracking(raw: string): string {
  const text = raw.trim();
  if (/^https?:\/\//i.test(text)) {
    const parts = text.split(/[/?&=#]+/).map((part) => part.trim().toUpperCase());
    return parts.findLast((part) => /^[A-Z0-9-]{8,40}$/.test(part) && /\d{4}/.test(part)) ?? text;
  }
  const tight = text.replace(/\s+/g, '').toUpperCase();
  return /^\(00\)\d{18}$/.test(tight) ? `00${tight.slice(4)}` : tight;
}

/**
 * Tracking numbers in a text, in their order: what is one by its check digit (S10, SSCC behind its 00), by a shape of the
 * seller's own, and what stands behind a word for it.
 */
export function trackingsIn(text: string, shapes: readonly NumberShape[] = []): FoundTracking[] {
  const found = new Map<string, FoundTracking>();
  const note = (tracking: string, at: number, length: number) => {
    if (!found.has(tracking)) found.set(tracking, { tracking, at, length });
  };
  for (const m of text.matchAll(/\b[A-Z]{2} ?\d{3} ?\d{3} ?\d{3} ?[A-Z]{2}\b/gi)) {
    const tight = cleanTracking(m[0]);
    if (isS10(tight)) note(tight, m.index, m[0].length);
  }
  for (const m of text.matchAll(/(?:\(00\)|\b00) ?(\d(?: ?\d){17})\b/g)) {
    const digits = m[1]!.replace(/ /g, '');
    if (isSscc(digits)) note(`00${digits}`, m.index, m[0].length);
  }
  for (const { raw, at } of shapesIn(text, shapes)) note(cleanTracking(raw), at, raw.length);
  for (const label of text.matchAll(LABEL)) {
    const at = label.index + label[0].length;
    const link = /https?:\/\/\S+/iy;
    link.lastIndex = at;
    NUMBER.lastIndex = at;
    const raw = (link.exec(text) ?? NUMBER.exec(text))?.[0];
    if (!raw) continue;
    // A number ends where words begin: `AB12 3456 78 by Fen Post`.
    const own = /^https?:/i.test(raw) ? raw : firstNumber(raw);
    const tracking = own && cleanTracking(own);
    if (tracking && /\d{4}/.test(tracking) && /^[A-Z0-9-]{8,40}$/.test(tracking))
      note(tracking, at, own.length);
  }
  return [...found.values()].sort((a, b) => a.at - b.at);
}

/** The words of a row that have a digit, up to the first that has none. */
function firstNumber(row: string): string {
  const words = row.split(' ');
  const end = words.findIndex((word, k) => k > 0 && !/\d/.test(word));
  return (end < 0 ? words : words.slice(0, end)).join(' ');
}
