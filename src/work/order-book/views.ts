import { KINDS } from '../../core/fields';
import { problemInWords, problemsOf, readCondition } from '../../core/query';
import { applyChange, type SavedView, settingsOf } from '../../store';
import { nowOf, type Work } from '../context/work';

/** Views kept at most: they stand side by side above the list. */
const MOST_VIEWS = 24;
const LONGEST_NAME = 40;

/** Changes the views as one change that can be taken back. */
async function setViews(
  work: Work,
  name: string,
  change: (views: readonly SavedView[]) => readonly SavedView[],
): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const { orderViews = [] } = await settingsOf(db);
    const set = { orderViews: change(orderViews) };
    await applyChange(
      db,
      { by: 'person', name, undoable: true },
      [{ table: 'settings', id: 'shop', set }],
      nowOf(work),
    );
  });
}

/** Keeps a search of Orders under a name; one of the same name is replaced where it stands. */
export async function saveOrderView(
  work: Work,
  { name, query, sort }: { readonly name: string; readonly query: string; readonly sort: string },
): Promise<{ ok: true } | { ok: false; reason: string }> {
  const view: SavedView = {
    name: name.trim().slice(0, LONGEST_NAME),
    when: readCondition(query, KINDS.order),
    sort,
  };
  if (!view.name) return { ok: false, reason: 'A view needs a name.' };
  const [problem] = problemsOf(view.when, KINDS.order);
  if (problem) return { ok: false, reason: problemInWords(problem) };
  const { orderViews = [] } = await settingsOf(work.db);
  const isSame = (v: SavedView) => v.name === view.name;
  if (orderViews.length >= MOST_VIEWS && !orderViews.some(isSame))
    return { ok: false, reason: `${MOST_VIEWS} views are kept at most: forget one first.` };
  await setViews(work, `Keep the view “${view.name}”`, (views) =>
    views.some(isSame) ? views.map((v) => (isSame(v) ? view : v)) : [...views, view],
  );
  return { ok: true };
}

export const forgetOrderView = (work: Work, name: string): Promise<void> =>
  setViews(work, `Forget the view “${name}”`, (views) => views.filter((v) => v.name !== name));
