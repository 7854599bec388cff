import { readTable, readText, writeWorkbook } from '../../../connect/files';
import { type Encoding, writeDelimited } from '../../../core/lists';
import type { Listing } from '../../../store';
import { work } from '../../browser/browser';
import {
  type Applied,
  applyCells,
  type BulkEdit,
  type EditPreview,
  type PreviewedChange,
  previewEdit,
  shareText,
  writeFor,
} from '../../editing/bulk-edit';
import { type Cell, liveElsewhere, type RefusedCell, weighCells } from '../../editing/cells';
import { type EditedFile, editRows, readEdits } from '../../editing/edits-file';
import { keptSheet, readSheet, takeSheet } from '../../editing/keyword-sheet';
import { priceRows } from '../../editing/price-file';
import { whatIfTerms } from '../../pricing/what-if';
import { type FieldId, fieldOf, isOfPrice } from '../../quoting/listing-cells';
import { marketOf } from '../../quoting/worth';
import { bound } from '../bound';
import { AT_ONCE, assortment, built, meantBy, rest, type Where } from '../memory';

/** The preview of an edit without its rows. */
export interface PreviewInShort extends Pick<EditPreview, 'name' | 'unchanged' | 'shared' | 'nothing'> {
  readonly id: number;
  /** Listings that were meant. */
  readonly listings: number;
  readonly changes: number;
  /** Of them on sale. */
  readonly live: number;
  readonly refused: number;
  readonly firstRefused: readonly (RefusedCell & { readonly sku: string; readonly market: string })[];
  /** Changes that are asked about, and the first of them. */
  readonly asked: number;
  readonly firstAsked: readonly PreviewedChange[];
}

/** The last preview of an edit. */
let preview: (EditPreview & { readonly id: number }) | null = null;

/** Rows of a kind told one by one. */
const FIRST = 20;

/** Keeps a preview until the next one, and tells of it in short. */
function keep(made: EditPreview, listings: number): PreviewInShort {
  preview = { id: (preview?.id ?? 0) + 1, ...made };
  const { changes, refused, ...rest } = preview;
  return {
    ...rest,
    listings,
    changes: changes.length,
    live: changes.filter((c) => c.live).length,
    refused: refused.length,
    firstRefused: refused.slice(0, FIRST).map((cell) => {
      const full = assortment.get(cell.listing);
      return {
        ...cell,
        sku: full?.listing.sku ?? cell.listing,
        market: (full && marketOf(assortment.shop, full.listing.marketplace)?.name) ?? '',
      };
    }),
    asked: changes.filter((c) => c.asks).length,
    firstAsked: changes.filter((c) => c.asks).slice(0, FIRST),
  };
}

/** The preview of a file that was edited elsewhere, or the reason why it cannot be read. */
export type PreviewedFile =
  | ({
      readonly ok: true;
      readonly stamped: boolean;
      /** The line in which it breaks off; null where it does not. */
      readonly brokenAt: number | null;
      /** Cells that are empty there and not here. */
      readonly emptied: number;
      /** How its text was read, and whether that is no guess; null of a workbook. */
      readonly encoding: Encoding | null;
      readonly sure: boolean;
      /** Rows and cells that are not asked for, and the first of them. */
      readonly notTaken: number;
      readonly firstNotTaken: EditedFile['refused'];
    } & PreviewInShort)
  | { readonly ok: false; readonly reason: string };

/** How often an export was begun or stopped. */
let exporting = 0;

