'use client';

import { useEffect, useState } from 'react';
import { ownPicture } from '../core/checks';
import { theShop } from '../work/desk/client';

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

/** Addresses of pictures of our own, by name; '' where one is not in this browser. */
const own = new Map<string, string>();

const addressOf = (supplier: string, path: string) =>
  path.startsWith('/')
    ? `/api/outside/${encodeURIComponent(supplier)}${path}`
    : `/api/address?picture=${encodeURIComponent(path)}`;

/** The address of a picture of our own, from its bytes; null of another, or while it is being read. */
function useOwn(path: string | undefined): string | null {
  const name = path && ownPicture(path) ? path : null;
  const [, setRead] = useState('');
  useEffect(() => {
    if (!name || own.has(name)) return;
    theShop()
      .ownPictureFile(name)
      .then((file) => {
        own.set(name, file ? URL.createObjectURL(file) : '');
        setRead(name);
      });
  }, [name]);
  return name ? (own.get(name) ?? null) : null;
}

/** The bytes of a picture, to be cut or measured. @throws where it cannot be had */
export async function pictureFile(supplier: string, path: string): Promise<Blob> {
  const file = ownPicture(path)
    ? await theShop().ownPictureFile(path)
    : await fetch(addressOf(supplier, path)).then((answer) => (answer.ok ? answer.blob() : null));
  if (!file) throw new Error('The picture could not be fetched.');
  return file;
}

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
  const isOwn = path !== undefined && ownPicture(path) !== null;
  const ours = useOwn(path);
  const address = isOwn ? (ours ?? '') : path ? addressOf(supplier, path) : '';
  const rested = useRested(address);
  const [, setFailed] = useState('');
  if ((!address && !(isOwn && ours === null)) || known.get(address) === 'failed')
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
  if (!address || (!rested && !isOwn))
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
