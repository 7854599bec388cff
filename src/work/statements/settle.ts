import type { Entry } from '../../core/ledger';
import { correctionOf, type Difference, differencesOf, slotOf } from '../../core/statements';
import { countOf, grouped, isDay } from '../../core/units';
import {
  applyChange,
  type CostRow,
  type LedgerRow,
  ordersById,
  type RowChange,
  type StatementRow,
  unpackRows,
  type WholeOrder,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { shopNow } from '../memory/assortment';
import type { Said } from '../orders/actions';
import { absentSlot, type WhichDifference } from './list';
import { rateIn } from './take';

const no = (reason: string): Said => ({ ok: false, reason });

/** What a person decides about differences: the record follows the statement, or stays as it is. */
export type Decision = 'as stated' | 'as recorded';

const AT_ONCE = 4_000;

/**
 * Decides about differences. As stated, the record gets entries that bring it there; as recorded, they are no longer
 * asked about. One that amounts to something else by now is left.
 */
export async function decideDifferences(
  work: Work,
  which: readonly WhichDifference[],
  decision: Decision,
): Promise<Said & { readonly decided?: number }> {
  const { db } = work;
  let decided = 0;
  const byOrder = grouped(which, (w) => w.order);
  const ids = [...byOrder.keys()];
  for (let k = 0; k < ids.length; k += AT_ONCE) {
    const some = ids.slice(k, k + AT_ONCE);
    await db.transaction('rw', db.shopTables, async () => {
      await ordersById(db, some);
      const at = work.clock();
      const changed: LedgerRow[] = [];
      for (const ledger of await db.ledger.bulkGet(some)) {
        if (!ledger) continue;
        const meant = differencesOf(ledger.entries, ledger.stated ?? []).filter((d) =>
          byOrder.get(ledger.id)!.some((w) => w.slot === slotOf(d) && w.minor === d.minor),
        );
        if (!meant.length) continue;
        decided += meant.length;
        changed.push(decision === 'as stated' ? corrected(ledger, meant, at) : keptAs(ledger, meant, at));
      }
      await db.ledger.bulkPut(changed);
    });
  }
  return decided ? { ok: true, decided } : no('Nothing of it differs in this way any more.');
}

const corrected = (ledger: LedgerRow, meant: readonly Difference[], at: number): LedgerRow => ({
  ...ledger,
  entries: [...ledger.entries, ...meant.map((d) => correctionOf(d, rateIn(ledger.entries, d.currency), at))],
});

function keptAs(ledger: LedgerRow, meant: readonly Difference[], at: number): LedgerRow {
  const slots = meant.map(slotOf);
  const others = (ledger.kept ?? []).filter((one) => !slots.includes(one.slot));
  return { ...ledger, kept: [...others, ...meant.map((d) => ({ slot: slotOf(d), minor: d.minor, at }))] };
}

/** Leaves sales or purchases that stand in no statement: they are no longer asked about. */
export async function decideAbsent(work: Work, statement: string, orders: readonly string[]): Promise<Said> {
  const { db } = work;
  const row = await db.statements.get(statement);
  const meant = row?.missing.filter((m) => orders.includes(m.order)) ?? [];
  if (!row || !meant.length) return no('Nothing of it is missing any more.');
  await db.transaction('rw', [db.ledger, db.journal], async () => {
    const at = work.clock();
    for (const { order, purchase } of meant) {
      const ledger = await db.ledger.get(order);
      const slot = absentSlot(row.from, purchase);
      if (ledger) await db.ledger.put({ ...ledger, kept: [...(ledger.kept ?? []), { slot, minor: 0, at }] });
    }
  });
  return { ok: true };
}

/** What takes corrections by a statement back: an entry against each sum of them. */
function against(entries: readonly Entry[], statement: string, at: number): Entry[] {
  const sums = new Map<string, Entry>();
  for (const e of entries) {
    if (e.statement !== statement) continue;
    const key = `${e.kind} ${e.purchase ?? ''} ${e.currency}`;
    sums.set(key, { ...e, amount: (sums.get(key)?.amount ?? 0) + e.amount });
  }
  return [...sums.values()].filter((e) => e.amount).map((e) => ({ ...e, amount: -e.amount, at }));
}

/**
 * Takes back what was decided of some orders by one statement: its corrections get entries against them, and what was left
 * as recorded is asked about again. The statement stays.
 */
export async function askAgain(work: Work, statement: string, orders: readonly string[]): Promise<Said> {
  const { db } = work;
  const row = await db.statements.get(statement);
  if (!row) return no('This statement is not there any more.');
  await db.transaction('rw', db.shopTables, async () => {
    await ordersById(db, orders);
    const at = work.clock();
    const ledgers = (await db.ledger.bulkGet([...orders])).filter((l) => l !== undefined);
    await db.ledger.bulkPut(
      ledgers.map((l) => ({
        ...l,
        entries: [...l.entries, ...against(l.entries, statement, at)],
        kept: (l.kept ?? []).filter((one) => !one.slot.startsWith(`${row.from} `)),
      })),
    );
  });
  return { ok: true };
}

/** Takes a whole statement out again: what it said, and what was corrected by it. */
export async function takeStatementOut(
  work: Work,
  id: string,
  goesOn: (orders: number) => boolean | Promise<boolean> = () => true,
): Promise<Said> {
  const { db } = work;
  const row = await db.statements.get(id);
  if (!row) return no('This statement is not there any more.');
  const costs = await db.costs.filter((c) => c.stated?.statement === id).count();
  if (costs) return no(`${countOf(costs, 'cost')} of the shop stands on it: take that back first.`);
  const blocks = await archivedOf(work, id);
  const hot = (await db.ledger
    .filter((l) => l.stated?.some((s) => s.statement === id) ?? false)
    .primaryKeys()) as string[];
  const ids = [...hot, ...blocks];
  for (let k = 0; k < ids.length; k += AT_ONCE) {
    const some = ids.slice(k, k + AT_ONCE);
    await db.transaction('rw', db.shopTables, async () => {
      await ordersById(db, some);
      const at = work.clock();
      const ledgers = (await db.ledger.bulkGet(some)).filter((l) => l !== undefined);
      await db.ledger.bulkPut(
        ledgers.map((l) => ({
          ...l,
          entries: [...l.entries, ...against(l.entries, id, at)],
          stated: (l.stated ?? []).filter((s) => s.statement !== id),
        })),
      );
    });
    if (!(await goesOn(k + some.length))) return no('Stopped. Take it out again to end it.');
  }
  await change(work, `Take out statement ${row.number}`, [{ table: 'statements', remove: id }], false);
  return { ok: true };
}

/** Orders that were laid away and that a statement speaks of. */
async function archivedOf({ db }: Work, id: string): Promise<string[]> {
  const ids: string[] = [];
  for (const key of (await db.archive.toCollection().primaryKeys()) as string[]) {
    const [block, rows] = await Promise.all([db.archive.get(key), db.archivedRows.get(key)]);
    if (!block || !rows) continue;
    const places = block.ids.flatMap((one, place) => (one ? [place] : []));
    for (const { order, ledger } of unpackRows<Omit<WholeOrder, 'buyer'>>(rows, places))
      if (ledger?.stated?.some((s) => s.statement === id)) ids.push(order.id);
  }
  return ids;
}

async function change(work: Work, name: string, rows: readonly RowChange[], undoable = true): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, () =>
    applyChange(db, { by: 'person', name, undoable }, rows, nowOf(work)),
  );
}

