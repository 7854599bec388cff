import type { ReactNode } from 'react';
import { Picture } from './picture';
import { type Column, Two } from './table/column';

/** The goods of a row: their picture, because people find them by it, what they are, and the small print. */
export function Goods({
  picture,
  title,
  under,
}: {
  picture: { readonly supplier: string; readonly path: string | undefined };
  title: ReactNode;
  under: ReactNode;
}) {
  return (
    <span className="flex items-center gap-2">
      <Picture supplier={picture.supplier} path={picture.path} alt="" size={30} />
      <span className="min-w-0 grow">
        <Two top={title} under={under} />
      </span>
    </span>
  );
}

interface GoodsRow {
  readonly title: string;
  readonly picture: { readonly supplier: string; readonly path: string | undefined };
}

/** The first column of a table of goods, which grows and never leaves. @param under the small print of a row */
export const goodsColumn = <R extends GoodsRow>(
  header: string,
  size: number,
  under: (row: R) => ReactNode,
): Column<R> => ({
  id: 'title',
  header,
  size,
  grows: true,
  rank: 0,
  sort: true,
  value: (row) => row.title,
  cell: (row) => <Goods picture={row.picture} title={row.title} under={under(row)} />,
});
