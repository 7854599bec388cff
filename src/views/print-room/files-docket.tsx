'use client';
import { proxy } from 'comlink';
import { useState } from 'react';
import { fieldOf, STARTING_FILE_NAME } from '../../core/print';
import { countOf, formatCount } from '../../core/units';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { downloadFile } from '../../ui/download';
import { Notice, Section } from '../../ui/head';
import { theShop } from '../../work/desk/client';
import type { WholeSheet } from '../../work/print/sheets';
import { areaOf } from './words';

/** Makes the print files of a sheet as a zip: which sizes, under which names, with progress and a way to stop. */
export function FilesDocket({ whole, onClose }: { whole: WholeSheet; onClose: () => void }) {
  const { sheet, blank, lines } = whole;
  const [sizes, setSizes] = useState<readonly string[]>(blank.sizes);
  const [pattern, setPattern] = useState(STARTING_FILE_NAME);
  const [at, setAt] = useState<{ done: number; total: number } | null>(null);
  const [failed, setFailed] = useState<readonly string[]>([]);
  const [says, setSays] = useState('');
  const make = async () => {
    setAt({ done: 0, total: 0 });
    setFailed([]);
    setSays('');
    try {
      const made = await theShop().printFiles(
        sheet.id,
        sizes,
        pattern,
        proxy((done: number, total: number) => setAt({ done, total })),
      );
      if (made.file) downloadFile(`${sheet.name.replace(/[^\p{L}\p{N} -]/gu, '')}.zip`, made.file);
      setFailed(made.failed);
      setSays(`${countOf(made.made, 'file')} made${made.stopped ? ', then it was stopped' : ''}.`);
    } finally {
      setAt(null);
    }
  };
  const printed = blank.areas.filter((a) => lines.some((l) => l.plan[a.id]));
  return (
    <Docket label="Print files" onClose={onClose}>
      <h2 className="text-base font-semibold">Print files of {sheet.name}</h2>
      <p className="text-xs text-muted">
        PNG at the maker’s own pixels, with resolution and colour space written in, together in a zip. Orders
        get theirs by themselves: this is for looking, or for a printer elsewhere.
      </p>
      <Section title="What the maker takes">
        <ul className="text-[13.5px]">
          {printed.map((a) => {
            const field = fieldOf(a, sheet.size);
            return (
              <li key={a.id} className="border-b border-rule-soft py-1">
                <b className="font-semibold">{a.name}</b>
                <span className="block text-xs text-muted">
                  {field && areaOf(field)}; {a.technique.name}; lines of {a.technique.finestLine} mm and more
                </span>
              </li>
            );
          })}
        </ul>
      </Section>
      {blank.sizes.length > 1 && (
        <Section title="Sizes">
          <div className="flex flex-wrap gap-x-4 gap-y-1 text-[13.5px]">
            {blank.sizes.map((size) => (
              <label key={size} className="flex min-h-7 items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={sizes.includes(size)}
                  onChange={(e) =>
                    setSizes(blank.sizes.filter((s) => (s === size ? e.target.checked : sizes.includes(s))))
                  }
                  className="size-3.5 accent-river"
                />
                {size}
              </label>
            ))}
          </div>
          <p className="text-xs text-muted">Sizes with the same file are made once.</p>
        </Section>
      )}
      <Section title="Names">
        <label className="block text-xs text-muted">
          Made of {'{design} {blank} {area} {size} {set}'}
          <input
            value={pattern}
            onChange={(e) => setPattern(e.target.value)}
            className="mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 font-mono text-[13px] text-ink"
          />
        </label>
      </Section>
      <div className="mt-3 flex gap-2">
        <Button kind="main" disabled={at !== null || !sizes.length} onClick={() => void make()}>
          Make the files
        </Button>
        {at && <Button onClick={() => void theShop().stopPrinting()}>Stop</Button>}
      </div>
      {at && (
        <p role="status" className="mt-2 text-[13.5px]">
          {at.total ? `${formatCount(at.done)} of ${formatCount(at.total)} drawn` : 'Gathering …'}
        </p>
      )}
      {says && (
        <p role="status" className="mt-2 text-[13.5px]">
          {says}
        </p>
      )}
      {failed.length > 0 && (
        <Notice>
          <b className="font-semibold">{countOf(failed.length, 'file')} not made</b>
          <ul className="list-disc pl-5">
            {failed.slice(0, 20).map((f) => (
              <li key={f}>{f}</li>
            ))}
          </ul>
        </Notice>
      )}
    </Docket>
  );
}
