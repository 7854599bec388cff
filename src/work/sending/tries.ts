import type { Trouble } from '../../connect/reach';
import type { OutboxRow } from '../../store';

/** Tries after which an answer that tells nothing is taken for a no, where a person can simply send it again. */
export const MOST_TRIES = 5;

/**
 * Whether asking again is of no use: the other side itself refused, or what stands between never lets a
 * listing through. Nothing of an order is given up.
 */
export const isFinal = (trouble: Trouble, row: OutboxRow) =>
  trouble.kind === 'refused' ||
  (trouble.kind === 'stray' && row.kind === 'publish' && row.attempts + 1 >= MOST_TRIES);
