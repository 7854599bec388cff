import type { Instant } from '../../core/units';
import { timeOf } from '../amounts';
import type { MarketOrder } from '../marketplace';
import { amountIn, type Cell, type FileRead, needed, type ReadRows, readRows, unitsIn } from './rows';

interface Row {
  readonly line: number;
  readonly order: Omit<MarketOrder, 'lines' | 'refunded'>;
  readonly sold: Omit<MarketOrder['lines'][number], 'id'>;
  readonly refunded: number;
}

const DAY = 86_400_000;
/** Hours to ship in, where the file does not say. */
const USUAL = 2 * DAY;
const STATUS = ['paid', 'shipped', 'delivered', 'cancelled'] as const;

/** The columns of a file of sales; `docs/wire-contract.md` says what each means. */
export const SALES_COLUMNS = {
  needed: [
    'order',
    'paid at',
    'sku',
    'quantity',
    'unit price',
    'name',
    'address line 1',
    'town',
    'postcode',
    'country',
  ],
  known: [
    'title',
    'email',
    'address line 2',
    'shipping',
    'ship by',
    'personalisation',
    'note',
    'status',
    'refunded',
    'fees',
    'currency',
  ],
} as const;

/**
 * Reads what a shop without a service sold: one row for each line, rows of one order share its number. Needed: order, paid
 * at (RFC 3339), sku, quantity, unit price, name, address line 1, town, postcode, country. Where known: title, email,
 * address line 2, shipping (what the buyer pays), ship by, personalisation, note (what the buyer wrote), status, refunded, fees (what the shop took).
 * An order with a row that cannot be read is refused whole.
 */
export function readSalesFile(text: string, currency: string, now: Instant): FileRead<MarketOrder> {
  const bad = new Set<string>();
  const read = readRows(text, SALES_COLUMNS.needed, (cell, line): Row => {
    try {
      return rowOf(cell, line, currency, now);
    } catch (error) {
      bad.add(cell('order'));
      throw error;
    }
  });
  return read.ok ? { ok: true, value: together(read.value, bad) } : read;
}

function rowOf(cell: Cell, line: number, currency: string, now: Instant): Row {
  const paidAt = timeOf(cell('paid at'));
  if (paidAt > now + DAY) throw new RangeError(`paid at: ${cell('paid at')} has not come yet`);
  const country = needed(cell, 'country').toUpperCase();
  if (!/^[A-Z]{2}$/.test(country)) throw new RangeError(`country: “${country}” is no code of two letters`);
  const status = STATUS.find((s) => s === (cell('status') || 'paid').toLowerCase());
  if (!status) throw new RangeError(`status: “${cell('status')}” is none of ${STATUS.join(', ')}`);
  const unitPrice = amountIn(cell, 'unit price', currency);
  if (unitPrice === null) throw new RangeError('unit price: is missing');
  if (cell('currency') && cell('currency').toUpperCase() !== currency)
    throw new RangeError(`currency: ${cell('currency')} is not the shop’s ${currency}`);
  const fees = amountIn(cell, 'fees', currency);
  const name = needed(cell, 'name');
  return {
    line,
    order: {
      number: needed(cell, 'order').slice(0, 60),
      status,
      gift: '',
      mark: '',
      request: null,
      returns: [],
      paidAt,
      shipBy: cell('ship by') ? timeOf(cell('ship by')) : paidAt + USUAL,
      buyer: { name, email: cell('email') },
      address: {
        name,
        line1: cell('address line 1'),
        line2: cell('address line 2'),
        town: cell('town'),
        postcode: cell('postcode'),
        country,
      },
      note: cell('note'),
      dispatched: [],
      shipping: amountIn(cell, 'shipping', currency) ?? 0,
      charges: fees === null ? null : [{ kind: 'sale', name: 'Fees', minor: fees }],
    },
    sold: {
      sku: needed(cell, 'sku').slice(0, 64),
      title: cell('title') || cell('sku'),
      quantity: unitsIn(cell, 'quantity'),
      unitPrice,
      personalisation: cell('personalisation') || null,
      cancelled: status === 'cancelled' ? unitsIn(cell, 'quantity') : 0,
    },
    refunded: amountIn(cell, 'refunded', currency) ?? 0,
  };
}

/** Rows of one order put together; what is said of the order is taken from its first row. */
function together({ rows, refused }: ReadRows<Row>, bad: ReadonlySet<string>): ReadRows<MarketOrder> {
  const orders = new Map<
    string,
    { order: Row['order']; refunded: number; lines: MarketOrder['lines'][number][] }
  >();
  const left = [...refused];
  for (const { line, order, sold, refunded } of rows) {
    if (bad.has(order.number)) {
      left.push({ line, reason: `order ${order.number}: another row of it cannot be read` });
      continue;
    }
    const own = orders.get(order.number) ?? { order, refunded: 0, lines: [] };
    const same = own.lines.filter((l) => l.sku === sold.sku).length;
    own.lines.push({ ...sold, id: same ? `${sold.sku}#${same + 1}` : sold.sku });
    own.refunded = Math.max(own.refunded, refunded);
    orders.set(order.number, own);
  }
  return {
    rows: [...orders.values()].map(({ order, refunded, lines }) => ({
      ...order,
      // An order is cancelled once all of its lines are.
      status:
        order.status === 'cancelled' && lines.some((l) => l.cancelled < l.quantity)
          ? 'paid'
          : lines.every((l) => l.cancelled >= l.quantity)
            ? 'cancelled'
            : order.status,
      refunded,
      lines,
    })),
    refused: left.sort((a, b) => a.line - b.line),
  };
}
