import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Pricing } from '../../views/pricing/pricing';

export const metadata: Metadata = { title: 'Pricing' };

export default function Page() {
  return (
    <Suspense>
      <Pricing />
    </Suspense>
  );
}
