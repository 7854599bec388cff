'use client';
import { useEffect, useState } from 'react';
import type { Values } from '../../core/personal';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { ProofSheet } from '../../work/orders/proofs';

/** An area as it is made, drawn as its file is. What was shown before stays until the next is there. */
export function ProofPicture({
  proof,
  area,
  values,
}: {
  proof: ProofSheet;
  area: ProofSheet['areas'][number];
  values: Values;
}) {
  const { order, line, print } = proof;
  const of = `${order} ${line} ${print} ${area.id}`;
  const mark = JSON.stringify(values);
  const [shown, setShown] = useState<{
    readonly of: string;
    readonly mark: string;
    readonly address: string;
  } | null>(null);
  const [failed, setFailed] = useState('');
  // biome-ignore lint/correctness/useExhaustiveDependencies: the values by their mark
  useEffect(() => {
    let old = false;
    setFailed('');
    theShop()
      .proofPicture(order, line, print, area.id, values)
      .then(
        (file) => {
          if (old) return;
          if (file) setShown({ of, mark, address: URL.createObjectURL(file) });
          else setFailed('It is not known any more what it is made of.');
        },
        (error) => !old && setFailed(failureInWords(error)),
      );
    return () => {
      old = true;
    };
  }, [of, mark]);
  useEffect(() => () => (shown ? URL.revokeObjectURL(shown.address) : undefined), [shown]);
  if (failed)
    return (
      <p role="alert" className="p-4 text-loss">
        {failed}
      </p>
    );
  if (shown?.of !== of)
    return <div aria-busy className="h-full min-h-40 w-full animate-pulse bg-raised" aria-hidden="true" />;
  return (
    <img
      src={shown.address}
      alt={`${area.name} as it is made`}
      className={`max-h-full max-w-full object-contain shadow-[0_1px_8px_#12232b40] ${shown.mark === mark ? '' : 'opacity-60'}`}
    />
  );
}
