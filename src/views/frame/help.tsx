'use client';
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { Button } from '../../ui/button';
import { STOPS } from './course';

const KEYS = [
  ['↑ ↓ or j k', 'move in a table'],
  ['Space', 'select a row; Shift with an arrow or a click selects on'],
  ['Ctrl A', 'select the rows in view, then all matches'],
  ['Enter', 'open the docket of a row'],
  ['F2', 'edit a price in its place'],
  ['Ctrl C', 'copy a row, to paste it into a spreadsheet'],
  ['Esc', 'close the docket, clear the search'],
  ['/', 'search; ↓ goes on to the table'],
  ['Ctrl K', 'commands'],
  ['Ctrl Z', 'undo the last change made in this tab'],
  ['Ctrl Shift Z', 'redo what was undone'],
  ...STOPS.map((s) => [`g ${s.key}`, `go to ${s.name}`] as const),
  ['g c', 'go to Connections'],
] as const;

export function Help({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div aria-hidden className="fixed inset-0 bg-black/30" />
      <DialogPanel className="fixed top-[10vh] left-1/2 max-h-[80vh] w-[520px] max-w-[94vw] -translate-x-1/2 overflow-auto rounded-sm border border-rule bg-surface p-5 shadow-lg">
        <DialogTitle className="text-base font-semibold">Keys</DialogTitle>
        <dl className="mt-3 grid grid-cols-[8rem_1fr] gap-y-1.5 text-[13.5px]">
          {KEYS.map(([keys, does]) => (
            <div key={keys} className="contents">
              <dt className="font-mono">{keys}</dt>
              <dd>{does}</dd>
            </div>
          ))}
        </dl>
        <p className="mt-4 text-[13px] text-muted">
          The work runs from left to right: goods come in at Source, wait on the Bench until they are fit to
          sell, get their price from a plan, go live as listings; orders are checked, bought once and followed
          until the marketplace knows the parcel.
        </p>
        <div className="mt-4 text-right">
          <Button kind="main" onClick={onClose}>
            Close help
          </Button>
        </div>
      </DialogPanel>
    </Dialog>
  );
}
