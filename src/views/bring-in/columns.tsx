'use client';
import { optionsInWords } from '../../core/catalogue';
import { formatMinor, signOf } from '../../core/money';
import { StateMark } from '../../ui/state-mark';
import { type Column, Two } from '../../ui/table/column';
import type { BroughtRow, Show } from './rows';

const BY = { sku: 'by SKU', gtin: 'by barcode', looks: 'by looks' } as const;
const STATES: Readonly<Record<string, string>> = { live: 'on sale', paused: 'paused', ended: 'ended' };

/** @param names of the suppliers, by id */
export function columnsFor(
  currency: string,
  show: Show,
  names: ReadonlyMap<string, string>,
): Column<BroughtRow>[] {
  const options = (o: Readonly<Record<string, string>>) =>
    Object.keys(o).length ? `, ${optionsInWords(o)}` : '';
  return [
    {
      id: 'listing',
      header: 'In the shop',
      size: 180,
      grows: true,
      rank: 0,
      cell: ({ listing, product, variant }) => (
        <Two
          top={`${product.title ?? ''}${options(variant.options)}`}
          under={<span className="font-mono">{listing.sku}</span>}
        />
      ),
    },
    {
      id: 'state',
      header: 'State',
      size: 76,
      rank: 4,
      cell: ({ listing }) => STATES[listing.state] ?? listing.state,
    },
    {
      id: 'price',
      header: `Price ${signOf(currency)}`,
      size: 74,
      rank: 1,
      right: true,
      cell: ({ listing }) => (listing.published ? formatMinor(listing.published.price, currency) : ''),
    },
    {
      id: 'item',
      header: show === 'linked' ? 'Sells' : 'May sell',
      size: 180,
      grows: true,
      rank: 0,
      cell: ({ source, proposal }) => {
        const best = proposal?.candidates.find(
          (c) => !source || (c.sku === source.item && c.supplier === source.supplier),
        );
        if (source)
          return (
            <Two
              top={best?.title ?? source.item}
              under={
                <span className="font-mono">{`${source.item} · ${names.get(source.supplier) ?? ''}`}</span>
              }
            />
          );
        return best ? (
          <Two
            top={best.title + options(best.options)}
            under={<span className="font-mono">{`${best.sku} · ${names.get(best.supplier) ?? ''}`}</span>}
          />
        ) : (
          <span className="text-muted">nothing like it</span>
        );
      },
    },
    {
      id: 'by',
      header: 'Found',
      size: 96,
      rank: 1,
      cell: ({ source, proposal }) => {
        const best = proposal?.candidates[0];
        if (source) return <StateMark tone="well">Linked</StateMark>;
        return best ? (
          <Two
            top={<StateMark tone={proposal?.sure ? 'well' : 'person'}>{BY[best.by]}</StateMark>}
            under={`${best.score} of 100`}
          />
        ) : (
          <StateMark tone="waits">not found</StateMark>
        );
      },
    },
  ];
}
