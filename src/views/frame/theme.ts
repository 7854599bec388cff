'use client';
import { useEffect } from 'react';

export type Theme = 'light' | 'dark' | 'system';

const media = () => window.matchMedia('(prefers-color-scheme: dark)');

function show(): void {
  const kept = localStorage.getItem('theme') as Theme | null;
  const dark = kept === 'dark' || (kept !== 'light' && media().matches);
  document.documentElement.dataset.theme = dark ? 'dark' : 'light';
}

export function setTheme(theme: Theme): void {
  localStorage.setItem('theme', theme);
  show();
}

/** Follows the remembered choice, else the system. */
export function useTheme(): void {
  useEffect(() => {
    show();
    const query = media();
    query.addEventListener('change', show);
    return () => query.removeEventListener('change', show);
  }, []);
}
