import { expose } from 'comlink';
import { readTable, readText, writeWorkbook } from '../connect/files';
import { columnsOfExample, type Encoding, type ListingFileColumn, writeDelimited } from '../core/lists';
import { type Listing, type ListingState, onWrites, type PlanRow, type Preset, type Watched } from '../store';
import { acts } from './acts';
import { assortmentOf, caughtUp } from './assortment/assortment';
import { type BenchList, benchOf } from './assortment/bench-list';
import { ListingList, type ListQuestion, type Meant } from './assortment/listing-list';
import { work } from './browser';
import { SourceSearcher } from './catalogue/source-search';
import { noteFailure } from './failure';
import { approve, publish, putBack, settleSteps, takeLeaps } from './listings/bench';
import {
  type Applied,
  applyCells,
  type BulkEdit,
  type EditPreview,
  type PreviewedChange,
  previewEdit,
  writeFor,
} from './listings/bulk-edit';
import { categoriesOf } from './listings/categories';
import { type Cell, liveElsewhere, type RefusedCell, weighCells } from './listings/cells';
import { type EditedFile, editRows, readEdits } from './listings/edit-file';
import { bringBack, endListings } from './listings/end';
import { type FieldId, fieldOf, isOfPrice } from './listings/fields';
import { keptSheet, readSheet } from './listings/keyword-sheet';
import { removeListings } from './listings/link';
import { ownPriceAsks } from './listings/own-price';
import { PresetWeighing, type WeighedPreset } from './listings/presets';
import { priceRows } from './listings/price-file';
import { listOn } from './listings/take';
import { type TemplateDraft, TemplateWeighing, templatesInUse, triedOn } from './listings/templates';
import { Makers } from './made';
import { forwardOrder } from './orders/actions';
import { type MeantOrders, OrderBook, type OrderSort } from './orders/order-book';
import { ordersOf, sumsOf } from './orders/sums';
import { linesOf, loadRecorded } from './recorded';
import { type Course, keepCourse, keptCourse, readCourse } from './shop/course';
import { digestOf } from './shop/digest';
import { editsOf } from './shop/history';
import { marketOf } from './shop/quote';
import { Rehearsal, type RehearsalQuestion } from './shop/rehearsal';
import { storedKinds } from './shop/stored';
import {
  caughtBy,
  glimpse,
  goodsCaught,
  type RulesDraft,
  type TermsDraft,
  whatIf,
  whatIfTerms,
} from './shop/what-if';

/** Rows of a list that something is wanted of. */
export interface Where {
  readonly view: 'bench' | 'listings';
  readonly rows: Meant;
  /** On the Bench the marketplace that is looked at; null for all. */
  readonly market?: string | null;
}

const meantBy = ({ view, rows, market = null }: Where): string[] =>
  view === 'bench' ? bench.meant(rows, market) : listings.meant(rows, work.clock());

/** What an edit would change, without the rows. */
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

/** How often a draft of a template was weighed. */
let weighing = 0;

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

/** What a file that was edited elsewhere would change; or why it cannot be read. */
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

/** What a tab asks of its worker: everything that looks at many rows at once, and every change. */
const source = new SourceSearcher(work);
const assortment = assortmentOf(work);
const listings = new ListingList(assortment);
const bench = benchOf(assortment);
const book = new OrderBook(work);

/** A change that comes alone is shown after this time: its own rows may come in several writes. */
const SOON = 30;
/** While changes go on coming, lists are brought up at most this often, and for a large shop in a quarter of the time. */
const OFTEN = 300;
/** The course is drawn again at most this often. */
const CALM = 400;
const SHARE = 3;

/** The first question waits for what is held in memory to be read; later ones are answered with what is known. */
function readOnce(held: { catchUp(): Promise<boolean> }): () => Promise<void> {
  let reading: Promise<unknown> | null = null;
  return async () => {
    reading ??= held.catchUp().catch((error) => {
      reading = null;
      throw error;
    });
    await reading;
  };
}
const built = readOnce(assortment);
const builtBook = readOnce(book);

