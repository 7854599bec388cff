'use client';
import { useMemo, useState } from 'react';
import type { Encoding } from '../core/lists';
import { countOf, formatCount } from '../core/units';
import { theShop } from '../work/desk/client';
import type { PreviewedFile, PreviewInShort } from '../work/desk/stops/editing';
import { Docket } from './docket';
import { Preview } from './edit-docket';
import { Notice } from './head';
import { EncodingChoice } from './text-file';

const NO_PREVIEW: PreviewInShort = {
  ...{ id: 0, name: '', listings: 0, changes: 0, live: 0, unchanged: 0, shared: 0, nothing: 0 },
  ...{ refused: 0, firstRefused: [], asked: 0, firstAsked: [] },
};

/** What a file that was edited elsewhere would change, cell by cell. */
export function EditsFileDocket({ file, onClose }: { file: File; onClose: () => void }) {
  const [found, setFound] = useState<PreviewedFile | null>(null);
  const [encoding, setEncoding] = useState<Encoding | null>(null);
  const [emptying, setEmptying] = useState(false);
  const ask = useMemo(
    () => async () => {
      const read = await theShop().previewFile(file, { encoding, emptying });
      setFound(read);
      return read.ok ? read : NO_PREVIEW;
    },
    [file, encoding, emptying],
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
          {found?.ok && found.encoding && (!found.sure || encoding !== null) && (
            <EncodingChoice encoding={found.encoding} onChange={setEncoding} />
          )}
          {found?.ok && found.brokenAt !== null && (
            <Notice>
              The file breaks off in line {formatCount(found.brokenAt)}: what stood behind is missing. What
              was read whole can be applied.
            </Notice>
          )}
          {found?.ok && found.emptied > 0 && (
            <label className="mt-1 flex items-start gap-1.5 text-[13px]">
              <input
                type="checkbox"
                checked={emptying}
                onChange={(e) => setEmptying(e.target.checked)}
                className="mt-1 accent-river"
              />
              {countOf(found.emptied, 'cell')} {found.emptied === 1 ? 'is' : 'are'} empty in the file: let the
              field go back to where its value came from. Otherwise it stays.
            </label>
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
