import type { Metadata } from 'next';
import { Suspense } from 'react';
import { EstimatesPage } from '../../../views/estimates/estimates';

export const metadata: Metadata = { title: 'Estimates' };

export default function Page() {
  return (
    <Suspense>
      <EstimatesPage />
    </Suspense>
  );
}
