import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Listings } from '../../views/listings/listings';

export const metadata: Metadata = { title: 'Listings' };

export default function Page() {
  return (
    <Suspense>
      <Listings />
    </Suspense>
  );
}
