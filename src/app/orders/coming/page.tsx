import type { Metadata } from 'next';
import { Suspense } from 'react';
import { ComingPurchases } from '../../../views/orders/coming';

export const metadata: Metadata = { title: 'Coming purchases' };

export default function Page() {
  return (
    <Suspense>
      <ComingPurchases />
    </Suspense>
  );
}
