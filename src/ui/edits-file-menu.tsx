'use client';
import { proxy } from 'comlink';
import { useRef, useState } from 'react';
import { countOf, formatCount } from '../core/units';
import { failureInWords } from '../work/context/failure';
import { theShop } from '../work/desk/client';
import type { Where } from '../work/desk/memory';
import { downloadFile } from './download';
import { type Done, ExportProgress } from './export-progress';
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
  const [done, setDone] = useState<Done | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const write = async (form: 'csv' | 'xlsx') => {
    setBusy(true);
    try {
      const written = await theShop().editFile(
        where,
        form,
        proxy((n: number, total: number) => setDone({ n, total })),
      );
      if (!written) return say('The export was stopped.');
      const { file, rows } = written;
      const name = `listings-${new Date().toISOString().slice(0, 10)}.${form}`;
      downloadFile(name, file);
      await say(`${countOf(rows, 'listing')} in ${name}. Edit it, then choose “Import edits”.`);
    } catch (error) {
      await say(`The file was not written: ${failureInWords(error)}`, { wrong: true });
    } finally {
      setBusy(false);
      setDone(null);
    }
  };
  const writePrices = async () => {
    setBusy(true);
    try {
      const { file, rows } = await theShop().priceFile(where);
      const name = `prices-${new Date().toISOString().slice(0, 10)}.csv`;
      downloadFile(name, file);
      await say(`${countOf(rows, 'price')} in ${name}, each with all that it is made of.`);
    } catch (error) {
      await say(`The file was not written: ${failureInWords(error)}`, { wrong: true });
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      {done && <ExportProgress done={done} onStop={() => theShop().stopExport()} />}
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
