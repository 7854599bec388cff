/** How the numbers of a carrier look that has no check digit of a standard: `#` is a digit, `@` a letter. */
export interface NumberShape {
  readonly carrier: string;
  readonly shape: string;
}

const SIGNS: Readonly<Record<string, string>> = { '#': '\\d', '@': '[A-Z]' };
/** Signs of a number at least, and of those digits or letters that are not always the same. */
const SHORTEST = 8;
const LEAST_FREE = 4;

/** What is wrong with a shape, or null. A shape that fits whatever is typed would find numbers everywhere. */
export function shapeProblem({ carrier, shape }: NumberShape): string | null {
  if (!carrier.trim()) return 'Which carrier numbers them so?';
  if (!/^[A-Z0-9#@-]{1,40}$/i.test(shape))
    return 'A shape has letters, digits and hyphens as they are, # for a digit and @ for a letter.';
  if (shape.length < SHORTEST) return `A number has at least ${SHORTEST} signs.`;
  return [...shape].filter((s) => s in SIGNS).length < LEAST_FREE
    ? `At least ${LEAST_FREE} signs are # or @: the others are the same in every number.`
    : null;
}

const patternOf = (shape: string): string =>
  [...shape.toUpperCase()].map((s) => SIGNS[s] ?? s.replace('-', '\\-')).join('');

/** The carrier whose numbers look like this one; null for none. @param number without spaces, in capitals */
export const carrierByShape = (number: string, shapes: readonly NumberShape[]): string | null =>
  shapes.find((s) => shapeProblem(s) === null && new RegExp(`^${patternOf(s.shape)}$`).test(number))
    ?.carrier ?? null;

/** Where numbers of some shapes stand in a text, written with or without blanks. */
export function shapesIn(
  text: string,
  shapes: readonly NumberShape[],
): { readonly raw: string; readonly at: number }[] {
  return shapes.flatMap((s) => {
    if (shapeProblem(s) !== null) return [];
    const loose = [...s.shape.toUpperCase()].map((c) => SIGNS[c] ?? c.replace('-', '\\-')).join(' ?');
    return [...text.matchAll(new RegExp(`(?<![A-Z0-9])${loose}(?![A-Z0-9])`, 'gi'))].map((m) => ({
      raw: m[0],
      at: m.index,
    }));
  });
}
