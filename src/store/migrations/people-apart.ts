import type { Transaction } from 'dexie';
import { fold } from '../../core/copy';
import type { Address, Buyer, Check, OrderFact } from '../../core/orders';
import { withAddress, withText } from '../../core/orders';
import type { ArchiveBlock, ArchivedRows, Order, WholeOrder } from '../orders';
import type { OutboxRow } from '../outbox';
import { packOrders, unpackRows } from '../packed';
import type { Edit } from '../rows';
import { type OrderWithTexts, withUnits } from './order-units';

/** A check, a fact, the fields of an order in an edit, and the body of a purchase, as they were with the buyer's words. */
type OldCheck = { readonly kind: string; readonly texts?: unknown; readonly problem?: OldProblem | null };
type OldProblem = { readonly why: string; readonly value?: string };
type OldFact = {
  readonly kind: string;
  readonly address?: unknown;
  readonly slip?: unknown;
  readonly by?: unknown;
};
type Fields = Readonly<Record<string, unknown>>;

/** Takes what is a buyer's out of an order, and everything that repeats it, and keeps it once. */
class Apart {
  buyer: Buyer;

  constructor(private readonly order: OrderWithTexts) {
    const { id, buyer, address } = order;
    this.buyer = { id, ...buyer, addresses: [address], texts: [], erasedAt: null };
  }

  text(text: string): number {
    const { buyer, place } = withText(this.buyer, text);
    this.buyer = buyer;
    return place;
  }

  address(address: Address): number {
    const { buyer, place } = withAddress(this.buyer, address);
    this.buyer = buyer;
    return place;
  }

  private readonly placeOf = (text: unknown) => (typeof text === 'string' ? this.text(text) : null);
  private readonly line = <L extends { readonly personalisation: string | null }>(l: L) => ({
    ...l,
    personalisation: this.placeOf(l.personalisation),
  });

  private readonly check = (check: OldCheck): Check => {
    if (check.kind === 'personalised' && check.texts) {
      const { texts: _, ...rest } = check;
      const titles = this.order.lines.filter((l) => l.personalisation !== null).map((l) => l.title);
      return { ...rest, titles } as unknown as Check;
    }
    if (check.kind !== 'address' || !check.problem) return check as Check;
    const { why, value } = check.problem;
    if (why === 'postcode') return { ...check, problem: { why } } as Check;
    if (why !== 'garbled') return check as Check;
    const parts = ['name', 'line1', 'line2', 'town', 'postcode'] as const;
    const part = parts.find((one) => this.order.address[one] === value) ?? 'name';
    return { ...check, problem: { why, part } } as Check;
  };

  readonly fact = (fact: OrderFact | OldFact): OrderFact => {
    const old = fact as OldFact;
    if (old.kind === 'held' && Array.isArray(old.by))
      return { ...old, by: old.by.map(this.check) } as OrderFact;
    if (old.kind !== 'edited') return fact as OrderFact;
    const address = old.address ? this.address(old.address as Address) : null;
    return { kind: 'edited', address, slip: this.placeOf(old.slip) };
  };

  whole(): Order {
    const { buyer: _, ...order } = this.order;
    return {
      ...order,
      address: 0,
      country: this.order.address.country,
      slip: this.placeOf(order.slip),
      checks: order.checks.map((c) => this.check(c as OldCheck)),
      lines: order.lines.map(this.line),
      purchases: order.purchases.map((p) => ({ ...p, lines: p.lines.map(this.line) })) as Order['purchases'],
      ...(order.arrival && { arrival: { ...order.arrival, facts: order.arrival.facts.map(this.fact) } }),
    };
  }

  private fields(fields: Fields | null): Fields | null {
    if (!fields) return fields;
    const set: Record<string, unknown> = { ...fields };
    delete set.buyer;
    const { address, slip, lines, checks, purchases } = fields;
    if (address && typeof address === 'object') {
      set.address = this.address(address as Address);
      set.country = (address as Address).country;
    }
    if (typeof slip === 'string') set.slip = this.text(slip);
    if (Array.isArray(checks)) set.checks = checks.map(this.check);
    if (Array.isArray(lines)) set.lines = lines.map(this.line);
    if (Array.isArray(purchases))
      set.purchases = purchases.map((p) => ({ ...p, lines: p.lines.map(this.line) }));
    return set;
  }

