import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Placing } from '../../../views/print-room/placing';

export const metadata: Metadata = { title: 'Placing' };

export default function Page() {
  return (
    <Suspense>
      <Placing />
    </Suspense>
  );
}
