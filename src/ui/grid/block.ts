'use client';
import { useCallback, useMemo, useState } from 'react';

export interface Place {
  readonly row: number;
  readonly column: number;
}

/** A block of cells, all four sides included. */
export interface Block {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
}

const blockOf = (a: Place, b: Place): Block => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  left: Math.min(a.column, b.column),
  right: Math.max(a.column, b.column),
});

export const sizeOfBlock = (b: Block): number => (b.bottom - b.top + 1) * (b.right - b.left + 1);

/** The cell that keys go to, and the block that reaches from there. */
export interface Chosen {
  readonly at: Place;
  /** The other corner of the block. */
  readonly end: Place;
  readonly block: Block;
  /** Chooses a cell, or extends the block to it. Places beyond the edges are the cells at the edges. */
  readonly choose: (to: Place, extend?: boolean) => void;
  readonly chooseBlock: (from: Place, to: Place) => void;
}

const inside = (n: number, count: number) => Math.min(Math.max(n, 0), Math.max(0, count - 1));

/** @param onMove hears of the cell that is to be seen */
export function useChosen(rows: number, columns: number, onMove: (to: Place) => void): Chosen {
  const [at, setAt] = useState<Place>({ row: 0, column: 0 });
  const [end, setEnd] = useState<Place>({ row: 0, column: 0 });
  const choose = useCallback(
    (to: Place, extend = false) => {
      const next = { row: inside(to.row, rows), column: inside(to.column, columns) };
      setEnd(next);
      if (!extend) setAt(next);
      onMove(next);
    },
    [rows, columns, onMove],
  );
  const chooseBlock = useCallback((from: Place, to: Place) => {
    setAt(from);
    setEnd(to);
  }, []);
  const block = useMemo(() => blockOf(at, end), [at, end]);
  return { at, end, block, choose, chooseBlock };
}
