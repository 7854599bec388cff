'use client';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { formatCount } from '../../core/units';
import type { BlankRow } from '../../work/model';

interface Props {
  readonly count: number;
  readonly blanks: readonly BlankRow[];
  readonly sheets: readonly { readonly id: string; readonly name: string }[];
  readonly onBlank: (id: string) => void;
  readonly onSheet: (id: string) => void;
}

/** What the marked designs are placed on: a blank, or a sheet that is there. */
export function PlaceMenu({ count, blanks, sheets, onBlank, onSheet }: Props) {
  return (
    <Menu>
      <MenuButton
        disabled={!count || !blanks.length}
        title={count ? undefined : 'Mark designs first'}
        className="rounded-sm border border-river bg-river px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap text-river-ink hover:brightness-110 disabled:cursor-not-allowed disabled:opacity-50"
      >
        Place {count ? formatCount(count) : ''} on …
      </MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-40 max-h-[60vh] overflow-auto rounded-sm border border-rule bg-surface py-1 text-[13.5px] shadow-md"
      >
        {blanks.map((b) => (
          <MenuItem key={b.id}>
            <button
              type="button"
              onClick={() => onBlank(b.id)}
              className="block w-full px-3 py-1 text-left data-focus:bg-river-soft"
            >
              {b.name}
            </button>
          </MenuItem>
        ))}
        {sheets.length > 0 && (
          <div className="mt-1 border-t border-rule px-3 pt-1 text-xs text-muted">
            On a sheet that is there
          </div>
        )}
        {sheets.map((s) => (
          <MenuItem key={s.id}>
            <button
              type="button"
              onClick={() => onSheet(s.id)}
              className="block w-full px-3 py-1 text-left data-focus:bg-river-soft"
            >
              {s.name}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
