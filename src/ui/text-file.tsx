'use client';
import { useState } from 'react';
import { ENCODINGS, type Encoding } from '../core/lists';
import { theShop } from '../work/desk/client';
import { Button } from './button';
import { FileButton } from './file-button';
import { say } from './said';

/** How a text was read, to be read otherwise. */
export function EncodingChoice({
  encoding,
  onChange,
}: {
  encoding: Encoding;
  onChange: (encoding: Encoding) => void;
}) {
  return (
    <label className="block text-[13px]">
      Read as{' '}
      <select
        value={encoding}
        onChange={(e) => onChange(e.target.value as Encoding)}
        className="rounded-sm border border-edge bg-surface px-1 py-0.5"
      >
        {ENCODINGS.map((one) => (
          <option key={one} value={one}>
            {one}
          </option>
        ))}
      </select>
      . If accents look wrong, choose another encoding.
    </label>
  );
}

interface Waiting {
  readonly file: File;
  readonly text: string;
  readonly encoding: Encoding;
}

/** Lines with signs beyond ASCII, by which a person sees whether a text was read right. */
const accented = (text: string): string[] =>
  text
    .split(/\r\n|\r|\n/)
    .filter((line) => /\P{ASCII}/u.test(line))
    .slice(0, 3)
    .map((line) => line.slice(0, 160));

/** A button that takes a file of text. Where its encoding is only guessed, that is shown and asked about first. */
export function TextFileButton({
  words,
  name,
  accept,
  onText,
}: {
  words: string;
  name: string;
  accept: string;
  onText: (text: string, file: File) => unknown;
}) {
  const [waiting, setWaiting] = useState<Waiting | null>(null);
  const read = async (file: File, encoding: Encoding | null) => {
    const got = await theShop().textOf(file, encoding);
    if (!got.ok) return say(got.reason, { wrong: true });
    const { text, sure } = got.value;
    if (sure && encoding === null) return onText(text, file);
    setWaiting({ file, text, encoding: got.value.encoding });
  };
  return (
    <>
      <FileButton words={words} name={name} accept={accept} onFile={(file) => read(file, null)} />
      {waiting && (
        <div
          role="group"
          aria-label={`Encoding of ${waiting.file.name}`}
          className="w-full rounded-sm border border-lamp bg-lamp-soft p-2 text-[13px]"
        >
          <b className="font-semibold">{waiting.file.name}</b>
          <EncodingChoice encoding={waiting.encoding} onChange={(encoding) => read(waiting.file, encoding)} />
          <ul className="my-1 font-mono text-xs">
            {accented(waiting.text).map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
          <div className="flex gap-2">
            <Button
              kind="main"
              onClick={() => {
                setWaiting(null);
                onText(waiting.text, waiting.file);
              }}
            >
              Read it so
            </Button>
            <Button onClick={() => setWaiting(null)}>Cancel</Button>
          </div>
        </div>
      )}
    </>
  );
}
