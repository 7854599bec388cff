import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Papa from 'papaparse';
import { makeParts, type Part } from './hollin';

/** One row of an order file. */
interface TakenLine {
  /** The buyer's side's id of it. */
  line: string;
  sku: string;
  quantity: number;
}

/** An order that Hollin took out of an order file. */
interface Taken {
  reference: string;
  number: string;
  lines: TakenLine[];
  goods: number;
  shipping: number;
  takenAt: number;
  /** Parts that are not in stock do not go: their order is cancelled. */
  cancelled: boolean;
  parcels: { tracking: string; shippedAt: number; line: string | null }[];
}

/** All that Hollin's office remembers: no service, only files that come and go. */
export interface Office {
  /** How many parts its list has. */
  count: number;
  issued: number;
  orders: Taken[];
  /** Parts whose cost or stock moved since the list was first made. */
  moved: Record<string, { cost: number; stock: string }>;
}

export const openOffice = (): Office => ({ count: 600, issued: 5100, orders: [], moved: {} });

const SHIPPING = [
  { upToPounds: 1, cents: 595 },
  { upToPounds: 5, cents: 995 },
  { upToPounds: 60, cents: 1890 },
] as const;

/** Hollin's parts as they stand now. */
export const partsOf = (o: Office): Part[] =>
  makeParts(77, o.count).map((p) => ({ ...p, ...o.moved[p.code] }));

const unitsOf = (stock: string) => (stock === 'out of stock' ? 0 : stock === '>50' ? 60 : Number(stock));

/** Takes an order file: each reference once, however often the file comes. @returns how many orders were new */
export function takeOrderFile(o: Office, csv: string, at: number): number {
  const rows = Papa.parse<Record<string, string>>(csv.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: true,
  }).data;
  const parts = new Map(partsOf(o).map((p) => [p.code, p]));
  const byReference = new Map<string, TakenLine[]>();
  for (const row of rows) {
    const line = { line: row.line ?? '', sku: row.sku ?? '', quantity: Number(row.quantity) || 0 };
    if (!row.reference || !parts.has(line.sku) || line.quantity < 1) continue;
    byReference.set(row.reference, [...(byReference.get(row.reference) ?? []), line]);
  }
  let fresh = 0;
  for (const [reference, lines] of byReference) {
    if (o.orders.some((one) => one.reference === reference)) continue;
    fresh++;
    const pounds = lines.reduce((n, l) => n + Number(parts.get(l.sku)!.pounds) * l.quantity, 0);
    const cancelled = lines.some((l) => unitsOf(parts.get(l.sku)!.stock) < l.quantity);
    o.orders.push({
      reference,
      number: `HX-${++o.issued}`,
      lines,
      goods: cancelled ? 0 : lines.reduce((n, l) => n + parts.get(l.sku)!.cost * l.quantity, 0),
      shipping: cancelled ? 0 : (SHIPPING.find((b) => pounds <= b.upToPounds)?.cents ?? 2490),
      takenAt: at,
      cancelled,
      parcels: [],
    });
  }
  return fresh;
}

/** Ships what has waited long enough; of several parts the last goes a while after the others. */
export function shipTaken(o: Office, at: number, after: number): void {
  for (const order of o.orders) {
    if (order.cancelled || at - order.takenAt < after) continue;
    const tracking = (n: number) => `HOLL${order.number.slice(3)}${String(n).padStart(3, '0')}`;
    if (order.lines.length === 1 && !order.parcels.length)
      order.parcels.push({ tracking: tracking(1), shippedAt: at, line: null });
    else if (
      order.lines.length > order.parcels.length &&
      at - order.takenAt >= after * (1 + order.parcels.length)
    )
      order.parcels.push({
        tracking: tracking(order.parcels.length + 1),
        shippedAt: at,
        line: order.lines[order.parcels.length]!.line,
      });
  }
}

const dollars = (cents: number) => (cents / 100).toFixed(2);

/** The tracking file that goes back: what was taken, what was shipped, what was charged. */
export function trackingCsv(o: Office): string {
  const fields = [
    'reference',
    'number',
    'status',
    'carrier',
    'tracking',
    'shipped at',
    'line',
    'sku',
    'quantity',
    'goods',
    'shipping',
  ];
  const data = o.orders.flatMap((order) => {
    const charge = [dollars(order.goods), dollars(order.shipping)];
    const head = [order.reference, order.number];
    if (order.cancelled) return [[...head, 'cancelled', '', '', '', '', '', '', ...charge]];
    if (!order.parcels.length) return [[...head, 'accepted', '', '', '', '', '', '', ...charge]];
    return order.parcels.map((p) => {
      const line = order.lines.find((l) => l.line === p.line);
      const at = new Date(p.shippedAt).toISOString();
      return [
        ...head,
        'shipped',
        'Rookline Parcels',
        p.tracking,
        at,
        line?.line ?? '',
        line?.sku ?? '',
        line ? String(line.quantity) : '',
        ...charge,
      ];
    });
  });
  return `${Papa.unparse({ fields, data })}\r\n`;
}

/** The other end of the order files: a folder. What is put into `orders` is taken; `tracking.csv` is written anew. */
export function tendFolder(o: Office, folder: string, at: number, after: number): void {
  const inbox = join(folder, 'orders');
  mkdirSync(inbox, { recursive: true });
  for (const name of readdirSync(inbox)) {
    if (!name.toLowerCase().endsWith('.csv')) continue;
    takeOrderFile(o, readFileSync(join(inbox, name), 'utf8'), at);
    renameSync(join(inbox, name), join(inbox, `${name}.taken`));
  }
  shipTaken(o, at, after);
  const text = trackingCsv(o);
  const file = join(folder, 'tracking.csv');
  if (!existsSync(file) || readFileSync(file, 'utf8') !== text) writeFileSync(file, text);
}
