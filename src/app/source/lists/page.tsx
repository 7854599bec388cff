import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Lists } from '../../../views/lists/lists';

export const metadata: Metadata = { title: 'Price lists' };

export default function Page() {
  return (
    <Suspense>
      <Lists />
    </Suspense>
  );
}
