import { fieldKey, parseTemplate, type TemplateProblem } from '../../core/copy';
import { countOf } from '../../core/units';
import { applyChange, type CopyTemplate } from '../../store';
import { nowOf, type Work } from '../context/work';
import { queueChanges } from '../listings/publish';
import { type Assortment, caughtUp } from '../memory/assortment';
import { copyFieldsOf, fillFor, type MadeCopy, textFieldsOf } from '../quoting/copy';
import type { FullListing } from '../quoting/full-listing';
import { isOnBench } from '../quoting/listing-standing';
import { marketOf } from '../quoting/worth';

/** The part of a template that the seller writes. */
export type TemplateDraft = Pick<CopyTemplate, 'name' | 'title' | 'description' | 'tags' | 'fallbacks'>;

export const NEW_TEMPLATE: TemplateDraft = { name: '', title: '', description: '', tags: '', fallbacks: {} };

export const TEMPLATE_TEXTS = ['title', 'description', 'tags'] as const;
export type TemplateText = (typeof TEMPLATE_TEXTS)[number];

/** The problems of a draft’s texts, by text. */
export function templateProblems(draft: TemplateDraft): Partial<Record<TemplateText, TemplateProblem>> {
  return Object.fromEntries(
    TEMPLATE_TEXTS.flatMap((text) => {
      const read = parseTemplate(draft[text]);
      return read.ok ? [] : [[text, read.problem]];
    }),
  );
}

/** Fields that the texts of a draft name, each once, in order. */
export function fieldsIn(draft: TemplateDraft): string[] {
  const fields = TEMPLATE_TEXTS.flatMap((text) => {
    const read = parseTemplate(draft[text]);
    return read.ok ? read.template.fields : [];
  });
  return [...new Set(fields)];
}

/** The texts that a draft produces for the listings that use the template, or would. */
export interface WeighedTemplate {
  /** Fields that goods have, with how many listings have something for each, most first. */
  readonly fields: readonly (readonly [field: string, count: number])[];
  readonly listings: number;
  /** Listings with nothing for a field that would be printed, by field. */
  readonly empty: readonly (readonly [field: string, count: number])[];
  readonly tooLong: number;
  /** Filled in for the first products of them. */
  readonly samples: readonly {
    readonly sku: string;
    readonly market: string;
    readonly made: MadeCopy;
    readonly titleLimit: number;
  }[];
}

const SAMPLES = 6;

/** Fills a draft in for one listing after the other and counts what comes of it. Cost: some microseconds for each. */
export class TemplateWeighing {
  private readonly template: CopyTemplate;
  private readonly has = new Map<string, number>();
  private readonly empty = new Map<string, number>();
  private readonly samples: WeighedTemplate['samples'][number][] = [];
  private readonly shown = new Set<string>();
  private tooLong = 0;
  listings = 0;

  constructor(
    private readonly assortment: Assortment,
    draft: TemplateDraft,
  ) {
    this.template = { ...draft, id: '', at: 0 };
  }

  add(full: FullListing): void {
    this.listings++;
    const fields = copyFieldsOf(full);
    for (const [field, value] of fields) if (value) count(this.has, field);
    const made = fillFor(textFieldsOf(full), this.template);
    const gaps = [...made.empty.title, ...made.empty.description, ...made.empty.tags];
    for (const field of gaps.length > 1 ? new Set(gaps) : gaps) count(this.empty, field);
    const market = marketOf(this.assortment.shop, full.listing.marketplace);
    const site = market?.site;
    const titleLimit = site?.titleLimit ?? 0;
    if (made.title && site && made.title.length > titleLimit && [...made.title].length > titleLimit)
      this.tooLong++;
    if (this.samples.length === SAMPLES || this.shown.has(full.product.id)) return;
    this.shown.add(full.product.id);
    this.samples.push({
      sku: full.listing.sku,
      market: market?.name ?? full.listing.marketplace,
      made,
      titleLimit,
    });
  }

  weighed(): WeighedTemplate {
    const sorted = (map: Map<string, number>) =>
      [...map].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
    const { has, empty, listings, tooLong, samples } = this;
    // The keyword is offered before there is a sheet of them.
    if (!has.has('keyword')) has.set('keyword', 0);
    return { fields: sorted(has), listings, empty: sorted(empty), tooLong, samples };
  }
}

