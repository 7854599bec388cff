import type { Metadata } from 'next';
import { Suspense } from 'react';
import { GroupsPage } from '../../../views/groups/groups';

export const metadata: Metadata = { title: 'Groups' };

export default function Page() {
  return (
    <Suspense>
      <GroupsPage />
    </Suspense>
  );
}
