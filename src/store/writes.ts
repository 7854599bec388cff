import Dexie, { type ObservabilitySet, RangeSet, rangesOverlap } from 'dexie';
import type { SampanDatabase } from './database';

/** A table, or those of its rows whose ids begin with a text. */
export type Watched = string | readonly [table: string, beginning: string];

const LAST_CHARACTER = '￿';

/**
 * Calls back after each committed write to what is watched, in this or another tab or worker. Nothing is read to find
 * out: what wrote tells its keys.
 * @returns ends it
 */
export function onWrites(db: SampanDatabase, watched: readonly Watched[], heard: () => void): () => void {
  const whole = watched.filter((w) => typeof w === 'string').map((table) => `idb://${db.name}/${table}/`);
  const parts = watched.flatMap((w) =>
    typeof w === 'string'
      ? []
      : ([[`idb://${db.name}/${w[0]}/`, new RangeSet(w[1], w[1] + LAST_CHARACTER)]] as const),
  );
  const listen = (written: ObservabilitySet & { readonly all?: object }) => {
    const touched =
      written.all !== undefined ||
      Object.keys(written).some((key) => whole.some((table) => key.startsWith(table))) ||
      parts.some(([table, range]) => written[table] && rangesOverlap(range, written[table]));
    if (touched) heard();
  };
  Dexie.on.storagemutated.subscribe(listen);
  return () => Dexie.on.storagemutated.unsubscribe(listen);
}
