'use client';
import { useState } from 'react';

interface Props {
  readonly words: string;
  readonly accept: string;
  readonly busy?: boolean;
  readonly onFile: (file: File) => void;
}

/** A place to drop a file on, or to pick one. */
export function DropFile({ words, accept, busy, onFile }: Props) {
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
        const file = e.dataTransfer.files[0];
        if (file && !busy) onFile(file);
      }}
      className={`rounded-sm border border-dashed px-3 py-3 text-[13.5px] ${over ? 'border-river bg-river-soft' : 'border-edge'}`}
    >
      <label className="cursor-pointer font-semibold text-river hover:underline has-focus-visible:outline-2">
        {busy ? 'Looking at the file …' : words}
        <input
          type="file"
          accept={accept}
          disabled={busy}
          className="sr-only"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = '';
            if (file) onFile(file);
          }}
        />
      </label>
      <span className="text-muted"> or drop it here</span>
    </div>
  );
}

export const LIST_FILES = '.csv,.tsv,.txt,.xlsx,.xml,.json,.jsonl,.zip';
