import type { Metadata } from 'next';
import { Suspense } from 'react';
import { PrintRoom } from '../../views/print-room/print-room';

export const metadata: Metadata = { title: 'Print room' };

export default function Page() {
  return (
    <Suspense>
      <PrintRoom />
    </Suspense>
  );
}
