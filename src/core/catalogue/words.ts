import { fold } from '../copy';

/** A word is a run of letters and digits; accents are folded away, case too. */
export function eachWord(text: string, tell: (word: string) => void): void {
  // A new string is looked through several times as quickly as a part of a long one.
  const low = text.toLowerCase();
  let start = -1;
  for (let i = 0; i <= low.length; i++) {
    const c = i < low.length ? low.charCodeAt(i) : 0;
    if (c > 127) {
      // The words told so far are the same when folded.
      const from = start < 0 ? i : start;
      for (const word of fold(low.slice(from)).split(/[^\p{L}\p{N}]+/u)) if (word) tell(word);
      return;
    }
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
