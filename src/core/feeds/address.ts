import type { FeedMark } from './form';

/** A mark is letters, digits, points, lines and dashes, as addresses take them without escapes. */
const PLAIN = /^[\w.-]{1,40}$/;

/** Why a mark cannot be used; null where it can. */
export function markProblem({ parameter, value }: FeedMark): string | null {
  if (!PLAIN.test(parameter)) return 'The parameter of the mark has letters, digits, - and _, 40 at most.';
  if (!PLAIN.test(value)) return 'The mark has letters, digits, - and _, 40 at most.';
  return null;
}

/** An address of a page with the mark of a feed in it. What is no address stays as it is, and is told by the checks. */
export function markedAddress(address: string, mark: FeedMark | null): string {
  if (!mark || !URL.canParse(address)) return address;
  const url = new URL(address);
  url.searchParams.set(mark.parameter, mark.value);
  return url.href;
}
