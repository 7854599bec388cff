import type { Metadata } from 'next';
import { Suspense } from 'react';
import { NewOrder } from '../../../views/orders/new-order';

export const metadata: Metadata = { title: 'New order' };

export default function Page() {
  return (
    <Suspense>
      <NewOrder />
    </Suspense>
  );
}
