/** Elements that never hold anything. */
const EMPTY = new Set(['br']);

/**
 * A cleaned description cut so that it has no more than `limit` characters: between words where it must be, with every
 * element closed again. What is short enough comes back as it is.
 */
export function shortenHtml(html: string, limit: number): string {
  if (html.length <= limit) return html;
  const open: string[] = [];
  let length = 0;
  const kept: string[] = [];
  const closers = () => open.reduce((n, name) => n + name.length + 3, 0);
  for (const part of html.match(/<[^>]*>|[^<]+/g) ?? []) {
    const [, closes, name] = /^<(\/?)(\w+)>$/.exec(part) ?? [];
    if (!name) {
      const room = limit - length - closers();
      if (part.length <= room) {
        kept.push(part);
        length += part.length;
        continue;
      }
      const at = part.lastIndexOf(' ', room);
      // A reference such as &amp; is never cut in two.
      if (room > 0 && at > 0) kept.push(part.slice(0, at).replace(/&\w*$/, '').trimEnd());
      break;
    }
    if (closes) {
      if (open.at(-1) !== name) continue;
      open.pop();
      kept.push(part);
      length += part.length;
      continue;
    }
    const needs = part.length + (EMPTY.has(name) ? 0 : name.length + 3);
    if (length + needs + closers() > limit) break;
    if (!EMPTY.has(name)) open.push(name);
    kept.push(part);
    length += part.length;
  }
  const text =
    kept.join('') +
    open
      .reverse()
      .map((name) => `</${name}>`)
      .join('');
  // What was opened last may hold nothing.
  let whole = text;
  for (let next = bare(whole); next !== whole; next = bare(whole)) whole = next;
  return whole;
}

const bare = (html: string) => html.replace(/<(\w+)>\s*<\/\1>/g, '');
