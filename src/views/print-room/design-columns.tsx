'use client';
import { formatCount } from '../../core/units';
import { type Column, Two } from '../../ui/table/column';
import type { DesignLine } from '../../work/print/design-list';
import { AssetPicture } from './asset-picture';
import { sizeInWords } from './words';

const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

export const DESIGN_COLUMNS: readonly Column<DesignLine>[] = [
  {
    id: 'name',
    header: 'Design',
    size: 260,
    grows: true,
    sort: true,
    rank: 0,
    value: (d) => d.name,
    cell: (d) => (
      <span className="flex items-center gap-2.5">
        <AssetPicture id={d.small} alt="" size={34} />
        <Two top={d.name} under={d.keywords.join(', ') || 'no keywords'} />
      </span>
    ),
  },
  {
    id: 'set',
    header: 'Set',
    size: 130,
    rank: 3,
    value: (d) => d.set,
    cell: (d) => d.set || <i className="text-muted">none</i>,
  },
  {
    id: 'size',
    header: 'Size',
    size: 170,
    sort: true,
    rank: 1,
    value: (d) => sizeInWords(d),
    cell: (d) => <Two top={sizeInWords(d)} under={d.look.transparent ? 'transparent' : 'opaque'} />,
  },
  {
    id: 'notes',
    header: 'To know',
    size: 110,
    rank: 4,
    value: (d) => d.notes.join(', '),
    cell: (d) => (d.notes.length ? <span className="text-lamp">◆ {d.notes.join(', ')}</span> : ''),
  },
  {
    id: 'sheets',
    header: 'Sheets',
    size: 76,
    right: true,
    rank: 2,
    value: (d) => d.sheets,
    cell: (d) => formatCount(d.sheets),
  },
  {
    id: 'products',
    header: 'Products',
    size: 90,
    right: true,
    sort: true,
    rank: 1,
    value: (d) => d.products,
    cell: (d) => formatCount(d.products),
  },
  {
    id: 'at',
    header: 'Added',
    size: 110,
    sort: true,
    right: true,
    rank: 5,
    value: (d) => d.at,
    cell: (d) => day.format(d.at),
  },
];
