import { ZipFile } from '../../connect/files';
import { isFor, livingIn, type Purchase } from '../../core/orders';
import { readWords } from '../../core/personal';
import { fieldsIn, isPersonal } from '../../core/print';
import { buyersByOrder, type Order, orderById } from '../../store';
import type { Work } from '../context/work';
import { DesignFiles } from '../print/jobs';
import { personalFiles, printedItem } from '../print/prints';

/** A print file of a line, as a maker without a service gets it. */
export interface LineFile {
  readonly name: string;
  readonly file: Blob;
}

/** Names that every file system takes. */
const plainName = (text: string): string => text.replace(/[^\w.-]+/g, '-').slice(0, 60);

/**
 * Makes the print files of purchases, named by order and line, by purchase and line (`<reference> <line>`). Each as it was
 * approved or shown. @throws in a person's words, where one cannot be made: then nothing is to be sent
 */
export async function filesOfPurchases(
  work: Work,
  some: readonly { readonly order: Order; readonly purchase: Purchase }[],
): Promise<ReadonlyMap<string, readonly LineFile[]>> {
  const made = new Map<string, readonly LineFile[]>();
  const printed = some.filter(({ purchase }) => purchase.lines.some((l) => l.print));
  const buyers = await buyersByOrder(
    work.db,
    printed.map(({ order }) => order),
  );
  const files = new DesignFiles(work);
  for (const { order, purchase } of printed)
    for (const [k, l] of purchase.lines.entries()) {
      if (!l.print || livingIn(purchase, l) === 0) continue;
      const known = await printedItem(work, l.print, purchase.supplier, l.item);
      if (!known)
        throw new Error(`It is not known any more what is printed on ${l.item} of ${order.number}.`);
      const { plan } = known.print;
      const approved = order.lines.find((one) => one.id === l.line)?.proof?.approved;
      const text = l.personalisation === null ? undefined : buyers.get(order.id)?.texts[l.personalisation];
      if (isPersonal(plan) && (!approved || text === undefined))
        throw new Error(`The proof of ${order.number} is not approved.`);
      const values = isPersonal(plan) ? readWords(text ?? '', fieldsIn(plan)).values : null;
      const own = await personalFiles(work, known, values, files);
      const other = own.find(({ area, hash }) => approved && approved.files[area] !== hash);
      if (other)
        throw new Error(`${order.number} came out otherwise than it was approved. Approve its proof again.`);
      made.set(
        `${purchase.reference} ${l.line}`,
        own.map(({ area, file }) => ({
          name: `${plainName(order.number)}-${k + 1}-${plainName(area)}.png`,
          file,
        })),
      );
    }
  return made;
}

/** Packs files beside each other. */
export async function packFiles(
  some: Iterable<readonly LineFile[]>,
  texts: Readonly<Record<string, string>> = {},
): Promise<Blob> {
  const zip = new ZipFile();
  for (const [name, text] of Object.entries(texts)) zip.text(name, text);
  const names = new Set<string>();
  for (const own of some)
    for (const { name, file } of own) {
      if (names.has(name)) continue;
      names.add(name);
      zip.bytes(`print-files/${name}`, new Uint8Array(await file.arrayBuffer()));
    }
  return zip.end();
}

/** The print files of a purchase that a person places by hand, as one zip. */
export async function printsToPlace(
  work: Work,
  id: string,
  supplier: string,
  reference: string,
): Promise<
  | { readonly ok: true; readonly name: string; readonly file: Blob }
  | { readonly ok: false; readonly reason: string }
> {
  const order = await orderById(work.db, id);
  const purchase = order?.purchases.find((p) => isFor(p, supplier, reference));
  if (!order || !purchase) return { ok: false, reason: 'This purchase is not known any more.' };
  try {
    const files = await filesOfPurchases(work, [{ order, purchase }]);
    if (!files.size) return { ok: false, reason: 'Nothing of it is printed to order.' };
    return {
      ok: true,
      name: `print-files-${plainName(order.number)}.zip`,
      file: await packFiles(files.values()),
    };
  } catch (error) {
    return { ok: false, reason: (error as Error).message };
  }
}
