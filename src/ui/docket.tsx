'use client';
import { X } from 'lucide-react';
import { type ReactNode, useEffect, useState, useSyncExternalStore } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';

/** Pixels that a docket takes. */
const LEAST = 320;
const USUAL = 392;
const MOST = 640;
/** Pixels that stay for what stands beside it. */
const BESIDE = 320;

const NARROW = '(max-width: 1023px)';

function useNarrow(): boolean {
  return useSyncExternalStore(
    (tell) => {
      const query = window.matchMedia(NARROW);
      query.addEventListener('change', tell);
      return () => query.removeEventListener('change', tell);
    },
    () => window.matchMedia(NARROW).matches,
    () => false,
  );
}

/** A view with its docket on the right, whose width is dragged or moved by keys and remembered; over the view where it is narrow. */
export function WithDocket({ docket, children }: { docket: ReactNode; children: ReactNode }) {
  const narrow = useNarrow();
  const [width, setWidth] = useState(USUAL);
  useEffect(() => {
    const kept = Number(localStorage.getItem('docket-width'));
    if (kept >= LEAST && kept <= MOST) setWidth(kept);
  }, []);
  const beside = docket && !narrow;
  return (
    <>
      <Group
        id="view"
        className="min-w-0 grow"
        onLayoutChanged={() => {
          const now = document.getElementById('docket')?.offsetWidth;
          if (now) localStorage.setItem('docket-width', String(now));
        }}
      >
        <Panel id="list" minSize={BESIDE} className="flex">
          {children}
        </Panel>
        {beside && (
          <>
            <Separator
              aria-label="Width of the docket"
              className="w-px bg-rule outline-offset-2 data-[separator=active]:bg-river data-[separator=hover]:bg-river"
            />
            <Panel
              id="docket"
              defaultSize={width}
              minSize={LEAST}
              maxSize={MOST}
              groupResizeBehavior="preserve-pixel-size"
              className="flex"
            >
              {docket}
            </Panel>
          </>
        )}
      </Group>
      {docket && narrow && (
        <div className="absolute inset-y-0 right-0 z-20 flex w-[392px] max-w-full border-l border-rule">
          {docket}
        </div>
      )}
    </>
  );
}

/** The panel that shows the chosen row in full; Esc closes it. Stands in a {@link WithDocket}. */
export function Docket({
  label,
  onClose,
  children,
}: {
  label: string;
  onClose: () => void;
  children: ReactNode;
}) {
  return (
    <aside
      aria-label={label}
      onKeyDown={(e) => {
        if (e.key !== 'Escape' || e.defaultPrevented) return;
        onClose();
        document.querySelector<HTMLElement>('[data-table]')?.focus();
      }}
      className="flex min-w-0 grow bg-surface"
    >
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
