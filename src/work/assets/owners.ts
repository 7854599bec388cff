import { ownPicture } from '../../core/checks';
import { dropUnowned, type SampanDatabase } from '../../store';
import type { Work } from '../context/work';

/** A table whose rows refer to files. */
interface Owner {
  /** Calls back for each row with the pictures that it names; what can be taken back owns as what stands. */
  readonly each: (db: SampanDatabase, own: (names: readonly string[]) => void) => PromiseLike<unknown>;
}

const picturesIn = (row: unknown): readonly string[] =>
  (row as { pictures?: readonly string[] | null } | null)?.pictures ?? [];

/** Everything that owns files. What is new with files of its own is added here. */
const OWNERS: readonly Owner[] = [
  { each: (db, own) => db.products.each((p) => own(picturesIn(p))) },
  { each: (db, own) => db.documents.each(({ document }) => own(picturesIn(document))) },
  {
    each: (db, own) =>
      db.edits
        .filter((e) => e.table !== 'orders')
        .each(({ before, after, rows }) => {
          own([...picturesIn(before), ...picturesIn(after)]);
          for (const row of rows ?? []) own([...picturesIn(row.before), ...picturesIn(row.after)]);
        }),
  },
];

/** Ids of files that something refers to. Cost: every product, document and edit is looked at once. */
export async function ownedAssets({ db }: Pick<Work, 'db'>): Promise<Set<string>> {
  const owned = new Set<string>();
  for (const { each } of OWNERS)
    await each(db, (names) => {
      for (const name of names) {
        const own = ownPicture(name);
        if (own) owned.add(own.hash);
      }
    });
  return owned;
}

/** Deletes files that nobody owns any more. @returns how many */
export async function dropUnownedAssets(work: Work): Promise<number> {
  if (!(await work.db.assets.count())) return 0;
  return dropUnowned(work.db, await ownedAssets(work), work.clock());
}
