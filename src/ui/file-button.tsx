'use client';
import { useRef } from 'react';
import { Button } from './button';

interface Props {
  readonly words: string;
  /** What the file is, for those who cannot see where the button stands. */
  readonly name: string;
  readonly accept: string;
  readonly onFile: (file: File) => void;
}

/** A button that picks a file. The same one can be picked again. */
export function FileButton({ words, name, accept, onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => input.current?.click()}>{words}</Button>
      <input
        ref={input}
        type="file"
        accept={accept}
        aria-label={name}
        className="sr-only"
        tabIndex={-1}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file) onFile(file);
        }}
      />
    </>
  );
}

/** What a file of rows may be called. */
export const ROWS = '.csv,.tsv,.txt,text/csv';
