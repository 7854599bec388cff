import { isForOthers } from '../../connect/address-range';
import { type ListingFileRow, writeListingFile, ZipFile } from '../../connect/files';
import { ownPicture } from '../../core/checks';
import { connectionById, type ListingDocument, type MarketConnection, marketById } from '../../store';
import type { Work } from '../context/work';
import { ownPictureFile } from '../editing/pictures';
import { caughtUp } from '../memory/assortment';
import { waitingFor } from '../outbox/waiting';
import type { FullListing } from '../quoting/full-listing';
import { offered, published, type Told } from '../sending/answered';
import { drafted } from '../sending/leaving';
import { fileName, type WrittenFile } from './market-files';

/** A listing file, with the pictures that have no address elsewhere beside it. */
export interface WrittenListings extends WrittenFile {
  /** The listing file and its pictures; null where none stand beside it. */
  readonly zip: Blob | null;
  readonly zipName: string;
  readonly pictures: {
    /** Named by their address on the web. */
    readonly addresses: number;
    readonly beside: number;
    /** Could not be had; the file leaves them out. */
    readonly missing: readonly string[];
  };
}

/** Hears how many pictures are in the file, and says whether to stop. */
type Tell = (done: number, total: number) => Promise<boolean>;

const FOLDER = 'pictures';

/**
 * Writes all that a shop of files should show, and takes what waited for it as told. Can be written again at any time: it
 * is always the whole. Pictures are named by their address where it works elsewhere; the others, or all where the shop wants
 * files, stand beside it in a zip file. They are fetched first: where that is stopped or fails nothing counts as told.
 * @returns null where there is nothing to show, or it was stopped
 */
export async function listingFile(
  work: Work,
  id: string,
  tell: Tell = async () => false,
): Promise<WrittenListings | null> {
  const { db } = work;
  const c = await marketById(db, id);
  if (!c) return null;
  const columns = c.fileColumns;
  if (columns && !columns.some(({ holds }) => holds.is === 'field' && holds.field === 'sku'))
    throw new RangeError(
      `The listing file of ${c.name} has no column for the SKU, so that its answer could not be matched. Say under “Columns” which one holds it.`,
    );
  const beside = new Beside(work, c.filePictures === 'beside');
  const fetched = async () => beside.fetch(await picturesFor(work, c, await leavingFor(work, c)), tell);
  // Fetching may take minutes: what was edited meanwhile goes into the file, with the pictures that came to it.
  if ((await fetched()) || (await fetched())) return null;
  const leaving = await leavingFor(work, c);
  await published(work, c, leaving, () => ({ ok: true, page: null }));
  await offered(work, c, await waitingFor(db, id, ['offer']), () => null);
  const rows = (await shownOn(work, id)).map(({ full, document }): ListingFileRow => {
    const l = full.listing;
    const { group, title, description, brand, category, gtin, options, tags } = document;
    return {
      sku: l.sku,
      ...{ group, title, description, brand, category, gtin, options, tags },
      pictures: document.pictures.flatMap((name) => beside.named(full.product.supplier, name) ?? []),
      price: l.published!.price,
      quantity: l.state === 'paused' ? 0 : l.published!.quantity,
    };
  });
  if (!rows.length) return null;
  const name = fileName('listings', id, work.clock());
  const text = writeListingFile(rows, c.site.currency, columns);
  return { name, text, rows: rows.length, ...beside.end(name, text) };
}

const leavingFor = async (work: Work, c: MarketConnection) =>
  drafted(work, c, await waitingFor(work.db, c.id, ['publish']));

/** The pictures of all that a shop of files is to show. */
async function picturesFor(work: Work, c: MarketConnection, leaving: readonly Told[]): Promise<Pictured[]> {
  const assortment = await caughtUp(work);
  return [
    ...leaving.flatMap(({ row, document }) => {
      const full = assortment.get(row.body.listing);
      return full ? picturesOf(full, document) : [];
    }),
    ...(await shownOn(work, c.id)).flatMap(({ full, document }) => picturesOf(full, document)),
  ];
}

/** The listings of a shop by files in the order of their SKUs, with their last published state. */
async function shownOn(work: Work, id: string) {
  const shown = [...(await caughtUp(work)).all()]
    .map(([, full]) => full)
    .filter(({ listing: { marketplace, state, published: told } }) =>
      Boolean(marketplace === id && (state === 'live' || state === 'paused') && told),
    )
    .sort((a, b) => (a.listing.sku < b.listing.sku ? -1 : 1));
  const documents = await work.db.documents.bulkGet(shown.map(({ listing }) => listing.id));
  return shown.flatMap((full, k) => {
    const document = documents[k]?.document;
    return document ? [{ full, document }] : [];
  });
}

