import { hearMarkup } from './markup';

/** Plain formatting only: no links, pictures, styles, classes or handlers survive. */
const ALLOWED = new Set([
  'p',
  'br',
  'ul',
  'ol',
  'li',
  'b',
  'strong',
  'i',
  'em',
  'h3',
  'h4',
  'table',
  'tbody',
  'tr',
  'td',
  'th',
]);

const ESCAPED: Readonly<Record<string, string>> = { '<': '&lt;', '>': '&gt;', '&': '&amp;' };
/** Text as it stands in HTML, its markup characters written as references. */
export const escapeText = (text: string): string => text.replace(/[<>&]/g, (c) => ESCAPED[c]!);

/**
 * A description with everything active taken out; formatting tags stay, without attributes. What comes of it,
 * cleaned again, is the same.
 */
export function cleanHtml(html: string): string {
  const parts: string[] = [];
  hearMarkup(html, {
    text: (text) => parts.push(escapeText(text)),
    tag: (name, closes) => {
      if (ALLOWED.has(name) && !(closes && name === 'br')) parts.push(closes ? `</${name}>` : `<${name}>`);
    },
  });
  return parts.join('').trim();
}

/** Whether cleaning a description would take something out of it. */
export function hasActiveMarkup(html: string): boolean {
  return /<\s*(script|style|iframe|object|embed|svg|math|template|a|img|form|input|link|meta)\b|\son\w+\s*=|javascript:/i.test(
    html,
  );
}

/**
 * What `plainText` would change: markup, references, control and hidden characters, blanks that are not
 * single ones between words.
 */
const NOT_PLAIN =
  // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is looked for
  /[\u0000-\u001f<\u007f-\u00a0\u00ad\u1680\u2000-\u200b\u200e\u200f\u2028-\u202f\u205f-\u2064\u2066-\u206f\u3000\ufeff\ufff9-\ufffb]|&#?\w{1,31};|^[ \u200c\u200d]| [ \u200c\u200d]|[\u200c\u200d] |[ \u200c\u200d]$/;

/**
 * Characters without a width that say nothing in a line of text: marks of direction, soft hyphens, zero-width
 * blanks. Joiners are letters of words and emoji.
 */
const HIDDEN = /[\u00ad\u200b\u200e\u200f\u202a-\u202e\u2060-\u2064\u2066-\u206f\ufeff\ufff9-\ufffb]/g;
// biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is taken out
const BLANK = /[\s\u0000-\u001f\u007f-\u009f\u200c\u200d]+/g;
/** Joiners between letters; beside a blank they join nothing. */
const JOINERS = /^[\u200c\u200d]+$/;

/**
 * One line of text without any markup, for titles and names; what is no markup stays. Text with nothing to
 * take out comes back as it is, quickly.
 */
export function plainText(text: string): string {
  if (!NOT_PLAIN.test(text)) return text;
  let plain = text;
  if (/<|&#?\w{1,31};/.test(text)) {
    const parts: string[] = [];
    hearMarkup(text, { text: (t) => parts.push(t), tag: (name) => !INLINE.has(name) && parts.push(' ') });
    plain = parts.join('');
  }
  return plain
    .replace(HIDDEN, '')
    .replace(BLANK, (run, at: number, whole: string) =>
      JOINERS.test(run) && at > 0 && at + run.length < whole.length ? run : ' ',
    )
    .trim();
}

/** Elements that stand inside a word: between others there is a blank. */
const INLINE = new Set([
  'b',
  'strong',
  'i',
  'em',
  'u',
  's',
  'span',
  'a',
  'font',
  'small',
  'sub',
  'sup',
  'mark',
  'wbr',
  'img',
]);
