/** Lower case without accents, so that “Café” is found by “cafe”. */
export function fold(text: string): string {
  return text
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase();
}

/**
 * Cuts at the end of a word so that no more than `limit` characters stay, with trailing punctuation dropped.
 */
export function shortenAtWord(text: string, limit: number): string {
  if ([...text].length <= limit) return text;
  const cut = [...text].slice(0, limit + 1).join('');
  const at = cut.lastIndexOf(' ');
  return (at > 0 ? cut.slice(0, at) : [...text].slice(0, limit).join('')).replace(/[\s,;:–-]+$/, '');
}
