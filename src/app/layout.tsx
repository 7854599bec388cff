import type { Metadata } from 'next';
import { connection } from 'next/server';
import type { ReactNode } from 'react';
import { Frame } from '../views/frame/frame';
import './globals.css';

export const metadata: Metadata = {
  title: { default: 'Sampan', template: '%s · Sampan' },
  description: 'For people who sell goods they do not hold.',
};

export default async function Layout({ children }: { children: ReactNode }) {
  // The nonce of the content security policy is new for each request, so pages are rendered at request time.
  await connection();
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <Frame>{children}</Frame>
      </body>
    </html>
  );
}
