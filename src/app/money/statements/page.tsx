import type { Metadata } from 'next';
import { Suspense } from 'react';
import { StatementsPage } from '../../../views/statements/statements';

export const metadata: Metadata = { title: 'Statements' };

export default function Page() {
  return (
    <Suspense>
      <StatementsPage />
    </Suspense>
  );
}
