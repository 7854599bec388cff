import { ownPicture } from '../../core/checks';
import { photosOf } from '../../core/orders';
import { type DesignRow, dropUnowned, type SampanDatabase } from '../../store';
import type { Work } from '../context/work';

/** A table whose rows refer to files. */
interface Owner {
  /** Calls back with the ids of files that each row names; what can be taken back owns as what stands. */
  readonly each: (db: SampanDatabase, own: (ids: readonly string[]) => void) => PromiseLike<unknown>;
}

const picturesIn = (row: unknown): readonly string[] =>
  ((row as { pictures?: readonly string[] | null } | null)?.pictures ?? []).flatMap(
    (name) => ownPicture(name)?.hash ?? [],
  );

const filesOf = ({ id, small, large }: DesignRow): readonly string[] => [id, small, large];

/** Files of a row of an edit: of a design that is gone, and of what has pictures. */
const filesIn = (table: string, row: unknown): readonly string[] => {
  if (table !== 'designs') return picturesIn(row);
  return row !== null && typeof row === 'object' && 'small' in row ? filesOf(row as DesignRow) : [];
};

/** Everything that owns files. What is new with files of its own is added here. */
const OWNERS: readonly Owner[] = [
  { each: (db, own) => db.products.each((p) => own(picturesIn(p))) },
  { each: (db, own) => db.documents.each(({ document }) => own(picturesIn(document))) },
  {
    each: (db, own) =>
      db.edits
        .filter((e) => e.table !== 'orders')
        .each(({ table, before, after, rows }) => {
          for (const row of [{ before, after }, ...(rows ?? [])])
            own([...filesIn(table, row.before), ...filesIn(table, row.after)]);
        }),
  },
  {
    each: (db, own) => db.orders.each(({ cases }) => own(photosOf(cases))),
  },
  { each: (db, own) => db.designs.each((d) => own(filesOf(d))) },
  { each: (db, own) => db.buyers.each(({ files }) => files && own(files.map((f) => f.id))) },
  // What was sold is made as it was shown, whatever became of the design.
  { each: (db, own) => db.prints.each(({ designs }) => own(designs.map((d) => d.id))) },
];

/** Ids of files that something refers to. Cost: every product, document and edit is looked at once. */
export async function ownedAssets({ db }: Pick<Work, 'db'>): Promise<Set<string>> {
  const owned = new Set<string>();
  for (const { each } of OWNERS)
    await each(db, (ids) => {
      for (const id of ids) owned.add(id);
    });
  return owned;
}

/** Deletes files that nobody owns any more. @returns how many */
export async function dropUnownedAssets(work: Work): Promise<number> {
  if (!(await work.db.assets.count())) return 0;
  return dropUnowned(work.db, await ownedAssets(work), work.clock());
}
