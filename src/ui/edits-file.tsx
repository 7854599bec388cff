'use client';
import { useMemo, useRef, useState } from 'react';
import { countOf, formatCount } from '../core/units';
import { theShop } from '../work/clients';
import type { PreviewedFile, Where } from '../work/shop.worker';
import { Docket } from './docket';
import { downloadFile } from './download';
import { Preview } from './edit-docket';
import { Notice } from './head';
import { Menu } from './menu';
import { say } from './said';

const EDITED = '.csv,.tsv,.txt,.xlsx';

/** Writes listings into a file to be edited elsewhere, and takes one back. */
export function EditsFileMenu({
  where,
  count,
  onFile,
}: {
  where: Where;
  count: number;
  onFile: (file: File) => void;
}) {
  const [busy, setBusy] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const write = async (form: 'csv' | 'xlsx') => {
    setBusy(true);
    try {
      const { file, rows } = await theShop().editFile(where, form);
      const name = `listings-${new Date().toISOString().slice(0, 10)}.${form}`;
      downloadFile(name, file);
      await say(`${countOf(rows, 'listing')} in ${name}. Edit it, then choose “Import edits”.`);
    } catch (error) {
      await say(error instanceof Error ? error.message : String(error), { wrong: true });
    }
    setBusy(false);
  };
  const writePrices = async () => {
    setBusy(true);
    try {
      const { file, rows } = await theShop().priceFile(where);
      const name = `prices-${new Date().toISOString().slice(0, 10)}.csv`;
      downloadFile(name, file);
      await say(`${countOf(rows, 'price')} in ${name}, each with all that it is made of.`);
    } catch (error) {
      await say(error instanceof Error ? error.message : String(error), { wrong: true });
    }
    setBusy(false);
  };
  return (
    <>
      <Menu
        words={busy ? 'Exporting …' : 'File'}
        disabled={busy}
        items={[
          { name: `Export ${formatCount(count)} as CSV`, run: () => write('csv') },
          { name: `Export ${formatCount(count)} as a workbook (XLSX)`, run: () => write('xlsx') },
          { name: 'Prices, line by line (CSV)', run: writePrices },
          { name: 'Import edits', run: () => input.current?.click() },
        ]}
      />
      <input
        ref={input}
        type="file"
        accept={EDITED}
        aria-label="Edited listings"
        tabIndex={-1}
        className="sr-only"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file) onFile(file);
        }}
      />
    </>
  );
}

/** What a file that was edited elsewhere would change, cell by cell. */
export function EditsFileDocket({ file, onClose }: { file: File; onClose: () => void }) {
  const [found, setFound] = useState<PreviewedFile | null>(null);
  const ask = useMemo(
    () => async () => {
      const read = await theShop().previewFile(file);
      setFound(read);
      return read.ok
        ? read
        : { id: 0, name: '', listings: 0, changes: 0, live: 0, unchanged: 0, refused: 0, firstRefused: [] };
    },
    [file],
  );
  return (
    <Docket label="Edited file" onClose={onClose}>
      <h2 className="text-base font-semibold">{file.name}</h2>
      {found && !found.ok ? (
        <Notice tone="loss">{found.reason} Nothing was changed.</Notice>
      ) : (
        <>
          {found?.ok && (
            <p className="text-[13px] text-muted">
              {countOf(found.listings, 'row')} read. What was not edited there stays as it is here.
            </p>
          )}
          {found?.ok && !found.stamped && (
            <Notice>
              It has no column “Sampan”: whether a cell changed here since it was written cannot be told. Look
              at each before you apply it.
            </Notice>
          )}
          {found?.ok && found.notTaken > 0 && (
            <Notice>
              <b className="font-semibold">{formatCount(found.notTaken)} not taken</b>
              <ul>
                {found.firstNotTaken.slice(0, 12).map((r) => (
                  <li key={`${r.line} ${r.reason}`}>
                    Line {r.line}, {r.sku || 'without SKU'}: {r.reason}
                  </li>
                ))}
                {found.notTaken > 12 && <li>and {formatCount(found.notTaken - 12)} more</li>}
              </ul>
            </Notice>
          )}
          <Preview ask={ask} onDone={onClose} />
        </>
      )}
    </Docket>
  );
}
