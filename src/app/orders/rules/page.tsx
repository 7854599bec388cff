import type { Metadata } from 'next';
import { Suspense } from 'react';
import { OrderRulesPage } from '../../../views/orders/rules/order-rules';

export const metadata: Metadata = { title: 'Order rules' };

export default function Page() {
  return (
    <Suspense>
      <OrderRulesPage />
    </Suspense>
  );
}
