import type { Metadata } from 'next';
import { Suspense } from 'react';
import { MessagesPage } from '../../../views/orders/messages';

export const metadata: Metadata = { title: 'Messages to buyers' };

export default function Page() {
  return (
    <Suspense>
      <MessagesPage />
    </Suspense>
  );
}
