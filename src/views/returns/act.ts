import type { Said } from '../../work/orders/actions';

/** Does something with a return and says how it went. */
export type Act = (doing: Promise<Said>, done: string) => Promise<void>;
