/** Invisible signs: zero-width ones, and those that turn the direction of what follows. */
const UNSEEN = /[\u00AD\u200B-\u200F\u202A-\u202E\u2060-\u2069\uFEFF]/g;
const CONTROL = /[^\P{Cc}\n]/gu;

/**
 * A buyer's words as they can be set: one way of composing letters (Unicode normal form C), one kind of line break, no
 * sign that is not seen, no empty lines around them.
 */
export const settable = (text: string): string =>
  text
    .normalize('NFC')
    .replace(/\r\n?|[\u0085\u2028\u2029]/g, '\n')
    .replace(/\t/g, ' ')
    .replace(CONTROL, '')
    .replace(UNSEEN, '')
    .replace(/[^\S\n]+/g, ' ')
    .replace(/ ?\n ?/g, '\n')
    .trim();

const graphemes = new Intl.Segmenter('en', { granularity: 'grapheme' });

/** Characters as people count them: a letter with its accents is one. */
export const charactersOf = (text: string): string[] => Array.from(graphemes.segment(text), (s) => s.segment);

/** For comparing names of fields, choices and places: case, accents and what is no letter or digit do not count. */
export const comparable = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
