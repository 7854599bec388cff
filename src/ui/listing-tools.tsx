'use client';
import { type ReactNode, useCallback, useState } from 'react';
import type { Where } from '../work/desk/memory';
import type { MarketConnection } from '../work/model';
import { CategoriesDocket, CopyDocket, EditDocket, EditsFileDocket, PresetsDocket } from './dockets';

/** What many listings are worked on with, in a docket beside their table. */
type Tool =
  | { readonly kind: 'edit'; readonly where: Where; readonly count: number }
  /** @param where rows that were marked; null for none */
  | { readonly kind: 'copy'; readonly where: Where | null; readonly count: number }
  | { readonly kind: 'file'; readonly file: File }
  | { readonly kind: 'presets' | 'categories' };

interface ListingTools {
  readonly open: (tool: Tool) => void;
  /** The tool that is open. */
  readonly docket: ReactNode;
  /** What a menu offers to set up for listings. @param where rows that are marked; null for none */
  readonly setUp: (
    where: Where | null,
    count: number,
  ) => { readonly name: string; readonly run: () => void }[];
}

/** @param first the marketplace that is looked at; null for all */
export function useListingTools(markets: readonly MarketConnection[], first: string | null): ListingTools {
  const [tool, open] = useState<Tool | null>(null);
  const onClose = useCallback(() => open(null), []);
  const setUp = (where: Where | null, count: number) => [
    { name: 'Copy templates', run: () => open({ kind: 'copy', where, count }) },
    { name: 'Presets', run: () => open({ kind: 'presets' }) },
    { name: 'Categories', run: () => open({ kind: 'categories' }) },
  ];
  return { open, docket: tool && <ToolDocket {...{ tool, markets, first, onClose }} />, setUp };
}

function ToolDocket({
  tool,
  markets,
  first,
  onClose,
}: {
  tool: Tool;
  markets: readonly MarketConnection[];
  first: string | null;
  onClose: () => void;
}) {
  switch (tool.kind) {
    case 'edit':
      return <EditDocket where={tool.where} count={tool.count} onClose={onClose} onDone={onClose} />;
    case 'copy':
      return <CopyDocket where={tool.where} count={tool.count} onClose={onClose} />;
    case 'file':
      return <EditsFileDocket file={tool.file} onClose={onClose} />;
    case 'presets':
      return <PresetsDocket markets={markets} first={first} onClose={onClose} />;
    case 'categories':
      return <CategoriesDocket markets={markets} first={first} onClose={onClose} />;
  }
}
