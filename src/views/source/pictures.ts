import { useEffect, useState } from 'react';
import type { SourceRow } from '../../work/catalogue/source-rows';
import { theShop } from '../../work/desk/client';

/** Pictures are asked for once the typing rests. */
const REST = 120;
/** Pictures kept at most. */
const MOST_PICTURES = 2_000;

/** Pictures of the rows that are here, by key: they come after the rows. */
export function usePictures(rows: readonly SourceRow[] | undefined): ReadonlyMap<string, string> {
  const [pictures, setPictures] = useState<ReadonlyMap<string, string>>(new Map());
  useEffect(() => {
    const lacking = (rows ?? []).flatMap((r) => (pictures.has(r.key) ? [] : [r.key]));
    if (!lacking.length) return;
    const timer = setTimeout(async () => {
      const found = await theShop().pictures(lacking);
      setPictures(
        (now) =>
          new Map([
            ...(now.size > MOST_PICTURES ? [] : now),
            ...lacking.map((key) => [key, found.get(key) ?? ''] as const),
          ]),
      );
    }, REST);
    return () => clearTimeout(timer);
  }, [rows, pictures]);
  return pictures;
}
