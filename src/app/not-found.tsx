import Link from 'next/link';

export default function NotFound() {
  return (
    <div className="p-6">
      <h1 className="text-xl font-semibold">There is no such place on the course</h1>
      <p className="mt-2 text-muted">
        The address may be mistyped. <Link href="/today">Go to Today</Link>.
      </p>
    </div>
  );
}
