'use client';
import { useEffect, useState } from 'react';
import { theShop } from '../../work/desk/client';

/** Addresses of files by their id; '' where one is not in this browser. */
const known = new Map<string, string>();
const coming = new Map<string, Promise<string>>();

/** The address of a file that is kept, from its bytes. */
async function addressOf(id: string): Promise<string> {
  let asked = coming.get(id);
  if (!asked) {
    asked = theShop()
      .assetFile(id)
      .then((file) => (file ? URL.createObjectURL(file) : ''));
    coming.set(id, asked);
  }
  const address = await asked;
  known.set(id, address);
  return address;
}

/** The address of a file that is kept; null while it is read, '' where it is not in this browser. */
export function useAsset(id: string | null): string | null {
  const [, setRead] = useState('');
  useEffect(() => {
    if (!id || known.has(id)) return;
    let old = false;
    addressOf(id).then(
      () => !old && setRead(id),
      () => coming.delete(id),
    );
    return () => {
      old = true;
    };
  }, [id]);
  return id ? (known.get(id) ?? null) : '';
}

/** A squared ground on which what is transparent can be told. */
export const CHECKED =
  'bg-[repeating-conic-gradient(var(--rule-soft)_0_25%,var(--surface)_0_50%)] bg-[length:12px_12px]';

/** The picture of a design, or of another file that is kept. */
export function AssetPicture({ id, alt, size }: { id: string; alt: string; size: number }) {
  const address = useAsset(id);
  if (!address)
    return (
      <span
        {...(address === '' && alt
          ? { role: 'img', 'aria-label': `${alt}: not in this browser` }
          : { 'aria-hidden': true })}
        className="block shrink-0 rounded-sm border border-rule bg-raised"
        style={{ width: size, height: size }}
      />
    );
  return (
    <img
      src={address}
      alt={alt}
      width={size}
      height={size}
      decoding="async"
      className={`shrink-0 rounded-sm border border-rule object-contain ${CHECKED}`}
      style={{ width: size, height: size }}
    />
  );
}
