'use client';

/** The frame itself failed. */
export default function FrameError({ error }: { error: Error }) {
  return (
    <html lang="en">
      <body>
        <h1>Sampan could not be drawn</h1>
        <p role="alert">{error.message || 'Something went wrong.'} Nothing of the shop is lost.</p>
        <a href="/today">Open Sampan anew</a>
      </body>
    </html>
  );
}
