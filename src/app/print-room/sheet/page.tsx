import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Sheet } from '../../../views/print-room/sheet';

export const metadata: Metadata = { title: 'Sheet' };

export default function Page() {
  return (
    <Suspense>
      <Sheet />
    </Suspense>
  );
}
