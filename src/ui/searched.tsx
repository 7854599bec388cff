'use client';
import type { ReactNode } from 'react';
import type { Problem } from '../core/query';
import { Button } from './button';
import { Empty } from './head';
import { SearchLine } from './search-line';

/** A search line above its list; where nothing matches, the way back to all of it. */
export function Searched({
  list,
  placeholder = 'a word, a SKU or field:value',
  fields,
  children,
}: {
  list: {
    readonly line: { readonly value: string; readonly onChange: (typed: string) => void };
    readonly setQuery: (query: string) => void;
    readonly found: { readonly matches: number; readonly problems: readonly Problem[] } | null;
  };
  placeholder?: string;
  /** Fields that can be typed, each with an example. */
  fields: readonly { readonly example: string; readonly means: string }[];
  children: ReactNode;
}) {
  return (
    <>
      <SearchLine
        {...list.line}
        placeholder={placeholder}
        fields={fields}
        matches={list.found?.matches ?? null}
        problems={list.found?.problems}
      />
      {list.found?.matches === 0 ? (
        <Empty title="Nothing matches">
          <Button onClick={() => list.setQuery('')}>Clear the search</Button>
        </Empty>
      ) : (
        children
      )}
    </>
  );
}
