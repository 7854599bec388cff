import { type SampanDatabase, unpackRows } from '@/store';

/** Names of the tables that hold one of some texts anywhere, in whatever spelling; packed rows are unpacked. */
export async function tablesWith(db: SampanDatabase, texts: readonly string[]): Promise<string[]> {
  const wanted = texts.filter(Boolean).map((t) => t.toLowerCase());
  const found: string[] = [];
  for (const table of db.tables)
    for (const row of await table.toArray()) {
      const plain = 'packed' in row ? unpackRows(row, [...row.ends.keys()]) : row;
      const text = JSON.stringify(plain).toLowerCase();
      if (wanted.some((w) => text.includes(w)) && !found.includes(table.name)) found.push(table.name);
    }
  return found.sort();
}
