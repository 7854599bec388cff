'use client';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { Head, Notice } from '../../ui/head';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';

/** Where a marketplace's consent page sends the seller back to. */
export function ConsentReturn() {
  const router = useRouter();
  const [wrong, setWrong] = useState<string | null>(null);
  const begun = useRef(false);
  useEffect(() => {
    if (begun.current) return;
    begun.current = true;
    const query = new URLSearchParams(window.location.search);
    // The code must not stay in the address.
    window.history.replaceState(null, '', '/connections/return');
    theShop()
      .endConsent(query.toString())
      .then(async (done) => {
        if (!done.ok) return setWrong(done.reason);
        await say(`${done.name} is connected.`);
        router.replace('/connections');
      });
  }, [router]);
  return (
    <section className="min-w-0 grow">
      <Head name="Connections" state={wrong ? 'Not connected.' : 'Finishing the connection …'} />
      {wrong && (
        <div className="max-w-xl px-4" role="alert">
          <Notice tone="loss">{wrong}</Notice>
          <Link href="/connections" className="font-semibold text-river underline">
            Back to Connections
          </Link>
        </div>
      )}
    </section>
  );
}
