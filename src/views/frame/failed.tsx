'use client';
import { usePathname } from 'next/navigation';
import { askAgain } from '../../ui/asked';
import { Button } from '../../ui/button';
import { Empty } from '../../ui/head';

/** Shown in place of a view that failed: the reason, and the ways to go on. */
export function Failed({ says, onAgain }: { says: string; onAgain: () => void }) {
  const path = usePathname();
  return (
    <div role="alert" className="m-auto">
      <Empty title="This view could not be drawn">
        <p>{says || 'Something in it went wrong.'} Nothing of the shop is lost.</p>
        <div className="flex justify-center gap-2">
          <Button kind="main" onClick={() => askAgain().then(onAgain)}>
            Try again
          </Button>
          {/* Without what the address says: that may be what the view cannot draw. */}
          <Button onClick={() => window.location.assign(path)}>Open the view anew</Button>
          <Button onClick={() => window.location.assign('/today')}>Go to Today</Button>
        </div>
      </Empty>
    </div>
  );
}
