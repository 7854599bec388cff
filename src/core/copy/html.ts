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

/** Whether `plainText` would change nothing: no markup, no control or hidden characters, single blanks between words. */
function isPlainLine(text: string): boolean {
  let before = 32;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c < 32 || c === 60 || c === 127 || (c === 38 && text.indexOf(';', i) > 0)) return false;
    if (c === 32 && before === 32) return false;
    if (c > 127 && (c <= 0xa0 || (c >= 0x2000 && c <= 0x202f) || c === 0x1680 || c === 0x205f || c === 0x3000 || c === 0xfeff)) return false;
    before = c;
  }
  return text.length === 0 || before !== 32;
}

/** One line of text without any markup, for titles and names. Text with nothing to take out comes back as it is, quickly. */
export function plainText(text: string): string {
  if (isPlainLine(text)) return text;
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