/** After an answer, while nothing else is asked. */
const prepare = () => {
  if (source.prepare()) setTimeout(prepare);
};

/** Settled once the shop in this browser is whole: until then nothing is answered, and so nothing of a part is kept. */
const opened = Promise.withResolvers<void>();

/**
 * Loads the recorded past that the server has; tabs that open at the same time wait for each other.
 * @param size of it, in bytes
 * @param tell hears how many percent are read
 */
async function loadPast(size: number, tell: (share: number) => void): Promise<void> {
  await navigator.locks.request('sampan-past', async () => {
    if (await work.db.connections.count()) return;
    const past = await fetch('/api/recorded');
    if (!past.ok || !past.body) throw new Error(`The recorded past could not be loaded: ${past.status}.`);
    const text = past.body.pipeThrough(new TextDecoderStream());
    let said = 0;
    await loadRecorded(work.db, linesOf(piecesOf(text)), (characters) => {
      const share = Math.min(99, Math.floor((characters / size) * 100));
      if (share > said) tell(share);
      said = Math.max(said, share);
    });
  });
}

/** A stream as pieces: not every browser can go through one by itself. */
async function* piecesOf(stream: ReadableStream<string>): AsyncGenerator<string> {
  const reader = stream.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    yield value;
  }
}

/**
 * Runs after changes to what is watched, one run at a time and never more than a share of the time.
 * @param calm milliseconds between a change and its run, at least
 * @param often milliseconds between two runs, at least
 */
function onChange(
  watched: readonly Watched[],
  calm: number,
  often: number,
  run: () => Promise<void>,
): () => void {
  let planned = false;
  let free = 0;
  const soon = () => {
    if (planned) return;
    planned = true;
    setTimeout(
      async () => {
        const begun = performance.now();
        planned = false;
        try {
          await run();
        } catch (error) {
          noteFailure(error);
        }
        const ended = performance.now();
        free = ended + Math.max(often, (ended - begun) * SHARE);
      },
      Math.max(calm, free - performance.now()),
    );
  };
  onWrites(work.db, watched, soon);
  soon();
  return soon;
}

/** Milliseconds after the first course in which nothing else is begun. */
const WARM = 300;

const rest = () => new Promise((rested) => setTimeout(rested));

/** Reads what other views will ask for, one after the other, while nothing is asked. */
async function warm(): Promise<void> {
  await builtBook();
  await source.ready(rest);
  for (const [place, full] of assortment.all()) {
    assortment.columns.wordsOf(place, full);
    if (place % AT_ONCE === 0) await rest();
  }
}

/** How often an export was begun or stopped. */
let exporting = 0;

let rehearsal: Rehearsal | null = null;
let rehearsing = 0;

/** Rows gone through before others are heard. */
const AT_ONCE = 1_000;

/** What lists are made of: rows by the journal, and the handful of tables that prices depend on. */
const OF_LISTS = ['journal', 'plans', 'settings', 'rates', 'templates', 'connections', 'stated'];
/** What a search for goods sees besides. */
const OF_SOURCE: readonly Watched[] = [
  'journal',
  'plans',
  'settings',
  'connections',
  'stated',
  ['notes', 'catalogue:'],
];
const OF_COURSE = [
  'journal',
  'plans',
  'connections',
  'stated',
  'health',
  'jobs',
  'outbox',
  'changes',
  'doubts',
];

