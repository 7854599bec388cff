import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Products } from '../../../views/print-room/products';

export const metadata: Metadata = { title: 'Printed products' };

export default function Page() {
  return (
    <Suspense>
      <Products />
    </Suspense>
  );
}
