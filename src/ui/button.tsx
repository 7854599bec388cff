'use client';
import type { ButtonHTMLAttributes } from 'react';

type Kind = 'main' | 'quiet' | 'text';

const LOOK: Record<Kind, string> = {
  main: 'border-river bg-river text-river-ink hover:brightness-110',
  quiet: 'border-edge text-river hover:bg-river-soft',
  text: 'border-transparent text-river hover:underline px-1.5',
};

export function Button({
  kind = 'quiet',
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: Kind }) {
  return (
    <button
      type="button"
      className={`rounded-sm border px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap disabled:cursor-not-allowed disabled:opacity-50 disabled:hover:brightness-100 ${LOOK[kind]} ${className}`}
      {...rest}
    />
  );
}