/** Edits of many rows, on the Bench, in Listings and in files: previewed, then carried out. */
export const editingDesk = {
  proposeText: async (listing: string, field: 'title' | 'tags') => {
    await built();
    const full = assortment.get(listing);
    return full && writeFor(full, assortment.shop, field);
  },
  /**
   * Listings as a file to be edited elsewhere. @param tell hears how many are written @returns null where it was stopped, or
   * another one was asked for meanwhile
   */
  editFile: async (where: Where, form: 'csv' | 'xlsx', tell: (done: number, total: number) => void) => {
    await built();
    const own = ++exporting;
    const rows = editRows(assortment, meantBy(where), work.clock());
    const file =
      form === 'csv'
        ? new Blob([`\uFEFF${writeDelimited(rows)}`])
        : await writeWorkbook(rows, async (done) => {
            tell(done, rows.length);
            await rest();
            return own !== exporting;
          });
    return file && { file, rows: rows.length - 1 };
  },
  /** Text of a file that comes in, with how it was read. */
  textOf: (file: File, encoding: Encoding | null) => readText(file, file.name, encoding ?? undefined),
  stopExport: () => {
    exporting++;
  },
  /** Listings with every input of their prices and every line of the sum, to be worked out again. */
  priceFile: async (where: Where) => {
    await built();
    const rows = priceRows(assortment, meantBy(where));
    return { file: new Blob([`\uFEFF${writeDelimited(rows)}`]), rows: rows.length - 1 };
  },
  /**
   * Weighs a file that was edited elsewhere; kept like another preview. @param how the encoding of its text, where that is not
   * the guessed one; whether its empty cells empty their fields
   */
  previewFile: async (
    file: File,
    how: { readonly encoding: Encoding | null; readonly emptying: boolean },
  ): Promise<PreviewedFile> => {
    await built();
    await assortment.catchUp();
    const table = await readTable(file, file.name, how.encoding ?? undefined);
    const read = table.ok ? readEdits(assortment, table.value) : table;
    if (!table.ok) return table;
    if (!read.ok) return read;
    const { cells, emptied, refused, rows, stamped, brokenAt } = read.file;
    const all = how.emptying ? [...cells, ...emptied] : cells;
    return {
      ok: true,
      ...keep(
        previewEdit(assortment, [], { is: 'cells', cells: all, name: `Edited in ${file.name.slice(0, 80)}` }),
        rows,
      ),
      stamped,
      brokenAt,
      emptied: emptied.length,
      encoding: table.value.encoding,
      sure: table.value.sure,
      notTaken: refused.length,
      firstNotTaken: refused.slice(0, 50),
    };
  },
  /** Why a typed cell cannot be; null where it can. */
  checkCell: async (cell: Cell) => {
    await built();
    return weighCells(assortment, [cell]).refused[0]?.reason ?? null;
  },
  readSheet: async (text: string, emptying: boolean) => {
    await built();
    return readSheet(assortment, text, emptying);
  },
  keptSheet: async (most: number) => {
    await built();
    await assortment.catchUp();
    return keptSheet(assortment, most);
  },
  /** Previews an edit of rows of the Bench or of Listings. It is kept until the next one. */
  previewEdit: async (where: Where, edit: BulkEdit): Promise<PreviewInShort> => {
    await built();
    await assortment.catchUp();
    const ids = meantBy(where);
    return keep(previewEdit(assortment, ids, edit), ids.length);
  },
  /** A window of what was previewed; empty where another one came after it. */
  previewRows: async (q: { id: number; offset: number; limit: number }) => {
    const changes = preview?.id === q.id ? preview.changes : [];
    return { matches: changes.length, rows: changes.slice(q.offset, q.offset + q.limit) };
  },
  /** The effect of the previewed edit on prices; null where no price depends on it. */
  previewAhead: async (id: number) => {
    await built();
    if (preview?.id !== id || !preview.changes.some((c) => isOfPrice(c.field))) return null;
    const sets = new Map<string, Partial<Listing>>();
    for (const { listing, field, text } of preview.changes) {
      const full = assortment.get(listing);
      const part = full && fieldOf(field, assortment.shop).write(text, full, assortment.shop);
      if (part?.ok && part.value.listing) sets.set(listing, { ...sets.get(listing), ...part.value.listing });
    }
    return sets.size ? whatIfTerms(work, { listings: sets }) : null;
  },
  /** Listings on sale on other marketplaces that cells of shared fields would change too. */
  liveElsewhere: async (cells: readonly Cell[]) => {
    await built();
    return liveElsewhere(assortment, cells);
  },
  /** The choices of a field of some listings; empty for free text. */
  choicesFor: async (where: Where, field: FieldId) => {
    await built();
    const { choices } = fieldOf(field, assortment.shop);
    if (!choices) return [];
    const found = new Set<string>();
    for (const id of meantBy(where).slice(0, AT_ONCE)) {
      const full = assortment.get(id);
      if (full) for (const one of choices(full, assortment.shop)) found.add(one);
    }
    return [...found].sort();
  },
  /** Carries out what was previewed, but for some cells. @param own texts typed in place of what was previewed, by key @param agreed whether what is asked about is meant so */
  applyPreview: async (
    id: number,
    except: readonly string[],
    own: ReadonlyMap<string, string>,
    agreed: boolean,
  ): Promise<Applied> => {
    if (preview?.id !== id) throw new Error('Something else was previewed meanwhile. Look at it again.');
    const leave = new Set(except);
    const cells = preview.changes.flatMap((c) =>
      leave.has(c.key) ? [] : [{ ...c, text: own.get(c.key) ?? c.text, agreed }],
    );
    return applyCells(work, cells, preview.name);
  },
  /** Rows of the Bench or of Listings as a spreadsheet has them. */
  cells: async (ids: readonly string[], fields: readonly FieldId[]) => {
    await built();
    return ids.map((listing) => {
      const full = assortment.get(listing);
      return full ? fields.map((field) => fieldOf(field, assortment.shop).read(full, assortment.shop)) : null;
    });
  },
  applyCells: bound(applyCells),
  shareText: bound(shareText),
  takeSheet: bound(takeSheet),
};
