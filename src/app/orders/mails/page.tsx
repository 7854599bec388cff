import type { Metadata } from 'next';
import { Suspense } from 'react';
import { MailsPage } from '../../../views/orders/mails';

export const metadata: Metadata = { title: 'Mails' };

export default function Page() {
  return (
    <Suspense>
      <MailsPage />
    </Suspense>
  );
}
