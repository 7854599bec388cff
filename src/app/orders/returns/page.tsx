import type { Metadata } from 'next';
import { Suspense } from 'react';
import { ReturnsPage } from '../../../views/returns/returns';

export const metadata: Metadata = { title: 'Returns' };

export default function Page() {
  return (
    <Suspense>
      <ReturnsPage />
    </Suspense>
  );
}
