'use client';
import { formatMinor, signOf } from '../../core/money';
import { countOf } from '../../core/units';
import { Notice, Section } from '../../ui/head';
import type { ProductsPlanned, SizePrice } from '../../work/print/product-plan';

/** What each size costs, and what it would be sold for. */
export function Prices({ planned }: { planned: ProductsPlanned }) {
  const { prices, markets, currency, missing } = planned;
  // Colours that cost and sell the same are one row.
  const rows = [
    ...new Map(prices.map((p) => [`${p.size} ${p.cost} ${JSON.stringify(p.prices)}`, p])).values(),
  ];
  return (
    <Section title="Cost and price of each size">
      {missing.length > 0 && (
        <Notice>
          {countOf(missing.length, 'item')} not offered by the maker now: {missing.slice(0, 6).join(', ')}
        </Notice>
      )}
      <table className="w-full text-right text-[13px]">
        <thead className="text-xs text-muted">
          <tr>
            <th scope="col" className="py-1 text-left font-semibold">
              Size
            </th>
            <th scope="col" className="font-semibold">
              Cost {signOf(currency)}
            </th>
            {markets.map((m) => (
              <th key={m.id} scope="col" className="pl-2 font-semibold">
                {m.name} {signOf(m.currency)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((p) => (
            <PriceRow key={`${p.sku}`} row={p} currency={currency} markets={markets} />
          ))}
        </tbody>
      </table>
    </Section>
  );
}

function PriceRow({
  row,
  currency,
  markets,
}: {
  row: SizePrice;
  currency: string;
  markets: ProductsPlanned['markets'];
}) {
  return (
    <tr className="border-t border-rule-soft">
      <th scope="row" className="py-1 text-left font-normal">
        {row.size || 'one size'}
        {row.stock === 0 && <span className="text-lamp"> ◆ out of stock</span>}
      </th>
      <td>{row.cost === null ? '–' : formatMinor(row.cost, currency)}</td>
      {markets.map((m) => {
        const price = row.prices.find((p) => p.market === m.id);
        return (
          <td key={m.id} className="pl-2">
            {price?.price == null ? (
              <span className="text-xs text-lamp">{price?.why || 'no price yet'}</span>
            ) : (
              <>
                {formatMinor(price.price, m.currency)}
                <span className={`block text-xs ${(price.profit ?? 0) < 0 ? 'text-loss' : 'text-river'}`}>
                  {price.profit === null ? '' : formatMinor(price.profit, m.currency, true)}
                </span>
              </>
            )}
          </td>
        );
      })}
    </tr>
  );
}
