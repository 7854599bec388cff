import { DEEPEST, MOST_CELLS, type Opened, refuse } from './source';

/** Digits that a number of JavaScript keeps. */
const KEPT = 15;

const QUOTE = 34;
const BACKSLASH = 92;
const OPENS = new Set([91, 123]);
const CLOSES = new Set([93, 125]);
const COMMA = 44;
const isDigit = (c: number) => c >= 48 && c <= 57;

/**
 * Looks over JSON before it is parsed, so that none takes gigabytes, and puts numbers in quotes that have
 * more digits than a number keeps: SKUs and barcodes of twenty digits stay as they are.
 */
function lookedOver(text: string): Opened<string> {
  const parts: string[] = [];
  let from = 0;
  let depth = 0;
  let values = 0;
  for (let at = 0; at < text.length; at++) {
    const c = text.charCodeAt(at);
    if (c === QUOTE) {
      for (at++; at < text.length && text.charCodeAt(at) !== QUOTE; at++)
        if (text.charCodeAt(at) === BACKSLASH) at++;
    } else if (OPENS.has(c)) {
      if (++depth > DEEPEST)
        return refuse(
          `Its values lie more than ${DEEPEST} deep in each other; lists of up to ${DEEPEST} levels are read.`,
        );
      values++;
    } else if (CLOSES.has(c)) depth--;
    else if (c === COMMA) values++;
    else if (isDigit(c)) {
      const begin = text[at - 1] === '-' ? at - 1 : at;
      let digits = 0;
      for (; at < text.length; at++) {
        const d = text.charCodeAt(at);
        if (isDigit(d)) digits++;
        else if (d !== 46 && d !== 69 && d !== 101 && d !== 43 && d !== 45) break;
      }
      const number = text.slice(begin, at);
      if (digits > KEPT && /^-?(0|[1-9]\d*)(\.\d+)?$/.test(number)) {
        parts.push(text.slice(from, begin), '"', number, '"');
        from = at;
      }
      at--;
    }
    if (values > MOST_CELLS)
      return refuse(
        `It has more than ${MOST_CELLS / 1_000_000} million values; lists of up to that are read.`,
      );
  }
  return { ok: true, value: from ? parts.join('') + text.slice(from) : text };
}

/** Reads JSON, or one JSON record to a line. */
export function parseJson(whole: string): Opened<unknown> {
  const seen = lookedOver(whole);
  if (!seen.ok) return seen;
  const text = seen.value;
  try {
    return { ok: true, value: JSON.parse(text) };
  } catch (error) {
    const lines = text.split('\n').filter((l) => l.trim());
    if (lines.length > 1 && lines[0]!.trim().endsWith('}')) {
      try {
        return { ok: true, value: lines.map((l) => JSON.parse(l)) };
      } catch {
        // Not one record to a line either.
      }
    }
    const at = /position (\d+)/.exec((error as Error).message)?.[1];
    const line = at ? text.slice(0, Number(at)).split('\n').length : null;
    return refuse(
      `The JSON breaks off or is not valid${line ? ` at line ${line}` : ''}. Fetch it again, or ask the supplier.`,
    );
  }
}
