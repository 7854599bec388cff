'use client';
import { useEffect, useState } from 'react';

/** The address of a drawing of ours, as long as it is shown. */
export function useSvgAddress(svg: string): string | null {
  const [address, setAddress] = useState<string | null>(null);
  useEffect(() => {
    const made = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
    setAddress(made);
    return () => URL.revokeObjectURL(made);
  }, [svg]);
  return address;
}
