import { createHash } from 'node:crypto';
import type { Answer, Handler } from '../answer';
import type { Market } from '../marketplace/market';
import { drawPicture } from '../supplier/brackwater';
import { itemsOf, onWire, type Warehouse } from '../supplier/warehouse';
import { partsCsv, partsJson, partsStockCsv, partsXml } from './hollin';
import { type Office, partsOf, trackingCsv } from './hollin-orders';

const cell = (text: string) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

/** Brackwater's catalogue as a file, for shops without its service. */
export function warehouseCsv(w: Warehouse): string {
  const header =
    'SKU,Group,Barcode,Title,Brand,Category,Colour,Size,Cost GBP,MAP,MSRP,Stock,Weight g,Ships from,Dispatch days,Description';
  const rows = [...itemsOf(w).values()]
    .map(onWire)
    .map((i) =>
      [
        i.sku,
        i.group ?? '',
        i.gtin ?? '',
        i.title,
        i.brand,
        i.category,
        i.options?.Colour ?? '',
        i.options?.Size ?? '',
        i.cost,
        i.map ?? '',
        i.msrp ?? '',
        String(i.stock),
        String(i.grams),
        i.shipsFrom ?? '',
        String(i.dispatchDays ?? ''),
        i.description,
      ]
        .map(cell)
        .join(','),
    );
  return [header, ...rows, ''].join('\n');
}

/** A shop's own export of its listings, as Pennywharf's pages give it out. */
export function listingsCsv(m: Market): string {
  const header =
    'Listing SKU;Status;Title;Category;Brand;EAN;Colour;Size;Product group;Selling price;Quantity';
  const value = (o: Record<string, string> | undefined, names: readonly string[]) =>
    Object.entries(o ?? {}).find(([k]) => names.includes(k))?.[1] ?? '';
  const rows = Object.values(m.listings).map((l) =>
    [
      l.sku,
      l.state,
      l.title,
      l.category,
      l.brand,
      l.gtin ?? '',
      value(l.options, ['Colour', 'Color', 'Farbe', 'Couleur']),
      value(l.options, ['Size', 'Größe', 'Taille']),
      l.group ?? '',
      l.price,
      String(l.quantity),
    ]
      .map((t) => (/[";\n]/.test(t) ? `"${t.replaceAll('"', '""')}"` : t))
      .join(';'),
  );
  return [header, ...rows, ''].join('\r\n');
}

/**
 * A file server as suppliers run it: lists at addresses, with the marks by which a reader asks whether they
 * changed (RFC 9110, section 13).
 */
export function listServer(w: Warehouse, m: Market, office: Office, day: () => string): Handler {
  const lists: Record<string, [string, () => string]> = {
    '/hollin/price-list.csv': ['text/csv; charset=utf-8', () => partsCsv(partsOf(office), day())],
    '/hollin/stock.csv': ['text/csv; charset=utf-8', () => partsStockCsv(partsOf(office))],
    '/hollin/price-list.json': ['application/json', () => partsJson(partsOf(office))],
    '/hollin/price-list.xml': ['application/xml', () => partsXml(partsOf(office))],
    '/hollin/tracking.csv': ['text/csv; charset=utf-8', () => trackingCsv(office)],
    '/brackwater/catalogue.csv': ['text/csv; charset=utf-8', () => warehouseCsv(w)],
    '/pennywharf/listings.csv': ['text/csv; charset=utf-8', () => listingsCsv(m)],
  };
  return (request): Answer | null => {
    if (request.method === 'GET' && request.path.startsWith('/pictures/'))
      return {
        status: 200,
        headers: { 'content-type': 'image/svg+xml' },
        body: drawPicture(request.path.slice(10)),
      };
    const list = Object.hasOwn(lists, request.path) ? lists[request.path] : undefined;
    if (request.method !== 'GET' || !list) return null;
    const body = list[1]();
    const etag = `"${createHash('sha256').update(body).digest('base64url').slice(0, 22)}"`;
    if (request.headers['if-none-match'] === etag) return { status: 304, headers: { etag } };
    return { status: 200, headers: { etag, 'content-type': list[0] }, body };
  };
}
