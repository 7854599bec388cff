/** `1234567` → `1,234,567`. */
export function formatCount(n: number): string {
  return String(Math.abs(n))
    .replace(/\B(?=(\d{3})+$)/g, ',')
    .replace(/^/, n < 0 ? '−' : '');
}

/** `1 order`, `3 orders`. */
export function countOf(n: number, one: string, many = `${one}s`): string {
  return `${formatCount(n)} ${n === 1 ? one : many}`;
}

/** `450 g`, `1.25 kg`. */
export function formatGrams(grams: number | null): string {
  if (grams === null) return 'not known';
  return grams < 1000 ? `${grams} g` : `${String(grams / 1000)} kg`;
}
