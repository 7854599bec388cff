'use client';

import { useState } from 'react';

/**
 * A supplier's picture, through Sampan's own server: a path of its service, or an address of its list. One that
 * cannot be fetched says so in its place. Without `alt` it is an ornament beside a title.
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
        {...(alt
          ? { role: 'img', 'aria-label': path ? `${alt}: not reached` : `${alt}: none` }
          : { 'aria-hidden': true })}
        className="grid shrink-0 place-items-center rounded-sm border border-dashed border-edge text-[10px] text-muted"
        style={{ width: size, height: size }}
      >
        {size >= 48 && (path ? 'not reached' : 'none')}
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
      decoding="async"
      className="shrink-0 rounded-sm border border-rule bg-raised object-contain"
      style={{ width: size, height: size }}
    />
  );
}
