import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Bench } from '../../views/bench/bench';

export const metadata: Metadata = { title: 'Bench' };

export default function Page() {
  return (
    <Suspense>
      <Bench />
    </Suspense>
  );
}
