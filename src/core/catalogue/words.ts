import { fold } from '../copy';

const isPlain = (text: string) => {
  for (let i = 0; i < text.length; i++) if (text.charCodeAt(i) > 127) return false;
  return true;
};

/** A word is a run of letters and digits; accents are folded away, case too. */
export function eachWord(text: string, tell: (word: string) => void): void {
  if (!isPlain(text)) {
    for (const word of fold(text).split(/[^\p{L}\p{N}]+/u)) if (word) tell(word);
    return;
  }
  const low = text.toLowerCase();
  let start = -1;
  for (let i = 0; i <= low.length; i++) {
    const c = i < low.length ? low.charCodeAt(i) : 0;
    const inside = (c > 96 && c < 123) || (c > 47 && c < 58);
    if (inside) {
      if (start < 0) start = i;
    } else if (start >= 0) {
      tell(low.slice(start, i));
      start = -1;
    }
  }
}

export function wordsOf(text: string): string[] {
  const words: string[] = [];
  eachWord(text, (word) => words.push(word));
  return words;
}
