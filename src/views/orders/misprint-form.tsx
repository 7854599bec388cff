'use client';
import { useId, useState } from 'react';
import { type AcceptedPurchase, byLine, type LineUnits } from '../../core/orders';
import { Button } from '../../ui/button';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { ToldOrder } from './buyer-words';
import { UnitPicker } from './unit-picker';

/** Says that something came out wrong, with a photograph, so that its maker prints it again. */
export function MisprintForm({
  order,
  purchase: p,
  maker,
  onDone,
}: {
  order: ToldOrder;
  purchase: AcceptedPurchase;
  maker: string;
  onDone: () => void;
}) {
  const id = useId();
  const sent = byLine(p.parcels.flatMap((parcel) => parcel.inside));
  const [units, setUnits] = useState<readonly LineUnits[]>(sent);
  const [reason, setReason] = useState('');
  const [photo, setPhoto] = useState<File | null>(null);
  const [busy, setBusy] = useState(false);
  return (
    <form
      className="mt-2 border-t border-rule-soft pt-2"
      onSubmit={async (e) => {
        e.preventDefault();
        if (!photo) return;
        setBusy(true);
        const about = { supplier: p.supplier, reference: p.reference, units };
        const said = await theShop().reportMisprint(order.id, about, reason, photo);
        await say(said.ok ? `${maker} is asked to print it again.` : said.reason, { wrong: !said.ok });
        setBusy(false);
        if (said.ok) onDone();
      }}
    >
      <UnitPicker legend="Came out wrong" order={order} most={sent} chosen={units} onChoose={setUnits} />
      <label htmlFor={`${id}-why`} className="mt-1 block text-xs text-muted">
        What is wrong with it
      </label>
      <input
        id={`${id}-why`}
        value={reason}
        maxLength={500}
        onChange={(e) => setReason(e.target.value)}
        className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px]"
      />
      <label htmlFor={`${id}-photo`} className="mt-1 block text-xs text-muted">
        Photograph
      </label>
      <input
        id={`${id}-photo`}
        type="file"
        accept="image/jpeg,image/png,image/webp"
        onChange={(e) => setPhoto(e.target.files?.[0] ?? null)}
        className="block w-full text-[13px]"
      />
      <div className="mt-2 flex gap-2">
        <Button type="submit" kind="main" disabled={busy || !photo || !reason.trim() || !units.length}>
          Ask for a reprint
        </Button>
        <Button kind="text" onClick={onDone}>
          Not now
        </Button>
      </div>
    </form>
  );
}
