import { fold } from '../../core/copy';
import type { DesignRow, SampanDatabase } from '../../store';

export type DesignSort = 'name' | 'at' | 'size' | 'products';

export interface DesignQuestion {
  readonly query: string;
  /** A set; null for all. */
  readonly set: string | null;
  readonly sort: DesignSort;
  readonly descending: boolean;
  readonly offset: number;
  readonly limit: number;
}

/** A design as a row of the list. */
export interface DesignLine extends DesignRow {
  /** Sheets that it lies on, and products that are made with it. */
  readonly sheets: number;
  readonly products: number;
}

export interface DesignsFound {
  readonly total: number;
  readonly matches: number;
  readonly rows: readonly DesignLine[];
  /** Sets with how many designs each has. */
  readonly sets: readonly { readonly name: string; readonly count: number }[];
}

interface Known {
  readonly rows: readonly DesignLine[];
  /** What is searched, by place. */
  readonly texts: readonly string[];
}

/** All designs in memory, read again after {@link DesignList.stale}. */
export class DesignList {
  private known: Promise<Known> | null = null;

  constructor(
    private readonly db: SampanDatabase,
    /** How many products are made with each design. */
    private readonly products: () => Promise<ReadonlyMap<string, number>>,
  ) {}

  stale(): void {
    this.known = null;
  }

  private read(): Promise<Known> {
    this.known ??= this.gather();
    return this.known;
  }

  private async gather(): Promise<Known> {
    const [designs, sheets, products] = await Promise.all([
      this.db.designs.toArray(),
      this.db.sheets.toArray(),
      this.products(),
    ]);
    const used = new Map<string, number>();
    for (const sheet of sheets) for (const id of sheet.designs) used.set(id, (used.get(id) ?? 0) + 1);
    const rows = designs.map((d) => ({
      ...d,
      sheets: used.get(d.id) ?? 0,
      products: products.get(d.id) ?? 0,
    }));
    return { rows, texts: rows.map((d) => fold(`${d.name} ${d.keywords.join(' ')} ${d.set} ${d.rights}`)) };
  }

  private async find(q: Omit<DesignQuestion, 'offset' | 'limit'>): Promise<DesignLine[]> {
    const { rows, texts } = await this.read();
    const words = fold(q.query).split(/\s+/).filter(Boolean);
    const found = rows.filter(
      (d, k) => (q.set === null || d.set === q.set) && words.every((w) => texts[k]!.includes(w)),
    );
    const value = (d: DesignLine): string | number => {
      if (q.sort === 'name') return fold(d.name);
      if (q.sort === 'size') return d.width * d.height;
      return q.sort === 'products' ? d.products : d.at;
    };
    return found.sort((a, b) => {
      const [x, y] = [value(a), value(b)];
      const by = x < y ? -1 : x > y ? 1 : a.id < b.id ? -1 : 1;
      return q.descending ? -by : by;
    });
  }

  async search(q: DesignQuestion): Promise<DesignsFound> {
    const found = await this.find(q);
    const { rows } = await this.read();
    const sets = new Map<string, number>();
    for (const { set } of rows) if (set) sets.set(set, (sets.get(set) ?? 0) + 1);
    return {
      total: rows.length,
      matches: found.length,
      rows: found.slice(q.offset, q.offset + q.limit),
      sets: [...sets]
        .map(([name, count]) => ({ name, count }))
        .sort((a, b) => (fold(a.name) < fold(b.name) ? -1 : 1)),
    };
  }

  /** Ids of matches between two places. */
  async range(q: DesignQuestion): Promise<string[]> {
    return (await this.find(q)).slice(q.offset, q.offset + q.limit).map((d) => d.id);
  }
}