/** What is made of lines of a statement that belong to no order: costs of the shop on their day, or nothing to do with it. */
export async function settleLoose(
  work: Work,
  id: string,
  lines: readonly number[],
  how: 'cost' | 'set aside',
): Promise<Said> {
  const { db } = work;
  const shop = await shopNow(work);
  const row = await db.statements.get(id);
  const meant = row?.loose.filter((l) => lines.includes(l.line) && l.done === null) ?? [];
  if (!row || !meant.length) return no('There is no such line to settle.');
  if (how === 'cost' && meant.some((l) => l.why === 'twice'))
    return no('What was stated before is no cost again.');
  const at = work.clock();
  const c = shop.connections.get(row.from);
  const costs = meant.map(
    (l): CostRow => ({
      id: work.newId(),
      name: `${c?.name ?? row.from}: ${l.text || l.kind}`.slice(0, 120),
      ...{ day: l.day, minor: -l.amount, currency: l.currency, monthly: false, until: null },
      rate: shop.rates.by.get(l.currency)?.value ?? null,
      stated: { statement: id, line: l.line },
    }),
  );
  const loose = row.loose.map((l) => (meant.includes(l) ? { ...l, done: { how, at } } : l));
  const name =
    how === 'cost'
      ? `${countOf(meant.length, 'charge')} of statement ${row.number} as costs`
      : `${countOf(meant.length, 'line')} of statement ${row.number} set aside`;
  await change(work, name, [
    ...(how === 'cost' ? costs.map((add): RowChange => ({ table: 'costs', add })) : []),
    { table: 'statements', id, set: { loose } satisfies Partial<StatementRow> },
  ]);
  return { ok: true };
}

/** Notes that a supplier's statement was paid on a day; null for not. */
export async function noteStatementPaid(work: Work, id: string, paidOn: string | null): Promise<Said> {
  if (paidOn !== null && !isDay(paidOn)) return no('Say on which day it was paid.');
  const row = await work.db.statements.get(id);
  if (!row) return no('This statement is not there any more.');
  await change(work, `Statement ${row.number} ${paidOn ? 'paid' : 'not paid'}`, [
    { table: 'statements', id, set: { paidOn } satisfies Partial<StatementRow> },
  ]);
  return { ok: true };
}
