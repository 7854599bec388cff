import { FilterXSS } from 'xss';

const NOTHING: string[] = [];
/** Plain formatting only: no links, pictures, styles, classes or handlers survive. */
const allowed = Object.fromEntries(
  ['p', 'br', 'ul', 'ol', 'li', 'b', 'strong', 'i', 'em', 'h3', 'h4', 'table', 'tbody', 'tr', 'td', 'th'].map((tag) => [tag, NOTHING]),
);

const cleaner = new FilterXSS({
  whiteList: allowed,
  stripIgnoreTag: true,
  stripIgnoreTagBody: ['script', 'style', 'iframe', 'object', 'embed', 'svg', 'math', 'template', 'noscript'],
  allowCommentTag: false,
});

const bare = new FilterXSS({
  whiteList: {},
  stripIgnoreTag: true,
  stripIgnoreTagBody: ['script', 'style', 'iframe', 'svg', 'template'],
});

/** A description with everything active taken out; formatting tags stay, without attributes. */
export function cleanHtml(html: string): string {
  return cleaner.process(html).trim();
}

/** Whether cleaning a description would take something out of it. */
export function hasActiveMarkup(html: string): boolean {
  return /<\s*(script|style|iframe|object|embed|svg|math|template|a|img|form|input|link|meta)\b|\son\w+\s*=|javascript:/i.test(html);
}

const ENTITIES: Record<string, string> = { '&lt;': '<', '&gt;': '>', '&amp;': '&', '&quot;': '"', '&#39;': "'", '&nbsp;': ' ' };

/** What `plainText` would change: markup, control and hidden characters, blanks that are not single ones between words. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is looked for
const NOT_PLAIN = /[\u0000-\u001f<\u007f-\u00a0\u1680\u2000-\u202f\u205f\u3000\ufeff]|&.*;|^ | {2}| $/;

/** One line of text without any markup, for titles and names. Text with nothing to take out comes back as it is, quickly. */
export function plainText(text: string): string {
  if (!NOT_PLAIN.test(text)) return text;
  return (
    bare
      .process(text)
      .replace(/&(lt|gt|amp|quot|nbsp|#39);/g, (e) => ENTITIES[e]!)
      // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is taken out
      .replace(/[\u0000-\u001f\u007f\u200b-\u200f\u202a-\u202e\ufeff]+/g, ' ')
      .replace(/\s+/g, ' ')
      .trim()
  );
}
