import type { Metadata } from 'next';
import { Suspense } from 'react';
import { BringIn } from '../../../views/bring-in/bring-in';

export const metadata: Metadata = { title: 'Bring in a shop' };

export default function Page() {
  return (
    <Suspense>
      <BringIn />
    </Suspense>
  );
}
