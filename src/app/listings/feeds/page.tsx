import type { Metadata } from 'next';
import { Suspense } from 'react';
import { FeedsPage } from '../../../views/feeds/feeds';

export const metadata: Metadata = { title: 'Feeds' };

export default function Page() {
  return (
    <Suspense>
      <FeedsPage />
    </Suspense>
  );
}