  edit(edit: Edit): Edit {
    const { facts } = edit;
    return {
      ...edit,
      before: this.fields(edit.before),
      after: this.fields(edit.after),
      ...(facts && { facts: facts.map(this.fact) }),
    };
  }

  row(row: OutboxRow): OutboxRow {
    if (row.kind !== 'buy') return row;
    const body = row.body as unknown as {
      readonly address: Address;
      readonly slip: string;
      readonly lines: readonly { readonly personalisation: string | null }[];
    };
    const own = this.order.slip === body.slip;
    return {
      ...row,
      body: {
        ...row.body,
        address: this.address(body.address),
        slip: own ? this.text(body.slip) : body.slip,
        lines: body.lines.map(this.line) as unknown as OutboxRow<'buy'>['body']['lines'],
      },
    };
  }
}

/** What is known of the buyer of a purchase whose order is not there: where it goes. */
function ofRow({ order, body }: OutboxRow, known: Map<string, Apart>): Apart {
  const { address } = body as unknown as { readonly address: Address };
  const apart = new Apart({ id: order, buyer: { name: address.name, email: '' }, address } as OrderWithTexts);
  known.set(order!, apart);
  return apart;
}

/** Gives each order's buyer a row of its own, wherever the order is, and leaves places in all that repeated it. */
export async function peopleApart(tx: Transaction): Promise<void> {
  const orders = tx.table<OrderWithTexts | Order, string>('orders');
  const edits = tx.table<Edit, string>('edits');
  const outbox = tx.table<OutboxRow, string>('outbox');
  const buyers = tx.table<Buyer, string>('buyers');
  const known = new Map((await orders.toArray()).map((o) => [o.id, new Apart(o as OrderWithTexts)]));
  const whole = [...known.values()].map((a) => a.whole());
  const own = await edits.filter((e) => e.table === 'orders').toArray();
  await edits.bulkPut(own.map((e) => known.get(e.subject.slice('order:'.length))?.edit(e) ?? e));
  const rows = await outbox.filter((r) => r.kind === 'buy').toArray();
  const told = rows.map((r) => (known.get(r.order!) ?? ofRow(r, known)).row(r));
  await outbox.bulkPut(told);
  await orders.bulkPut(whole);
  await buyers.bulkPut([...known.values()].map((a) => a.buyer));
  await archivedApart(tx);
}

/** A block as it was: what its orders were searched by stood in one text. */
interface OldBlock extends Omit<ArchiveBlock, 'who' | 'towns'> {
  readonly columns: { readonly town: readonly string[]; readonly words: readonly string[] };
}

async function archivedApart(tx: Transaction): Promise<void> {
  const archive = tx.table<OldBlock | ArchiveBlock, string>('archive');
  const archivedRows = tx.table<ArchivedRows, string>('archivedRows');
  for (const id of await archive.toCollection().primaryKeys()) {
    const block = (await archive.get(id)) as OldBlock;
    const packed = await archivedRows.get(id);
    if (!packed) continue;
    const who: string[] = [];
    const words: string[] = [];
    const old = unpackRows<Omit<WholeOrder, 'buyer' | 'order'> & { readonly order: OrderWithTexts }>(packed, [
      ...packed.ends.keys(),
    ]);
    const whole = old.map(({ order: kept, ledger, edits }, place): WholeOrder => {
      const order = withUnits(kept as never) as unknown as OrderWithTexts;
      const apart = new Apart(order);
      const now = apart.whole();
      const own = fold(`${order.buyer.name} ${order.address.town}`);
      who[place] = block.ids[place] ? own : '';
      words[place] = block.columns.words[place]!.replace(` ${own} `, ' ');
      return { order: now, ledger, edits: edits.map((e) => apart.edit(e)), buyer: apart.buyer };
    });
    const { rows, buyers } = packOrders(id, whole);
    await archivedRows.put(rows);
    await tx.table<ArchivedRows>('archivedBuyers').put(buyers);
    const towns = block.ids.map((order, place) => (order ? block.columns.town[place]! : ''));
    await archive.put({ ...block, columns: { ...block.columns, words, town: [] }, who, towns });
  }
}
