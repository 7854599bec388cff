import { fold } from '../copy';

/** Whose fault a return is, as far as its reason says. */
export const FAULTS = ['supplier', 'carrier', 'buyer', 'seller'] as const;
export type Fault = (typeof FAULTS)[number];

/** Why something comes back, in the seller's own list. */
export interface Reason {
  readonly id: string;
  readonly name: string;
  readonly fault: Fault;
}

/** The list that a seller starts with. The last one stands for whatever is not understood. */
export const USUAL_REASONS: readonly Reason[] = [
  { id: 'changed mind', name: 'Changed their mind', fault: 'buyer' },
  { id: 'faulty', name: 'Faulty', fault: 'supplier' },
  { id: 'damaged', name: 'Damaged on the way', fault: 'carrier' },
  { id: 'wrong goods', name: 'Wrong goods', fault: 'supplier' },
  { id: 'not as described', name: 'Not as described', fault: 'seller' },
  { id: 'not received', name: 'Not received', fault: 'carrier' },
  { id: 'undeliverable', name: 'Undeliverable', fault: 'carrier' },
  { id: 'other', name: 'Another reason', fault: 'seller' },
];

const words = (text: string): string =>
  fold(text)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/**
 * The reason that a marketplace's word stands for: by id, by name, or where one holds the other; else the last of the
 * list.
 * @example reasonFor(USUAL_REASONS, 'WRONG_GOODS').id // 'wrong goods'
 */
export function reasonFor(reasons: readonly Reason[], said: string): Reason {
  const text = words(said);
  const own = reasons.map((r) => ({ r, names: [words(r.id), words(r.name)] }));
  const found =
    own.find(({ names }) => names.includes(text)) ??
    (text
      ? own.find(({ names }) =>
          names.some((n) => n && (` ${text} `.includes(` ${n} `) || ` ${n} `.includes(` ${text} `))),
        )
      : undefined);
  return found?.r ?? reasons.at(-1) ?? USUAL_REASONS.at(-1)!;
}

/** A reason by its id; one that was taken out of the list is told by the id. */
export const reasonById = (reasons: readonly Reason[], id: string): Reason =>
  reasons.find((r) => r.id === id) ?? { id, name: id, fault: 'seller' };
