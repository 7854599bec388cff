'use client';
import { Failed } from '../views/frame/failed';

/** A view that failed: the frame around it stays. */
export default function ViewError({ error, reset }: { error: Error; reset: () => void }) {
  return <Failed says={error.message} onAgain={reset} />;
}
