import { type ExchangeRate, type Rates, ratesOn } from '../../core/money';
import { dayOf, type Instant } from '../../core/units';
import {
  type ConnectionRow,
  connectionOf,
  type EarlierValues,
  earlierBegins,
  earlierSince,
  type StatedRow,
} from '../../store';
import type { Work } from '../context/work';
import type { Shop } from '../quoting/worth';
import { DAY, nameOf, type RehearsalAnswer } from './rehearsed';

export const endOf = (day: number): Instant => (day + 1) * DAY - 1;

type Inputs = Pick<Shop, 'rates' | 'connections'>;

/** Exchange rates, fees and suppliers' terms as they were on each day of the past. */
export class InputsOfThen {
  private readonly days = new Map<number, Inputs>();

  private constructor(
    readonly earlier: EarlierValues,
    private readonly now: Shop,
    private readonly rates: readonly ExchangeRate[],
    private readonly rows: readonly ConnectionRow[],
    private readonly stated: ReadonlyMap<string, StatedRow>,
    private readonly from: number,
    private readonly begins: Instant | null,
  ) {}

  static async read({ db }: Work, now: Shop, from: number): Promise<InputsOfThen> {
    const [rates, rows, stated, earlier, begins] = await Promise.all([
      db.rates.toArray(),
      db.connections.toArray(),
      db.stated.toArray(),
      earlierSince(db, from * DAY),
      earlierBegins(db),
    ]);
    const by = new Map(stated.map((s) => [s.id, s]));
    return new InputsOfThen(earlier, now, rates, rows, by, from, begins);
  }

  /** Those of a day; the same object as the day before where none of them moved. */
  on(day: number): Inputs {
    const known = this.days.get(day);
    if (known) return known;
    const { by, books } = ratesOn(this.rates, this.now.rates.books, nameOf(day));
    const rates: Rates = { books, by: new Map([...this.firstRates(), ...by]) };
    const made: Inputs = {
      rates,
      connections: new Map(
        this.rows.map((row) => {
          const said = this.stated.get(row.id);
          const [rowThen, saidThen] = [
            this.earlier.rowAt('connections', row, endOf(day)),
            said && this.earlier.rowAt('stated', said, endOf(day)),
          ];
          const now = rowThen === row && saidThen === said ? this.now.connections.get(row.id) : undefined;
          return [row.id, now ?? connectionOf(rowThen, saidThen)];
        }),
      ),
    };
    const before = day > this.from ? this.on(day - 1) : null;
    const same =
      before && sameEntries(before.rates.by, rates.by) && sameInputs(before.connections, made.connections);
    const kept = same ? before : made;
    this.days.set(day, kept);
    return kept;
  }

  /** The first rate of each currency: it stands in for those of before. */
  private firstRates(): Map<string, ExchangeRate> {
    const first = new Map<string, ExchangeRate>();
    for (const rate of this.rates) {
      const known = first.get(rate.currency);
      if (rate.books === this.now.rates.books && (!known || rate.day < known.day))
        first.set(rate.currency, rate);
    }
    return first;
  }

  knownFrom(zone: string): RehearsalAnswer['knownFrom'] {
    const begun = nameOf(this.from);
    const used = new Set(
      [...this.now.connections.values()].map((c) => (c.role === 'supplier' ? c.currency : c.site.currency)),
    );
    const late = [...this.firstRates().values()].filter((r) => r.day > begun && used.has(r.currency));
    return [
      ...late.map(({ currency, day }) => ({ what: `The rate of ${currency}`, day })),
      ...(this.begins !== null && dayOf(this.begins, zone) > begun
        ? [{ what: 'Fees and market prices', day: dayOf(this.begins, zone) }]
        : []),
    ];
  }
}

const sameEntries = <K, V>(a: ReadonlyMap<K, V>, b: ReadonlyMap<K, V>) =>
  a.size === b.size && [...a].every(([key, value]) => b.get(key) === value);

const sameInputs = (a: Shop['connections'], b: Shop['connections']) =>
  sameEntries(a, b) || [...a].every(([id, c]) => JSON.stringify(c) === JSON.stringify(b.get(id)));
