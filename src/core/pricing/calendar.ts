import { type Instant, instantOf } from '../units';

/** What holds between two local times of a marketplace; null for no beginning, or no end. */
export interface Span {
  readonly from: string | null;
  readonly to: string | null;
}

const known = new Map<string, number | null>();

/** The instant of a local time in a zone, looked up once; null for what is no time. */
function instantIn(local: string, zone: string): Instant | null {
  const key = `${zone} ${local}`;
  let at = known.get(key);
  if (at === undefined) {
    at = instantOf(local, zone);
    known.set(key, at);
  }
  return at;
}

/** Whether a span holds at an instant, its end not counted. A time that cannot be read holds never. */
export function isWithin({ from, to }: Span, at: Instant, zone: string): boolean {
  const begins = from === null ? Number.NEGATIVE_INFINITY : instantIn(from, zone);
  const ends = to === null ? Number.POSITIVE_INFINITY : instantIn(to, zone);
  return begins !== null && ends !== null && begins <= at && at < ends;
}

/** The first instant after one at which a span begins or ends; null where none is left. */
export function nextBoundary({ from, to }: Span, at: Instant, zone: string): Instant | null {
  const all = [from, to].flatMap((local) => (local === null ? [] : (instantIn(local, zone) ?? [])));
  const later = all.filter((one) => one > at);
  return later.length ? Math.min(...later) : null;
}

/** What is wrong with a span, or null. */
export function spanProblem({ from, to }: Span): string | null {
  for (const local of [from, to])
    if (local !== null && instantOf(local, 'UTC') === null) return `“${local}” is not a date and time.`;
  return from !== null && to !== null && to <= from ? 'It ends before it begins.' : null;
}