/** Types of pictures by what their files end with. */
const ENDINGS: Readonly<Record<string, string>> = {
  'image/jpeg': 'jpg',
  'image/png': 'png',
  'image/webp': 'webp',
  'image/gif': 'gif',
  'image/avif': 'avif',
  'image/svg+xml': 'svg',
};
const LARGEST_PICTURE = 20_000_000;
/** Pictures that are asked for side by side. */
const SIDE_BY_SIDE = 6;

/** Pictures of listings, by where they are: named by their address on the web, or put beside the file. */
class Beside {
  private readonly zip = new ZipFile();
  /** The name of a picture in the file; null where the picture is missing. */
  private readonly names = new Map<string, string | null>();
  private readonly counts = { addresses: 0, beside: 0 };
  private readonly missing: string[] = [];

  /** @param all whether those with an address stand beside the file too */
  constructor(
    private readonly work: Work,
    private readonly all: boolean,
  ) {}

  /** The name of a picture in the file; null where the picture is missing. */
  named(supplier: string, path: string): string | null {
    return this.names.get(keyOf(supplier, path)) ?? null;
  }

  /** Fetches what is to stand beside the file, each picture once. @returns whether it was stopped */
  async fetch(pictures: readonly Pictured[], tell: Tell): Promise<boolean> {
    const wanted = new Map<string, Pictured>();
    for (const picture of pictures) {
      const { supplier, path } = picture;
      const key = keyOf(supplier, path);
      if (this.names.has(key) || wanted.has(key)) continue;
      if (this.all || !isForOthers(path)) wanted.set(key, picture);
      else {
        this.names.set(key, path);
        this.counts.addresses++;
      }
    }
    const queue = [...wanted];
    let done = 0;
    let stopped = false;
    const one = async () => {
      for (let next = queue.shift(); next && !stopped; next = queue.shift()) {
        const [key, picture] = next;
        this.names.set(key, await this.add(picture));
        stopped ||= await tell(++done, wanted.size);
      }
    };
    await Promise.all(Array.from({ length: SIDE_BY_SIDE }, one));
    return stopped;
  }

  private async add({ supplier, path, as }: Pictured): Promise<string | null> {
    const file = await this.bytesOf(supplier, path);
    const ending = file && ENDINGS[file.type.split(';')[0]!.trim().toLowerCase()];
    if (!ending || file.size > LARGEST_PICTURE) {
      this.missing.push(as);
      return null;
    }
    const name = `${FOLDER}/${as.replace(/[^\p{L}\p{N}_-]+/gu, '-')}.${ending}`;
    this.zip.bytes(name, new Uint8Array(await file.arrayBuffer()));
    this.counts.beside++;
    return name;
  }

  /** Null where it cannot be had. */
  private async bytesOf(supplier: string, path: string): Promise<Blob | null> {
    const { work } = this;
    if (ownPicture(path)) return ownPictureFile(work, path);
    try {
      const service = path.startsWith('/') && (await connectionById(work.db, supplier))?.service;
      const answer = service
        ? await work.reach(service, path, { signal: AbortSignal.timeout(PATIENCE) })
        : await work.fetchAddress(path, {});
      return answer.ok ? await answer.blob() : null;
    } catch {
      return null;
    }
  }

  end(name: string, text: string): Pick<WrittenListings, 'zip' | 'zipName' | 'pictures'> {
    const { counts, missing, zip } = this;
    const pictures = { ...counts, missing };
    const zipName = name.replace(/csv$/, 'zip');
    if (!counts.beside) return { zip: null, zipName, pictures };
    zip.text(name, `\uFEFF${text}`);
    zip.text('READ ME.txt', WHICH);
    return { zip: zip.end(), zipName, pictures };
  }
}

const PATIENCE = 30_000;
const WHICH = `Pictures in the listing file:
- what begins with "${FOLDER}/" is a file in this folder;
- what begins with "http" is an address on the web.
`;

interface Pictured {
  /** The connection that a path belongs to. */
  readonly supplier: string;
  readonly path: string;
  /** The name of its file without the extension. */
  readonly as: string;
}

const keyOf = (supplier: string, path: string) => `${path.startsWith('/') ? supplier : ''}\n${path}`;

const picturesOf = (full: FullListing, { pictures }: ListingDocument): Pictured[] =>
  pictures.map((path, k) => ({
    supplier: full.product.supplier,
    path,
    as: `${full.listing.sku}-${k + 1}`,
  }));
