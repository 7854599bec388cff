'use client';
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import 'react-easy-crop/react-easy-crop.css';
import Cropper from 'react-easy-crop';
import { Button } from './button';
import type { PictureArea } from './read-picture';

const SHAPES = { Square: 1, '4 : 3': 4 / 3, '3 : 4': 3 / 4, '16 : 9': 16 / 9 } as const;

/** A part of a picture is chosen by dragging it and by its zoom, in a shape. */
export function CropPicture({
  source,
  square,
  onCrop,
  onClose,
}: {
  /** Address of the picture. */
  source: string;
  /** The site wants square pictures. */
  square: boolean;
  onCrop: (area: PictureArea) => void;
  onClose: () => void;
}) {
  const [at, setAt] = useState({ x: 0, y: 0 });
  const [zoom, setZoom] = useState(1);
  const [shape, setShape] = useState<keyof typeof SHAPES>(square ? 'Square' : '4 : 3');
  const [area, setArea] = useState<PictureArea | null>(null);
  const [pixels, setPixels] = useState('');
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/40" aria-hidden />
      <div className="fixed inset-0 grid place-items-center p-4">
        <DialogPanel className="w-full max-w-xl rounded-sm border border-rule bg-surface p-4 shadow-lg">
          <DialogTitle className="text-base font-semibold">Crop the picture</DialogTitle>
          <div className="relative mt-3 h-80 bg-raised">
            <Cropper
              // Its styles come with the application: none are put into the page.
              disableAutomaticStylesInjection
              image={source}
              crop={at}
              zoom={zoom}
              aspect={SHAPES[shape]}
              onCropChange={setAt}
              onZoomChange={setZoom}
              onCropComplete={(part, of) => {
                setArea(part);
                setPixels(`${Math.round(of.width)} × ${Math.round(of.height)} pixels`);
              }}
            />
          </div>
          <div className="mt-3 flex flex-wrap items-center gap-3 text-[13px]">
            <label className="flex items-center gap-1.5">
              Shape
              <select
                value={shape}
                onChange={(e) => setShape(e.target.value as keyof typeof SHAPES)}
                className="rounded-sm border border-edge bg-surface px-1.5 py-1"
              >
                {Object.keys(SHAPES).map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </label>
            <label className="flex grow items-center gap-1.5">
              Zoom
              <input
                type="range"
                min={1}
                max={4}
                step={0.05}
                value={zoom}
                onChange={(e) => setZoom(Number(e.target.value))}
                className="grow accent-river"
              />
            </label>
            <span className="text-muted" role="status">
              {pixels}
            </span>
          </div>
          <div className="mt-3 flex gap-2">
            <Button kind="main" disabled={!area} onClick={() => area && onCrop(area)}>
              Crop
            </Button>
            <Button onClick={onClose}>Cancel</Button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
