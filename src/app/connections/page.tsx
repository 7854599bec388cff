import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Connections } from '../../views/connections/connections';

export const metadata: Metadata = { title: 'Connections' };

export default function Page() {
  return (
    <Suspense>
      <Connections />
    </Suspense>
  );
}
