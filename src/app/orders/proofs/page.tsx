import type { Metadata } from 'next';
import { Suspense } from 'react';
import { ProofsPage } from '../../../views/proofs/proofs';

export const metadata: Metadata = { title: 'Proofs' };

export default function Page() {
  return (
    <Suspense>
      <ProofsPage />
    </Suspense>
  );
}
