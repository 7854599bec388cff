import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Today } from '../../views/today/today';

export const metadata: Metadata = { title: 'Today' };

export default function Page() {
  return (
    <Suspense>
      <Today />
    </Suspense>
  );
}
