import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Orders } from '../../views/orders/orders';

export const metadata: Metadata = { title: 'Orders' };

export default function Page() {
  return (
    <Suspense>
      <Orders />
    </Suspense>
  );
}
