import { ownPicture, ownPictureName } from '../../core/checks';
import { applyChange, keepAsset, readAsset } from '../../store';
import { nowOf, type Work } from '../context/work';
import { type Queued, queueChanges } from '../listings/publish';
import { caughtUp } from '../memory/assortment';
import { picturesOf, productTitle } from '../quoting/copy';
import { isOnBench } from '../quoting/listing-standing';
import { applyCells } from './bulk-edit';

/** A picture as it was read: as it will be sent. */
export interface ReadPicture {
  readonly file: Blob;
  readonly name: string;
  readonly width: number;
  readonly height: number;
}

/** Keeps a picture, once however often it is used. @returns its name among pictures */
async function keepPicture({ db, clock }: Work, picture: ReadPicture): Promise<string> {
  const { file, name, width, height } = picture;
  const hash = await keepAsset(db, file, { kind: 'picture', name, at: clock() });
  return ownPictureName({ width, height, hash, fitted: false });
}

/**
 * Puts pictures of our own behind those of a listing's product, as one change that marketplaces are told of.
 * @param instead the picture in whose place the first one goes, where it was made of that
 */
export async function addPictures(
  work: Work,
  listing: string,
  pictures: readonly ReadPicture[],
  instead: string | null = null,
): Promise<string | null> {
  const names: string[] = [];
  for (const picture of pictures) names.push(await keepPicture(work, picture));
  const full = (await caughtUp(work)).get(listing);
  if (!full) return 'This listing is not there any more.';
  const before = picturesOf(full.product);
  const now = instead ? before.flatMap((name) => (name === instead ? names : [name])) : [...before, ...names];
  const text = [...new Set(now)].join('\n');
  const done = await applyCells(work, [{ listing, field: 'pictures', text }], 'Pictures');
  const refused = done.refusedCells[0]?.reason ?? null;
  // What it shows is what it was made of shows.
  const alt = instead && full.product.alts?.[instead];
  if (alt && !refused) await describePicture(work, full.product.id, names[0]!, alt);
  return refused;
}

/** The bytes of a picture of our own in the size that its name says; null where they are not in this browser. */
export async function ownPictureFile(
  { db, fitPicture }: Pick<Work, 'db' | 'fitPicture'>,
  name: string,
): Promise<Blob | null> {
  const own = ownPicture(name);
  const asset = own && (await readAsset(db, own.hash));
  if (!asset) return null;
  return own.fitted ? fitPicture(asset.file, own.width, own.height) : asset.file;
}

/** Says in words what a picture shows, for buyers who do not see it; '' for nothing. */
export async function describePicture(
  work: Work,
  product: string,
  name: string,
  text: string,
): Promise<Queued> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const all = assortment.rowsAt(assortment.ofProducts([product]));
    const [first] = all;
    if (!first) return { sent: 0, lacking: 0 };
    const { [name]: _, ...others } = first.product.alts ?? {};
    const said = text.trim().slice(0, 250);
    const alts = said ? { ...others, [name]: said } : others;
    await applyChange(
      db,
      { by: 'person', name: `Picture of ${productTitle(first.product)} described` },
      [
        { table: 'products', id: product, set: { alts }, says: 'A picture was described.' },
        ...all.flatMap(({ listing }) =>
          isOnBench(listing) && listing.approvedAt !== null
            ? [{ table: 'listings', id: listing.id, set: { approvedAt: null } } as const]
            : [],
        ),
      ],
      nowOf(work),
    );
    return queueChanges(
      work,
      all.map((f) => f.listing.id),
    );
  });
}
