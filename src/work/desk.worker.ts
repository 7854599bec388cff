import { expose } from 'comlink';
import { work } from './browser';
import { CatalogueDesk } from './catalogue';
import { whatIf } from './whatif';

/** What a tab asks of its worker: everything that looks at many items at once. */
const desk = new CatalogueDesk(work);
const api = {
  search: desk.search.bind(desk),
  look: desk.look.bind(desk),
  take: desk.take.bind(desk),
  whatIf: (...args: Parameters<typeof whatIf> extends [unknown, ...infer Rest] ? Rest : never) => whatIf(work, ...args),
};
export type DeskApi = typeof api;
expose(api);
