import Link from 'next/link';
import { formatCount } from '../../core/units';
import { Empty } from '../../ui/head';
import type { Job, SupplierConnection } from '../../work/model';

const Way = ({ to, children }: { to: string; children: string }) => (
  <Link href={to} className="font-semibold text-river underline">
    {children}
  </Link>
);

export function NoSupplier() {
  return (
    <Empty title="No supplier is connected yet">
      <p>
        Source shows what your suppliers offer, with the price and profit to expect on your marketplace.
        Connect a supplier’s service, or read its price list from a file or an address.
      </p>
      <p className="flex gap-4">
        <Way to="/connections">Go to Connections</Way>
        <Way to="/source/lists">Read a price list</Way>
      </p>
    </Empty>
  );
}

/** Suppliers without a catalogue: it is being read, or none was. @param jobs what reads them */
export function NoCatalogue({
  jobs,
  suppliers,
}: {
  jobs: readonly Job[];
  suppliers: readonly SupplierConnection[];
}) {
  const reading = jobs.find((j) => j.running && j.running.total > 0);
  if (reading?.running) {
    const name = suppliers.find((s) => s.id === reading.subject)?.name ?? 'a supplier';
    return (
      <Empty title={`Reading ${name}’s catalogue`}>
        <p role="status">
          {formatCount(reading.running.rows ?? reading.running.done)} read. It can be searched as soon as it
          is whole.
        </p>
      </Empty>
    );
  }
  return (
    <Empty title="There is no catalogue yet">
      <p>
        {jobs.find((j) => j.lastSays)?.lastSays ?? 'None has been read yet.'} A reading is planned in
        Connections and can be started there; files are read here.
      </p>
      <p className="flex gap-4">
        <Way to="/connections">Open Connections</Way>
        <Way to="/source/lists">Read a price list</Way>
      </p>
    </Empty>
  );
}