const count = (map: Map<string, number>, field: string) => map.set(field, (map.get(field) ?? 0) + 1);

/** The listings that a template is tried on: those that use it, and some that are meant to. */
export function* triedOn(
  assortment: Assortment,
  id: string | null,
  meant: ReadonlySet<string>,
): Iterable<FullListing> {
  for (const [, full] of assortment.all())
    if ((id && full.listing.copy === id) || meant.has(full.listing.id)) yield full;
}

/** Templates with how many listings each is used for. */
export function templatesInUse(assortment: Assortment): (CopyTemplate & { readonly uses: number })[] {
  const uses = new Map<string, number>();
  for (const [, { listing }] of assortment.all())
    if (listing.copy) uses.set(listing.copy, (uses.get(listing.copy) ?? 0) + 1);
  return [...assortment.shop.templates.values()]
    .map((t) => ({ ...t, uses: uses.get(t.id) ?? 0 }))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
}

export type SavedTemplate =
  | { readonly ok: true; readonly id: string; readonly sent: number }
  | { readonly ok: false; readonly reason: string };

/**
 * Keeps a template, as one change: approvals of what uses it fall away, what is on sale is told of its new texts.
 * @param id of the one that is changed; null for a new one
 */
export async function saveTemplate(
  work: Work,
  id: string | null,
  draft: TemplateDraft,
): Promise<SavedTemplate> {
  const { db } = work;
  const name = draft.name.trim().slice(0, 80);
  if (!name) return { ok: false, reason: 'Give the template a name.' };
  const [wrong] = Object.values(templateProblems(draft));
  if (wrong) return { ok: false, reason: wrong.reason };
  if (!TEMPLATE_TEXTS.some((text) => draft[text].trim()))
    return { ok: false, reason: 'Write a title, a description or tags.' };
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const others = [...assortment.shop.templates.values()].filter((t) => t.id !== id);
    if (others.some((t) => fieldKey(t.name) === fieldKey(name)))
      return { ok: false, reason: `There is a template “${name}” already.` };
    const own = id ?? work.newId();
    const set = { ...draft, name, at: work.clock() };
    const using = id ? usersOf(assortment, id) : [];
    await applyChange(
      db,
      { by: 'person', name: id ? `Template “${name}” changed` : `Template “${name}” made` },
      [
        id
          ? { table: 'templates', id, set, says: 'Template changed.' }
          : { table: 'templates', add: { ...set, id: own } satisfies CopyTemplate },
        ...using.flatMap(({ listing }) =>
          isOnBench(listing) && listing.approvedAt !== null
            ? [
                {
                  table: 'listings',
                  id: listing.id,
                  set: { approvedAt: null },
                  says: `Template “${name}” changed.`,
                } as const,
              ]
            : [],
        ),
      ],
      nowOf(work),
    );
    const { sent } = await queueChanges(
      work,
      using.map((f) => f.listing.id),
    );
    return { ok: true, id: own, sent };
  });
}

const usersOf = (assortment: Assortment, id: string): FullListing[] =>
  [...assortment.all()].flatMap(([, full]) => (full.listing.copy === id ? [full] : []));

/** Removes a template, as one change; what used it has its texts of before. @returns listings that used it */
export async function dropTemplate(work: Work, id: string): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const template = assortment.shop.templates.get(id);
    if (!template) return 0;
    const using = usersOf(assortment, id);
    const says = `Template “${template.name}” removed.`;
    await applyChange(
      db,
      { by: 'person', name: `Template “${template.name}” removed from ${countOf(using.length, 'listing')}` },
      [
        { table: 'templates', remove: id },
        ...using.map(
          ({ listing }) =>
            ({
              table: 'listings',
              id: listing.id,
              set: { copy: null, ...(isOnBench(listing) && { approvedAt: null }) },
              says,
            }) as const,
        ),
      ],
      nowOf(work),
    );
    await queueChanges(
      work,
      using.map((f) => f.listing.id),
    );
    return using.length;
  });
}
