'use client';

import { useEffect, useState } from 'react';

/** Milliseconds for which a place stands still before its picture is asked for: not while one types or scrolls. */
const REST = 180;
/** Milliseconds after which one that failed is asked for again. */
const AGAIN = 60_000;
/** What came of each address since the page was opened. */
const known = new Map<string, 'came' | 'failed'>();

/** Whether a picture may be asked for now. */
function useRested(address: string): boolean {
  const [rested, setRested] = useState('');
  useEffect(() => {
    if (!address || known.has(address)) return;
    const timer = setTimeout(() => setRested(address), REST);
    return () => clearTimeout(timer);
  }, [address]);
  return rested === address || known.has(address);
}

const addressOf = (supplier: string, path: string) =>
  path.startsWith('/')
    ? `/api/outside/${encodeURIComponent(supplier)}${path}`
    : `/api/address?picture=${encodeURIComponent(path)}`;

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
  const address = path ? addressOf(supplier, path) : '';
  const rested = useRested(address);
  const [, setFailed] = useState('');
  if (!address || known.get(address) === 'failed')
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
  if (!rested)
    return (
      <span
        aria-hidden
        className="shrink-0 rounded-sm border border-rule bg-raised"
        style={{ width: size, height: size }}
      />
    );
  return (
    <img
      // Never the one of before beside another title.
      key={address}
      src={address}
      alt={alt}
      width={size}
      height={size}
      loading="lazy"
      onLoad={() => known.set(address, 'came')}
      onError={() => {
        known.set(address, 'failed');
        setTimeout(() => known.delete(address), AGAIN);
        setFailed(address);
      }}
      decoding="async"
      className="shrink-0 rounded-sm border border-rule bg-raised object-contain"
      style={{ width: size, height: size }}
    />
  );
}
