'use client';
import { formatCount } from '../../core/units';
import type { RefusedCell } from '../../work/editing/cells';
import type { ListingField } from '../../work/quoting/listing-cells';
import { Button } from '../button';
import { Notice } from '../head';

/** Cells told one by one. */
const TOLD = 6;

/** Cells that were not taken, each with the reason. */
export function RefusedCells({
  refused,
  columns,
  onAgree,
  onClose,
}: {
  refused: readonly RefusedCell[];
  columns: readonly ListingField[];
  /** Carries out what is only asked about. */
  onAgree: () => void;
  onClose: () => void;
}) {
  if (!refused.length) return null;
  const asked = refused.filter((cell) => cell.asks).length;
  return (
    <div className="px-4">
      <Notice>
        <ul>
          {refused.slice(0, TOLD).map((cell) => (
            <li key={`${cell.listing} ${cell.field}`}>
              <span className="font-mono">{cell.listing.slice(cell.listing.indexOf(':') + 1)}</span>,{' '}
              {columns.find((c) => c.id === cell.field)?.name}: {cell.reason}
            </li>
          ))}
          {refused.length > TOLD && <li>and {formatCount(refused.length - TOLD)} more</li>}
        </ul>
        {asked > 0 && (
          <Button onClick={onAgree}>
            {asked === 1 ? 'Keep it all the same' : `Keep ${formatCount(asked)} all the same`}
          </Button>
        )}
        <Button kind="text" onClick={onClose}>
          Close
        </Button>
      </Notice>
    </div>
  );
}
