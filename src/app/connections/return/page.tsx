import type { Metadata } from 'next';
import { Suspense } from 'react';
import { ConsentReturn } from '../../../views/connections/consent-return';

export const metadata: Metadata = { title: 'Connections' };

export default function Page() {
  return (
    <Suspense>
      <ConsentReturn />
    </Suspense>
  );
}
