import type { Metadata } from 'next';
import { Suspense } from 'react';
import { DigestPage } from '../../../views/today/digest';

export const metadata: Metadata = { title: 'Digest' };

export default function Page() {
  return (
    <Suspense>
      <DigestPage />
    </Suspense>
  );
}
