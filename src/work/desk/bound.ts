import { work } from '../browser/browser';
import type { Work } from '../context/work';

/** A function of work as the page asks for it. */
export type Bound<F> = F extends (work: Work, ...args: infer Args) => infer Answer
  ? (...args: Args) => Answer
  : never;

/** Carries out in this worker what a subject does. */
export const bound = <F extends (work: Work, ...args: never[]) => unknown>(act: F): Bound<F> =>
  ((...args: never[]) => act(work, ...args)) as Bound<F>;
