'use client';
import { countOf } from '../../core/units';
import { Button } from '../../ui/button';
import { download, downloadFile } from '../../ui/download';
import { ROWS } from '../../ui/file-button';
import { say } from '../../ui/said';
import { TextFileButton } from '../../ui/text-file';
import { theShop } from '../../work/desk/client';
import type { SupplierConnection } from '../../work/model';

/** The two files of a supplier without a service: what waits goes out as an order file, its tracking file comes in. */
export function SupplierFiles({ supplier, waiting }: { supplier: SupplierConnection; waiting: number }) {
  const write = async () => {
    const file = await theShop().orderFile(supplier.id, waiting === 0);
    if (!file.ok) return say(`${supplier.name}: ${file.reason}`, { wrong: true });
    if (file.zip) downloadFile(file.name, file.zip);
    else download(file.name, file.text);
    await say(
      `${countOf(file.purchases, 'purchase')} written into ${file.name}. Send it to ${supplier.name}.`,
    );
  };
  const read = async (text: string, file: File) => {
    const done = await theShop().takeTrackingFile(supplier.id, text);
    if (!done.ok) return say(`${file.name}: ${done.reason}`, { wrong: true });
    const [first] = done.refused;
    const bad = first
      ? `; ${countOf(done.refused.length, 'row')} not imported, the first on line ${first.line}: ${first.reason}`
      : '';
    await say(`${countOf(done.moved, 'order')} moved on by ${file.name}${bad}.`, {
      wrong: first !== undefined,
    });
  };
  return (
    <>
      <Button onClick={write} title={waiting ? undefined : 'Writes what was sent and is not confirmed again'}>
        Order file for {supplier.name}
        {waiting > 0 && ` (${waiting})`}
      </Button>
      <TextFileButton
        words="Import tracking"
        name={`Tracking file of ${supplier.name}`}
        accept={ROWS}
        onText={read}
      />
    </>
  );
}
