'use client';
import { X } from 'lucide-react';
import { type ReactNode, useEffect, useState } from 'react';

const LEAST = 320;
const MOST = 640;

/**
 * The panel on the right that shows the chosen row in full. Resizable by its edge or by arrow keys on it; Esc
 * closes; over the table on narrow windows.
 */
export function Docket({
  label,
  onClose,
  children,
}: {
  label: string;
  onClose: () => void;
  children: ReactNode;
}) {
  const [width, setWidth] = useState(392);
  useEffect(() => {
    const kept = Number(localStorage.getItem('docket-width'));
    if (kept >= LEAST && kept <= MOST) setWidth(kept);
  }, []);
  const resize = (to: number) => {
    const next = Math.round(Math.min(Math.max(to, LEAST), MOST));
    setWidth(next);
    localStorage.setItem('docket-width', String(next));
  };
  return (
    <aside
      aria-label={label}
      onKeyDown={(e) => {
        if (e.key !== 'Escape' || e.defaultPrevented) return;
        onClose();
        document.querySelector<HTMLElement>('[data-table]')?.focus();
      }}
      className="absolute inset-y-0 right-0 z-20 flex max-w-full border-l border-rule bg-surface lg:relative lg:z-0"
      style={{ width }}
    >
      <div
        role="slider"
        aria-orientation="horizontal"
        aria-label="Width of the docket"
        aria-valuenow={width}
        aria-valuemin={LEAST}
        aria-valuemax={MOST}
        tabIndex={0}
        onKeyDown={(e) => {
          if (e.key === 'ArrowLeft') resize(width + 16);
          else if (e.key === 'ArrowRight') resize(width - 16);
          else return;
          e.preventDefault();
        }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => {
          if (e.currentTarget.hasPointerCapture(e.pointerId)) resize(window.innerWidth - e.clientX);
        }}
        className="absolute inset-y-0 -left-1 w-2 cursor-col-resize hover:bg-river-soft"
      />
      <div className="min-w-0 grow overflow-auto px-4 pt-3 pb-6">
        <button
          type="button"
          aria-label="Close the docket"
          title="Close (Esc)"
          onClick={onClose}
          className="float-right -mr-1 p-1 text-muted hover:text-ink"
        >
          <X aria-hidden size={16} />
        </button>
        {children}
      </div>
    </aside>
  );
}
