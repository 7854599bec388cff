import { tallyInWords } from '../../core/catalogue';
import { escapeText } from '../../core/copy';
import { formatMinor, formatMoney } from '../../core/money';
import { clockTime, countOf, dayName } from '../../core/units';
import type { Digest, DigestMarket } from './digest';

const STYLE = `body{font:15px/1.5 system-ui,sans-serif;max-width:46rem;margin:2rem auto;padding:0 1rem;color:#12262b}
h1{font-size:1.4rem}h2{font-size:1rem;margin:1.6rem 0 .3rem;border-bottom:1px solid #cfdadb;padding-bottom:.2rem}
table{border-collapse:collapse;width:100%}td,th{padding:.2rem .5rem;text-align:left;vertical-align:top;border-bottom:1px solid #e6eced}
td.n,th.n{text-align:right;font-variant-numeric:tabular-nums}small{color:#4c6268}`;

/** The events of a day on one marketplace as a line; '' for none. */
export function marketInWords({ published, up, down, out, back }: DigestMarket): string {
  return [
    published && `${countOf(published, 'listing')} published`,
    up && `${countOf(up, 'price')} up`,
    down && `${countOf(down, 'price')} down`,
    out && `${countOf(out, 'listing')} out of stock`,
    back && `${back} back in stock`,
  ]
    .filter(Boolean)
    .join(', ');
}

/** A digest as a file of its own, to be kept or sent: no scripts, nothing fetched, every text escaped. */
export function digestHtml(d: Digest): string {
  const e = escapeText;
  const section = (title: string, body: string) => (body ? `<h2>${e(title)}</h2>\n${body}\n` : '');
  const table = (head: readonly string[], rows: readonly (readonly [string, ...string[]])[]) =>
    rows.length
      ? `<table><tr>${head.map((h, k) => `<th${k ? ' class="n"' : ''}>${e(h)}</th>`).join('')}</tr>\n${rows
          .map(
            (row) => `<tr>${row.map((cell, k) => `<td${k ? ' class="n"' : ''}>${cell}</td>`).join('')}</tr>`,
          )
          .join('\n')}</table>`
      : '';
  const m = (minor: number) => e(formatMinor(minor, d.currency));
  const title = `${d.shop ? `${d.shop}, ` : ''}${dayName(d.day)} ${d.day.slice(0, 4)}`;
  const markets = d.markets
    .map((market) => {
      const says = marketInWords(market);
      if (!says) return '';
      const moves = table(
        ['Price', 'from', 'to'],
        market.moves.map((move) => [
          `${e(move.title)} <small>${e(move.sku)}</small><br><small>${e(move.because)}</small>`,
          e(formatMinor(move.from.price, market.currency)),
          e(formatMinor(move.to.price, market.currency)),
        ]),
      );
      return `<p><b>${e(market.name)}</b>: ${e(says)}.</p>${moves}`;
    })
    .join('\n');
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${e(title)}</title><style>${STYLE}</style></head><body>
<h1>${e(title)}</h1>
<p><small>Times of ${e(d.zone)}, sums in ${e(d.currency)}.</small></p>
${section(
  'Orders',
  table(
    ['', 'Orders', 'Cancelled', 'Revenue', 'Profit', 'Purchases', 'Spent', 'Parcels', 'Held now', 'Late now'],
    [
      [
        'That day',
        String(d.orders.count),
        String(d.orders.cancelled),
        m(d.orders.revenue),
        m(d.orders.profit),
        String(d.orders.bought),
        m(d.orders.spent),
        String(d.orders.shipped),
        String(d.orders.held),
        String(d.orders.late),
      ],
    ],
  ),
)}${section(
  'Needs you',
  d.needs.length
    ? `<ol>${d.needs
        .map(
          (n) =>
            `<li>${e(n.what)}. <small>${e(n.why)}${n.stake > 0 ? e(` At stake ${formatMoney({ minor: n.stake, currency: n.currency })}.`) : ''}</small></li>`,
        )
        .join('\n')}</ol>`
    : '',
)}${section('Marketplaces', markets)}${section(
  'Suppliers',
  d.suppliers
    .map(
      (s) =>
        `<p><b>${e(s.name)}</b>, ${countOf(s.readings, 'reading')}: ${e(tallyInWords(s.tally))}${s.refused ? `; ${countOf(s.refused, 'row')} not imported` : ''}.</p>`,
    )
    .join('\n'),
)}${section(
  'What you changed',
  d.changes.length
    ? `<ul>${d.changes.map((c) => `<li>${e(clockTime(c.at, d.zone))} ${e(c.name)}</li>`).join('\n')}</ul>`
    : '',
)}</body></html>
`;
}
