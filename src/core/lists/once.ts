/** Texts that are kept because they may come again, and their length. */
export const MOST_KEPT = 10_000;
export const KEPT_LENGTH = 500;

/** Works a text out once where the same ones come again and again: brands, categories, colours. */
export function once<T>(work: (text: string) => T): (text: string) => T {
  const known = new Map<string, T>();
  return (text) => {
    let answer = known.get(text);
    if (answer === undefined) {
      answer = work(text);
      if (known.size < MOST_KEPT && text.length < KEPT_LENGTH) known.set(text, answer);
    }
    return answer;
  };
}