const questions = {
  ...acts,
  search: async (...of: Parameters<SourceSearcher['search']>) => {
    const found = await source.search(...of);
    setTimeout(prepare);
    return found;
  },
  look: source.look.bind(source),
  pictures: source.pictures.bind(source),
  whatIfOffered: source.whatIf.bind(source),
  take: source.take.bind(source),
  range: source.range.bind(source),
  weigh: source.weigh.bind(source),
  findLines: source.findLines.bind(source),
  matchesOf: source.matchesOf.bind(source),
  findLinks: source.findLinks.bind(source),
  link: source.link.bind(source),
  setBackup: source.setBackup.bind(source),
  /** Tells, now and after each change that matters to a search, a number that grows. */
  watchSource: (tell: (version: number) => void) => {
    let version = 0;
    onChange(OF_SOURCE, SOON, OFTEN, async () => {
      await built();
      if ((await source.lookAgain()) || version === 0) tell(++version);
    });
  },
  /** Tells, now and after each change to listings or what they are made of, a number that grows. */
  watchListings: (tell: (version: number) => void) => {
    onChange(OF_LISTS, SOON, OFTEN, async () => {
      await built();
      await assortment.catchUp();
      tell(assortment.version);
    });
  },
  listings: async (...q: Parameters<ListingList['search']>) => {
    await built();
    return listings.search(...q);
  },
  listing: async (id: string) => {
    await built();
    return listings.full(id);
  },
  /** SKUs of items that some listings in a state are bought as, by chance. */
  someItems: async (supplier: string, state: ListingState, n: number) => {
    const items = new Set<string>();
    for (const [, { listing, source }] of (await caughtUp(work)).all())
      if (listing.state === state && source?.supplier === supplier) items.add(source.item);
    return [...items].sort(() => work.chance() - 0.5).slice(0, n);
  },
  /** Listings that came in from a shop, with what was found for them. */
  broughtIn: async () => {
    await built();
    const proposals = new Map((await work.db.proposals.toArray()).map((p) => [p.id, p]));
    return [...assortment.all()].flatMap(([, full]) =>
      full.listing.product.startsWith('shop:') ? [{ ...full, proposal: proposals.get(full.listing.id) }] : [],
    );
  },
  editsOf: (subjects: readonly string[]) => editsOf(work, subjects),
  bench: async (...q: Parameters<BenchList['search']>) => {
    await built();
    return bench.search(...q);
  },
  benchRange: async (...q: Parameters<BenchList['range']>) => {
    await built();
    return bench.range(...q);
  },
  benchProduct: async (...of: Parameters<BenchList['full']>) => {
    await built();
    return bench.full(...of);
  },
  /** Tells, now and after each change to orders, a number that grows. */
  watchOrders: (tell: (version: number) => void) => {
    onChange(OF_LISTS, SOON, OFTEN, async () => {
      await builtBook();
      await book.catchUp();
      tell(book.version);
    });
  },
  orders: async (q: ListQuestion<OrderSort>) => {
    await builtBook();
    return book.search(q, work.clock());
  },
  ordersRange: async (q: ListQuestion<OrderSort>) => {
    await builtBook();
    return book.range(q, work.clock());
  },
  order: async (id: string) => {
    await builtBook();
    return book.full(id);
  },
  /** Forwards what is ready of the orders that are meant. @returns how many left, and why the first other did not */
  forwardMeant: async (what: MeantOrders) => {
    await builtBook();
    let [left, stayed, why] = [0, 0, ''];
    for (const id of book.readyAmong(what, work.clock())) {
      const said = await forwardOrder(work, id);
      if (said.ok) left++;
      else {
        stayed++;
        why ||= said.reason;
      }
    }
    return { left, stayed, why };
  },
  stored: () => storedKinds(work),
  digestOf: async (day: string) => {
    await builtBook();
    return digestOf(work, day, book);
  },
  sums: async (from: string, to: string) => {
    await builtBook();
    return sumsOf(book, from, to);
  },
  ordersOf: async (day: string, limit: number) => {
    await builtBook();
    return ordersOf(book, day, limit);
  },
  listingsRange: async (...q: Parameters<ListingList['range']>) => {
    await built();
    return listings.range(...q);
  },
  proposeText: async (listing: string, field: 'title' | 'tags') => {
    await built();
    const full = assortment.get(listing);
    return full && writeFor(full, assortment.shop, field);
  },
  /** Templates with how many listings each is used for. */
  templates: async () => {
    await built();
    await assortment.catchUp();
    return templatesInUse(assortment);
  },
  /** Fills a draft in for the listings it is for; null where another one was asked for meanwhile. */
  weighTemplate: async (
    id: string | null,
    draft: TemplateDraft,
    where: Where,
    most = Number.POSITIVE_INFINITY,
  ) => {
    await built();
    const own = ++weighing;
    const weighed = new TemplateWeighing(assortment, draft);
    for (const full of triedOn(assortment, id, new Set(meantBy(where)))) {
      weighed.add(full);
      if (weighed.listings >= most) break;
      // Others are heard in between: the next key wants its samples at once.
      if (weighed.listings % AT_ONCE === 0) await rest();
      if (own !== weighing) return null;
    }
    return weighed.weighed();
  },
  /**
   * Listings as a file to be edited elsewhere. @param tell hears how many are written @returns null where it was stopped, or
   * another one was asked for meanwhile
   */
  editFile: async (where: Where, form: 'csv' | 'xlsx', tell: (done: number, total: number) => void) => {
    await built();
    const own = ++exporting;
    const rows = editRows(assortment, meantBy(where));
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
  /** The columns of an example of a shop's listing file, each with a guess at what it holds. */
  columnsOfFile: async (
    file: File,
  ): Promise<
    | { readonly ok: true; readonly columns: readonly ListingFileColumn[] }
    | { readonly ok: false; readonly reason: string }
  > => {
    const table = await readTable(file, file.name);
    if (!table.ok) return table;
    const columns = columnsOfExample(table.value.rows.map((r) => r.cells));
    return columns
      ? { ok: true, columns }
      : { ok: false, reason: `“${file.name}” has no header row with up to 200 columns.` };
  },
  /** Why a typed cell cannot be; null where it can. */
  checkCell: async (cell: Cell) => {
    await built();
    return weighCells(assortment, [cell]).refused[0]?.reason ?? null;
  },
  /** The suppliers' categories of what is listed on a marketplace. */
  categories: async (market: string) => {
    await built();
    await assortment.catchUp();
    return categoriesOf(assortment, market);
  },
  /** What a preset would do; null where another one was asked for meanwhile. */
  weighPreset: async (market: string, draft: Preset): Promise<WeighedPreset | null> => {
    await built();
    await assortment.catchUp();
    const own = ++weighing;
    const at = marketOf(assortment.shop, market);
    if (!at) return null;
    const weighed = new PresetWeighing(at, draft);
    let gone = 0;
    for (const [, full] of assortment.all()) {
      weighed.add(full);
      if (++gone % AT_ONCE === 0) await rest();
      if (own !== weighing) return null;
    }
    return weighed.weighed();
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
  /** What prices would do if what was previewed were carried out; null where none depends on it. */
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
  /** What there is to choose from in a field of some listings; empty where it is typed. */
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
  approveMeant: async (what: Meant, market: string | null) => {
    await built();
    return approve(work, bench.meant(what, market));
  },
  publishMeant: async (what: Meant, market: string | null, at: number | null, asDraft = false) => {
    await built();
    return publish(work, bench.meant(what, market), at, asDraft);
  },
  /** Sends again what was refused and lacks nothing: approved anew and published. */
  tryAgain: async (what: Meant, market: string | null) => {
    await built();
    const ids = bench.meant(what, market);
    await approve(work, ids);
    return publish(work, ids);
  },
  /** Lists products of the Bench on one more marketplace. @returns how many listings were made */
  listMeant: async (what: Meant, seen: string | null, on: string) => {
    await built();
    return listOn(work, [...bench.products(what, seen)], on);
  },
  putBackMeant: async (what: Meant, market: string | null) => {
    await built();
    return putBack(work, bench.meant(what, market));
  },
  whatIf: (...args: Parameters<typeof whatIf> extends [unknown, ...infer Rest] ? Rest : never) =>
    whatIf(work, ...args),
  glimpse: (draft: RulesDraft) => glimpse(work, draft),
  /** What each plan would catch of what is listed. */
  caughtBy: async (plans: readonly PlanRow[]) => {
    await built();
    return caughtBy(assortment, plans);
  },
  /** What a search line over goods catches of what is listed. */
  goodsCaught: async (filter: string, marketplaces: readonly string[] | null) => {
    await built();
    return goodsCaught(assortment, filter, marketplaces);
  },
  /** Ends listings, brings them back, or takes them out of Sampan. */
  endMeant: async (what: Meant) => {
    await built();
    return endListings(work, listings.meant(what, work.clock()));
  },
  bringBackMeant: async (what: Meant) => {
    await built();
    return bringBack(work, listings.meant(what, work.clock()));
  },
  takeOutMeant: async (what: Meant) => {
    await built();
    return removeListings(work, listings.meant(what, work.clock()));
  },
  /** Lets price steps that wait go, or keeps the prices: of some listings, or of all. */
  settleStepsMeant: async (what: Meant, go: boolean) => {
    await built();
    return settleSteps(work, listings.meant(what, work.clock()), go);
  },
  /** Takes the costs that leapt: of some listings, or of all. */
  takeLeapsMeant: async (what: Meant) => {
    await built();
    return takeLeaps(work, listings.meant(what, work.clock()));
  },
  /** Why an own price is asked about before it is offered; null where nothing speaks against it. */
  ownPriceAsks: async (listing: string, price: number) => {
    await built();
    const full = assortment.get(listing);
    return full && ownPriceAsks(full, assortment.shop, price);
  },
  /** Tries plans on recorded days; null where it was stopped, or another one was asked for meanwhile. */
  rehearse: async (question: RehearsalQuestion, tell: (done: number, total: number) => void) => {
    await built();
    const own = ++rehearsing;
    const made = await Rehearsal.run(work, question, async (done, total) => {
      tell(done, total);
      await rest();
      return own !== rehearsing;
    });
    if (made) rehearsal = made;
    return made?.answer ?? null;
  },
  stopRehearsal: () => {
    rehearsing++;
  },
  /** The sales of a day as they were rehearsed last. */
  rehearsedDay: (day: string) => rehearsal?.day(day) ?? [],
  whatIfTerms: (draft: TermsDraft) => whatIfTerms(work, draft),
  /**
   * Tells the counts and needs along the course, now and whenever they may have changed, and at least each
   * half minute as time passes.
   */
  watchCourse: (tell: (course: Course) => void) => {
    let told = false;
    // What was drawn last stands until the shop is read.
    keptCourse(work).then((kept) => kept && !told && tell(kept), noteFailure);
    const soon = onChange(OF_COURSE, CALM, CALM, async () => {
      await Promise.all([built(), builtBook()]);
      const course = await readCourse(work, book);
      tell(course);
      await keepCourse(work, course);
      if (!told) setTimeout(warm, WARM);
      told = true;
    });
    setInterval(soon, 30_000);
  },
};

const makers = new Makers();
work.made = makers.hear;

/** What is asked waits until the shop is whole; the page hears of the change that it made before it has the answer. */
const whenOpen = <F extends (...of: never[]) => unknown>(ask: F) =>
  (async (...of: Parameters<F>) => {
    await opened.promise;
    return makers.run(
      () => ask(...of),
      (message) => postMessage(message),
    );
  }) as F;

const api = {
  ...(Object.fromEntries(
    Object.entries(questions).map(([name, ask]) => [name, whenOpen(ask as () => unknown)]),
  ) as unknown as typeof questions),
  loadPast,
  /** Says that the shop is whole. @param tab the tab that this worker serves */
  open: (tab: string) => {
    work.tab = tab;
    opened.resolve();
  },
};
export type ShopApi = typeof api;
expose(api);
