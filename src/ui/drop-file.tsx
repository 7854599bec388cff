'use client';
import { useDropzone } from 'react-dropzone';
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

/** A place to drop files, or folders of them, or to pick them. What a file holds is found out by reading it, not by its name. */
export function DropFile({ words, accept, looking = null, onFiles, onStop, onWrong }: Props) {
  const { getRootProps, getInputProps, isDragActive } = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop: (files) => (files.length ? onFiles(files) : onWrong('What was dropped is no file.')),
  });
  return (
    <div
      {...getRootProps({ role: undefined, tabIndex: undefined })}
      className={`flex items-center gap-2 rounded-sm border border-dashed px-3 py-3 text-[13.5px] ${isDragActive ? 'border-river bg-river-soft' : 'border-edge'}`}
    >
      {looking === null ? (
        <>
          <label className="cursor-pointer font-semibold text-river hover:underline has-focus-visible:outline-2">
            {words}
            <input {...getInputProps({ accept, className: 'sr-only', style: undefined, tabIndex: 0 })} />
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
