import type { Metadata } from 'next';
import { Suspense } from 'react';
import { Money } from '../../views/money/money';

export const metadata: Metadata = { title: 'Money' };

export default function Page() {
  return (
    <Suspense>
      <Money />
    </Suspense>
  );
}
