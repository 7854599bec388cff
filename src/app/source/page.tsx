import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Source } from '../../views/source/source';

export const metadata: Metadata = { title: 'Source' };

export default function Page() {
  return (
    <Suspense>
      <Source />
    </Suspense>
  );
}
