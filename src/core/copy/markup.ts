import { type Token, Tokenizer, TokenizerMode } from 'parse5';

/** Elements whose content is nothing to read. */
const UNREAD = new Set([
  'script',
  'style',
  'iframe',
  'object',
  'embed',
  'svg',
  'math',
  'template',
  'noscript',
  'noembed',
  'noframes',
  'select',
]);
/** Elements in which a tokenizer finds no tags, so that it must be told of them (HTML Standard, 13.2.6.4). */
const RAW: Readonly<Record<string, (typeof TokenizerMode)[keyof typeof TokenizerMode]>> = {
  script: TokenizerMode.SCRIPT_DATA,
  style: TokenizerMode.RAWTEXT,
  iframe: TokenizerMode.RAWTEXT,
  noembed: TokenizerMode.RAWTEXT,
  noframes: TokenizerMode.RAWTEXT,
  xmp: TokenizerMode.RAWTEXT,
  textarea: TokenizerMode.RCDATA,
  title: TokenizerMode.RCDATA,
};

/**
 * An ampersand that begins no character reference closed by a semicolon: the old ones without it (`&not`,
 * `&copy`) are letters of a text far more often.
 */
const BARE_AMPERSAND = /&(?!#?\w{1,31};)/g;

/** A tag that is opened behind the last `>` is never closed: it is text. */
function withoutOpenEnd(html: string): string {
  const after = html.lastIndexOf('>') + 1;
  return html.indexOf('<', after) < 0
    ? html
    : html.slice(0, after) + html.slice(after).replaceAll('<', '&lt;');
}

export interface Heard {
  text(text: string): void;
  /** A tag outside of what is unread, its name in lower case. */
  tag(name: string, closes: boolean): void;
}

/**
 * Tells text and tags of HTML by the HTML Standard's own tokenizer: a `<` before a blank or a digit is text,
 * as in `< 5 cm`. Comments and the content of what is never read (scripts, styles, pictures drawn in place)
 * are passed over. Linear in the length of the text.
 */
export function hearMarkup(html: string, heard: Heard): void {
  /** The unread element that is open, and how often it is open in itself. */
  let unread: string | null = null;
  let depth = 0;
  const text = ({ chars }: Token.CharacterToken) => {
    if (unread === null) heard.text(chars);
  };
  const nothing = () => {};
  const tokenizer: Tokenizer = new Tokenizer(
    { sourceCodeLocationInfo: false },
    {
      onCharacter: text,
      onWhitespaceCharacter: text,
      onNullCharacter: nothing,
      onComment: nothing,
      onDoctype: nothing,
      onEof: nothing,
      onStartTag: ({ tagName, selfClosing }) => {
        const raw = RAW[tagName];
        if (raw !== undefined && Object.hasOwn(RAW, tagName)) tokenizer.state = raw;
        if (unread === null && UNREAD.has(tagName) && !(selfClosing && raw === undefined)) {
          // An element without an end would take the rest with it.
          if (tagName === 'embed') return;
          unread = tagName;
          depth = 1;
        } else if (unread === tagName) depth++;
        else if (unread === null) heard.tag(tagName, false);
      },
      onEndTag: ({ tagName }) => {
        if (unread === null) heard.tag(tagName, true);
        else if (unread === tagName && --depth === 0) unread = null;
      },
    },
  );
  tokenizer.write(withoutOpenEnd(html.replace(BARE_AMPERSAND, '&amp;')), true);
}
