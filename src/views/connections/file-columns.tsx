'use client';
import { useState } from 'react';
import { LISTING_FIELDS, type ListingFileColumn, type ListingFileField } from '../../core/lists';
import { countOf } from '../../core/units';
import { Button } from '../../ui/button';
import { FileButton } from '../../ui/file-button';
import { Notice } from '../../ui/head';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { MarketConnection } from '../../work/model';

const EXAMPLES = '.csv,.tsv,.txt,.xlsx';

/** The columns of a shop's listing file: guessed from an example of it, chosen one by one, remembered. */
export function FileColumns({ market, onDone }: { market: MarketConnection; onDone: () => void }) {
  const [columns, setColumns] = useState<readonly ListingFileColumn[] | null>(market.fileColumns ?? null);
  const [pictures, setPictures] = useState(market.filePictures ?? 'addresses');
  const [problem, setProblem] = useState('');
  const read = async (file: File) => {
    const found = await theShop().columnsOfFile(file);
    if (!found.ok) return setProblem(found.reason);
    setProblem('');
    setColumns(found.columns);
  };
  const set = (at: number, holds: ListingFileColumn['holds']) =>
    setColumns((before) => before?.map((c, i) => (i === at ? { ...c, holds } : c)) ?? null);
  const save = async (kept: readonly ListingFileColumn[] | null) => {
    await theShop().keepFileColumns(market.id, kept, pictures);
    await say(
      kept
        ? `${countOf(kept.length, 'column')} kept for ${market.name}.`
        : `The listing file for ${market.name} has Sampan’s own columns.`,
      {
        undo: true,
      },
    );
    onDone();
  };
  const hasSku = columns?.some((c) => c.holds.is === 'field' && c.holds.field === 'sku');
  return (
    <div className="mt-3 rounded-sm border border-rule p-3">
      <p className="text-[13.5px]">
        {columns
          ? 'What each column of its listing file holds. An empty one is written with nothing in it.'
          : 'Sampan writes columns of its own. Read an example of the file that the shop takes: its header row is enough.'}
      </p>
      {problem && <Notice tone="loss">{problem}</Notice>}
      {columns && (
        <ul className="mt-2 max-h-80 overflow-auto text-[13.5px]">
          {columns.map((column, at) => (
            // Columns have no name that is theirs alone: their place is.
            <li
              key={`${at} ${column.header}`}
              className="flex items-center gap-2 border-b border-rule-soft py-1"
            >
              <span className="w-40 truncate font-mono text-[13px]" title={column.header}>
                {column.header || '(no name)'}
              </span>
              <select
                aria-label={`What ${column.header || `column ${at + 1}`} holds`}
                value={column.holds.is === 'field' ? column.holds.field : ''}
                onChange={(e) =>
                  set(
                    at,
                    e.target.value
                      ? { is: 'field', field: e.target.value as ListingFileField }
                      : { is: 'text', text: '' },
                  )
                }
                className="rounded-sm border border-edge bg-surface px-1.5 py-0.5"
              >
                <option value="">the same text in each row</option>
                {LISTING_FIELDS.map((field) => (
                  <option key={field} value={field}>
                    {field}
                  </option>
                ))}
              </select>
              {column.holds.is === 'text' && (
                <input
                  aria-label={`Text of ${column.header || `column ${at + 1}`}`}
                  value={column.holds.text}
                  placeholder="empty"
                  onChange={(e) => set(at, { is: 'text', text: e.target.value })}
                  className="min-w-0 grow rounded-sm border border-edge bg-surface px-1.5 py-0.5"
                />
              )}
            </li>
          ))}
        </ul>
      )}
      <label className="mt-2 flex flex-wrap items-center gap-2 text-[13.5px]">
        Pictures
        <select
          value={pictures}
          onChange={(e) => setPictures(e.target.value as typeof pictures)}
          className="rounded-sm border border-edge bg-surface px-1.5 py-0.5"
        >
          <option value="addresses">by address where they have one on the web, else as files in a zip</option>
          <option value="beside">all as files beside it, in a zip</option>
        </select>
      </label>
      {columns && !hasSku && <Notice>No column holds the SKU: its sales could not be told apart.</Notice>}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button kind="main" disabled={columns !== null && !hasSku} onClick={() => save(columns)}>
          {columns ? `Keep ${countOf(columns.length, 'column')}` : 'Keep'}
        </Button>
        <FileButton
          words="Read an example"
          name={`Example of ${market.name}`}
          accept={EXAMPLES}
          onFile={read}
        />
        {market.fileColumns && <Button onClick={() => save(null)}>Use Sampan’s own</Button>}
        <Button kind="text" onClick={onDone}>
          Close
        </Button>
      </div>
    </div>
  );
}
