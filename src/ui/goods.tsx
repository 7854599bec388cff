import type { ReactNode } from 'react';
import { Picture } from './picture';
import { Two } from './table/column';

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
