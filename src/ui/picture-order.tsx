'use client';
import { X } from 'lucide-react';
import { useEffect, useId, useRef, useState } from 'react';
import { ownPicture, type PictureRules } from '../core/checks';
import { failureInWords } from '../work/context/failure';
import type { ReadPicture } from '../work/editing/pictures';
import { Button } from './button';
import { CropPicture } from './crop-picture';
import { DropFile } from './drop-file';
import { Picture, pictureFile } from './picture';
import { drawn, readPicture } from './read-picture';
import { Sortable, useSorted } from './sortable';
import { TextField } from './text-field';

/** The pictures of a product in their order, dragged or moved by keys; the first one stands in lists. */
export function PictureOrder({
  supplier,
  pictures,
  all,
  title,
  alts,
  rules,
  onChange,
  onAdd,
  onDescribe,
}: {
  /** The supplier's service. */
  supplier: string;
  pictures: readonly string[];
  /** All that the supplier has. */
  all: readonly string[];
  title: string;
  /** What pictures show, in words. */
  alts: Readonly<Record<string, string>>;
  /** What the site asks of them. */
  rules: PictureRules | null;
  onChange: (pictures: readonly string[]) => void;
  /** @returns why they were not taken; null where they were */
  onAdd: (pictures: readonly ReadPicture[], instead: string | null) => Promise<string | null>;
  onDescribe: (picture: string, text: string) => void;
}) {
  const id = useId();
  const [chosen, setChosen] = useState<string | null>(null);
  const [says, setSays] = useState<readonly string[]>([]);
  const [cropping, setCropping] = useState<{ readonly file: Blob; readonly source: string } | null>(null);
  const add = async (files: readonly File[]) => {
    const read = await Promise.all(files.map(readPicture));
    const good = read.flatMap((one) => (one.ok ? [one.picture] : []));
    const wrong = good.length ? await onAdd(good, null) : null;
    setSays([
      ...read.flatMap((one) => (one.ok ? (one.note ?? []) : [one.reason])),
      ...(wrong ? [wrong] : []),
    ]);
  };
  const made = async (name: string, make: (file: Blob) => Promise<ReadPicture>, file?: Blob) => {
    try {
      const wrong = await onAdd([await make(file ?? (await pictureFile(supplier, name)))], name);
      setSays(wrong ? [wrong] : []);
      setChosen(null);
    } catch (error) {
      setSays([failureInWords(error)]);
    }
  };
  const addRef = useRef(add);
  useEffect(() => {
    addRef.current = add;
  });
  useEffect(() => {
    // Pasted anywhere but into a text.
    const onPaste = (e: ClipboardEvent) => {
      const files = [...(e.clipboardData?.files ?? [])].filter((f) => f.type.startsWith('image/'));
      if (!files.length || (e.target instanceof HTMLElement && e.target.isContentEditable)) return;
      e.preventDefault();
      addRef.current(files);
    };
    window.addEventListener('paste', onPaste);
    return () => window.removeEventListener('paste', onPaste);
  }, []);
  const left = all.filter((path) => !pictures.includes(path));
  const picked = chosen !== null && pictures.includes(chosen) ? chosen : null;
  const size = picked ? ownPicture(picked) : null;
  return (
    <>
      <Sortable ids={pictures} grid onOrder={onChange}>
        <ul className="flex flex-wrap gap-3 pt-2" aria-label="Pictures, first one first">
          {pictures.map((path, at) => (
            <Sorted
              key={path}
              path={path}
              supplier={supplier}
              name={`${title}, picture ${at + 1} of ${pictures.length}`}
              chosen={path === picked}
              onChoose={() => setChosen(path === picked ? null : path)}
              onDrop={pictures.length > 1 ? () => onChange(pictures.filter((p) => p !== path)) : null}
            />
          ))}
        </ul>
      </Sortable>
      {!pictures.length && <Picture supplier={supplier} path={undefined} alt={title} size={64} />}
      {picked && (
        <fieldset className="mt-2 rounded-sm border border-rule p-2 text-[13px]">
          <legend className="px-1 text-xs text-muted">
            Picture {pictures.indexOf(picked) + 1}
            {size && `, ${size.width} × ${size.height} pixels`}
          </legend>
          <TextField
            id={`${id}-alt`}
            label="Alt text"
            value={alts[picked] ?? ''}
            onCommit={(text) => onDescribe(picked, text)}
          />
          <div className="mt-2 flex flex-wrap gap-2">
            <Button
              onClick={async () => {
                try {
                  const file = await pictureFile(supplier, picked);
                  setCropping({ file, source: URL.createObjectURL(file) });
                } catch (error) {
                  setSays([failureInWords(error)]);
                }
              }}
            >
              Crop
            </Button>
            {(!size || size.width !== size.height) && (
              <Button onClick={() => made(picked, (file) => drawn(file, null, 'square', 'square'))}>
                Square on white
              </Button>
            )}
            {pictures[0] !== picked && (
              <Button onClick={() => onChange([picked, ...pictures.filter((p) => p !== picked)])}>
                Make it the first
              </Button>
            )}
          </div>
        </fieldset>
      )}
      {cropping && picked && (
        <CropPicture
          source={cropping.source}
          square={rules?.square ?? false}
          onCrop={(area) => {
            made(picked, (file) => drawn(file, area, 'crop', 'fit'), cropping.file);
            URL.revokeObjectURL(cropping.source);
            setCropping(null);
          }}
          onClose={() => {
            URL.revokeObjectURL(cropping.source);
            setCropping(null);
          }}
        />
      )}
      <div className="mt-2">
        <DropFile
          words="Add pictures"
          accept="image/*"
          onFiles={add}
          onWrong={(reason) => setSays([reason])}
        />
      </div>
      {says.length > 0 && (
        <div role="alert" className="mt-1 text-xs text-lamp">
          <ul>
            {says.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </div>
      )}
      {left.length > 0 && (
        <p className="mt-1 flex flex-wrap items-center gap-2 text-xs text-muted">
          Left out:
          {left.map((path, at) => (
            <button
              key={path}
              type="button"
              aria-label={`Add picture ${at + 1} of those left out`}
              title="Add it"
              onClick={() => onChange([...pictures, path])}
              className="opacity-60 hover:opacity-100"
            >
              <Picture supplier={supplier} path={path} alt="" size={32} />
            </button>
          ))}
          <Button kind="text" onClick={() => onChange([])}>
            Use the supplier’s order
          </Button>
        </p>
      )}
    </>
  );
}

function Sorted({
  path,
  supplier,
  name,
  chosen,
  onChoose,
  onDrop,
}: {
  path: string;
  supplier: string;
  name: string;
  chosen: boolean;
  onChoose: () => void;
  onDrop: (() => void) | null;
}) {
  const { item, handle } = useSorted(path);
  return (
    <li {...item} className="relative">
      <button
        {...handle}
        title="Drag it, or move it with the arrow keys; click to change it"
        className={`block cursor-grab rounded-sm ${chosen ? 'outline-2 outline-offset-2 outline-river' : ''}`}
        aria-pressed={chosen}
        onClick={onChoose}
        aria-label={`Move ${name}`}
      >
        <Picture supplier={supplier} path={path} alt={name} size={64} />
      </button>
      {onDrop && (
        <button
          type="button"
          aria-label={`Leave out ${name}`}
          title="Leave it out"
          onClick={onDrop}
          className="absolute -top-2 -right-2 grid size-6 place-items-center rounded-full border border-edge bg-surface text-muted hover:text-ink"
        >
          <X aria-hidden size={11} />
        </button>
      )}
    </li>
  );
}
