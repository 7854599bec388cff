'use client';
import {
  type ColumnDef,
  type ColumnOrderState,
  type ColumnSizingState,
  getCoreRowModel,
  useReactTable,
  type VisibilityState,
} from '@tanstack/react-table';
import { type PointerEvent as ReactPointerEvent, useCallback, useEffect, useMemo, useState } from 'react';
import type { Column } from './column';

/** What is remembered of a table. */
interface Remembered {
  readonly order: ColumnOrderState;
  readonly hidden: VisibilityState;
  readonly sizes: ColumnSizingState;
}

const NOTHING: Remembered = { order: [], hidden: {}, sizes: {} };
const NARROWEST = 44;
const WIDEST = 900;

const keyOf = (id: string) => `table:${id}`;

function read(id: string): Remembered {
  try {
    const kept = JSON.parse(localStorage.getItem(keyOf(id)) ?? 'null') as Partial<Remembered> | null;
    const sizes = Object.entries(kept?.sizes ?? {}).filter(([, n]) => Number.isFinite(n));
    return {
      order: Array.isArray(kept?.order) ? kept.order.map(String) : [],
      hidden: { ...kept?.hidden },
      sizes: Object.fromEntries(sizes),
    };
  } catch {
    return NOTHING;
  }
}

export interface Layout<R> {
  /** Columns that are drawn, in order. */
  readonly shown: readonly Column<R>[];
  /** CSS grid tracks of them. */
  readonly tracks: string;
  /** All columns in the seller's order. */
  readonly all: readonly { readonly column: Column<R>; readonly visible: boolean; readonly room: boolean }[];
  readonly show: (id: string, visible: boolean) => void;
  readonly order: (ids: readonly string[]) => void;
  readonly size: (id: string, width: number) => void;
  readonly sizeOf: (id: string) => number;
  readonly resizer: (id: string) => (event: ReactPointerEvent) => void;
  readonly reset: () => void;
}

/**
 * Which columns a table draws, in which order and how wide; the seller's choice is remembered. Where there is not enough
 * room, the lesser ones leave.
 */
export function useLayout<R>(id: string, columns: readonly Column<R>[], room: number): Layout<R> {
  const [kept, setKept] = useState(NOTHING);
  useEffect(() => setKept(read(id)), [id]);
  const change = useCallback(
    (part: (before: Remembered) => Partial<Remembered>) =>
      setKept((before) => {
        const next = { ...before, ...part(before) };
        localStorage.setItem(keyOf(id), JSON.stringify(next));
        return next;
      }),
    [id],
  );
  const defs = useMemo(
    () =>
      columns.map(
        (c): ColumnDef<R> => ({
          id: c.id,
          header: c.header,
          size: c.size,
          minSize: NARROWEST,
          maxSize: WIDEST,
        }),
      ),
    [columns],
  );
  const columnVisibility = useMemo(
    () => ({ ...Object.fromEntries(columns.flatMap((c) => (c.off ? [[c.id, false]] : []))), ...kept.hidden }),
    [columns, kept.hidden],
  );
  const model = useReactTable<R>({
    data: NO_ROWS,
    columns: defs,
    state: { columnOrder: kept.order, columnVisibility, columnSizing: kept.sizes },
    getCoreRowModel: getCoreRowModel(),
  });
  const all = useMemo(() => {
    const byId = new Map(columns.map((c) => [c.id, c]));
    const widths = new Map(columns.map((c) => [c.id, kept.sizes[c.id] ?? c.size]));
    const leaves = model.getAllLeafColumns();
    const place = (one: string) => {
      const at = kept.order.indexOf(one);
      return at < 0 ? kept.order.length + leaves.findIndex((l) => l.id === one) : at;
    };
    const ordered = [...leaves].sort((a, b) => place(a.id) - place(b.id));
    const wanted = ordered.flatMap((leaf) => (leaf.getIsVisible() ? (byId.get(leaf.id) ?? []) : []));
    const fits = new Set(wanted.map((c) => c.id));
    let width = wanted.reduce((sum, c) => sum + widths.get(c.id)!, 0);
    for (const c of [...wanted].sort((a, b) => (b.rank ?? 1) - (a.rank ?? 1))) {
      if (width <= room || (c.rank ?? 1) === 0) break;
      fits.delete(c.id);
      width -= widths.get(c.id)!;
    }
    return ordered.flatMap((leaf) => {
      const column = byId.get(leaf.id);
      return column ? { column, visible: leaf.getIsVisible(), room: fits.has(leaf.id) } : [];
    });
  }, [columns, kept, model, room]);
  const sizeOf = useCallback(
    (one: string) => kept.sizes[one] ?? columns.find((c) => c.id === one)?.size ?? NARROWEST,
    [kept, columns],
  );
  const shown = useMemo(() => all.flatMap((a) => (a.visible && a.room ? a.column : [])), [all]);
  const tracks = useMemo(() => {
    // One at least takes what is left, so that rows reach across the table.
    const grows = shown.some((c) => c.grows) ? undefined : shown.at(-1)?.id;
    return shown
      .map((c) => (c.grows || c.id === grows ? `minmax(${sizeOf(c.id)}px,1fr)` : `${sizeOf(c.id)}px`))
      .join(' ');
  }, [shown, sizeOf]);
  const size = useCallback(
    (one: string, width: number) =>
      change(({ sizes }) => ({
        sizes: { ...sizes, [one]: Math.round(Math.min(Math.max(width, NARROWEST), WIDEST)) },
      })),
    [change],
  );
  const resizer = useCallback(
    (one: string) => (event: ReactPointerEvent) => {
      event.preventDefault();
      event.stopPropagation();
      const target = event.currentTarget as HTMLElement;
      const from = event.clientX;
      // As wide as it is drawn: a column that grows is wider than its least.
      const before = target.parentElement?.clientWidth ?? sizeOf(one);
      target.setPointerCapture(event.pointerId);
      const move = (e: PointerEvent) => size(one, before + e.clientX - from);
      const end = () => {
        target.removeEventListener('pointermove', move);
        target.removeEventListener('pointerup', end);
      };
      target.addEventListener('pointermove', move);
      target.addEventListener('pointerup', end);
    },
    [size, sizeOf],
  );
  return {
    shown,
    tracks,
    all,
    sizeOf,
    size,
    resizer,
    show: useCallback(
      (one, visible) => change(({ hidden }) => ({ hidden: { ...hidden, [one]: visible } })),
      [change],
    ),
    order: useCallback((ids) => change(() => ({ order: [...ids] })), [change]),
    reset: useCallback(() => change(() => NOTHING), [change]),
  };
}

/** Rows are drawn by place, not by the model: it holds the columns alone. */
const NO_ROWS: never[] = [];
