'use client';

import { useState } from 'react';

/**
 * A supplier's picture, through Sampan's own server: a path of its service, or an address of its list. One that
 * cannot be fetched says so in its place.
 */
export function Picture({
  supplier,
  path,
  alt,
  size,
}: {
  supplier: string;
  path: string | undefined;
  alt: string;
  size: number;
}) {
  const [failed, setFailed] = useState<string | null>(null);
  if (!path || failed === path)
    return (
      <span
        role="img"
        aria-label={path ? `${alt}: not reached` : 'No picture'}
        className="grid place-items-center rounded-sm border border-dashed border-edge text-[10px] text-muted"
        style={{ width: size, height: size }}
      >
        {path ? 'not reached' : 'none'}
      </span>
    );
  return (
    <img
      src={
        path.startsWith('/')
          ? `/api/outside/${encodeURIComponent(supplier)}${path}`
          : `/api/address?picture=${encodeURIComponent(path)}`
      }
      alt={alt}
      width={size}
      height={size}
      loading="lazy"
      onError={() => setFailed(path)}
      className="rounded-sm border border-rule bg-raised"
    />
  );
}
