'use client';
import { useState } from 'react';
import { Button } from './button';

interface Props {
  readonly words: string;
  readonly accept: string;
  /** The file that is being looked at, if one is. */
  readonly looking?: string | null;
  readonly onFiles: (files: File[]) => void;
  /** Ends the look. */
  readonly onStop?: () => void;
  /** What was dropped is no file. */
  readonly onWrong: (says: string) => void;
}

/** Names of the folders among what was dropped: a browser hands them out as files that cannot be read. */
function foldersIn(items: DataTransferItemList): string[] {
  return [...items].flatMap((item) => {
    const entry = item.webkitGetAsEntry?.();
    return entry?.isDirectory ? [entry.name] : [];
  });
}

/** A place to drop files on, or to pick them. */
export function DropFile({ words, accept, looking = null, onFiles, onStop, onWrong }: Props) {
  const [over, setOver] = useState(false);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping is an addition to the button inside
    <div
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        const folders = foldersIn(e.dataTransfer.items);
        const files = [...e.dataTransfer.files].filter((f) => !folders.includes(f.name));
        if (folders.length) onWrong(`“${folders[0]}” is a folder. Drop the lists in it.`);
        else if (!files.length) onWrong('What was dropped is no file.');
        if (files.length) onFiles(files);
      }}
      className={`flex items-center gap-2 rounded-sm border border-dashed px-3 py-3 text-[13.5px] ${over ? 'border-river bg-river-soft' : 'border-edge'}`}
    >
      {looking === null ? (
        <>
          <label className="cursor-pointer font-semibold text-river hover:underline has-focus-visible:outline-2">
            {words}
            <input
              type="file"
              multiple
              accept={accept}
              className="sr-only"
              onChange={(e) => {
                const files = [...(e.target.files ?? [])];
                e.target.value = '';
                if (files.length) onFiles(files);
              }}
            />
          </label>
          <span className="text-muted">or drop it here</span>
        </>
      ) : (
        <>
          <span role="status">Looking at {looking} …</span>
          {onStop && <Button onClick={onStop}>Stop looking</Button>}
        </>
      )}
    </div>
  );
}

export const LIST_FILES = '.csv,.tsv,.txt,.xlsx,.xml,.json,.jsonl,.zip';
