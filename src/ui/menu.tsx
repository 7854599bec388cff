'use client';
import { MenuButton, MenuItem, MenuItems, Menu as Plain } from '@headlessui/react';

/** A button that opens a few things to do. */
export function Menu({
  words,
  disabled,
  items,
}: {
  words: string;
  disabled?: boolean;
  items: readonly { readonly name: string; readonly run: () => void }[];
}) {
  return (
    <Plain>
      <MenuButton
        disabled={disabled}
        className="rounded-sm border border-edge px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap text-river hover:bg-river-soft disabled:opacity-50"
      >
        {words}
      </MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-40 rounded-sm border border-rule bg-surface py-1 text-[13.5px] shadow-md"
      >
        {items.map(({ name, run }) => (
          <MenuItem key={name}>
            <button
              type="button"
              onClick={run}
              className="block w-full px-3 py-1 text-left data-focus:bg-river-soft"
            >
              {name}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Plain>
  );
}
