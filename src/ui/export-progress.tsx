import { formatCount } from '../core/units';
import { Button } from './button';

/** How far a file is that is being written. */
export interface Done {
  readonly n: number;
  readonly total: number;
}

export function ExportProgress({ done: { n, total }, onStop }: { done: Done; onStop: () => void }) {
  return (
    <span className="flex items-center gap-2 text-[13px] text-muted">
      <progress max={total} value={n} aria-label="Exporting" className="w-28" />
      {formatCount(n)} of {formatCount(total)}
      <Button kind="text" onClick={onStop}>
        Stop
      </Button>
    </span>
  );
}
