'use client';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import { type BlankColour, findingInWords } from '../../core/print';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { SheetLine, WholeSheet } from '../../work/print/sheets';
import { AreaPicture } from './area-picture';

interface Props {
  readonly whole: WholeSheet;
  readonly line: SheetLine;
  readonly colour: BlankColour;
  /** Where it is placed by hand. */
  readonly placing: string;
  readonly onClose: () => void;
}

/** A design on its sheet in full: how it lies in each area, what a printer would say, and pictures of the goods. */
export function SheetDocket({ whole, line, colour, placing, onClose }: Props) {
  const { sheet, blank } = whole;
  const { design, plan, findings, mended } = line;
  const follow = async () => {
    for (const area of mended) await theShop().placeArea(sheet.id, design.id, area, null);
    await say(`${design.name} follows the rule again.`, { undo: true });
  };
  const off = async () => {
    await theShop().takeOffSheet(sheet.id, [design.id]);
    await say(`${design.name} is off the sheet.`, { undo: true });
    onClose();
  };
  return (
    <Docket label={design.name} onClose={onClose}>
      <h2 className="text-base font-semibold">{design.name}</h2>
      <p className="text-xs text-muted">
        on {blank.name}
        {sheet.size && `, ${sheet.size}`}; {mended.length ? 'placed by hand' : 'by the rule of the sheet'}
      </p>
      {findings.map(({ area, finding }) => (
        <Notice
          key={`${area} ${JSON.stringify(finding)}`}
          tone={finding.kind === 'missing' || finding.kind === 'not opaque' ? 'loss' : 'person'}
        >
          {blank.areas.length > 1 && `${blank.areas.find((a) => a.id === area)?.name}: `}
          {findingInWords(finding)}
        </Notice>
      ))}
      <div className="mt-2 flex flex-wrap gap-2">
        <Link
          href={placing}
          className="rounded-sm border border-river bg-river px-2.5 py-1 text-[13px] font-semibold text-river-ink hover:brightness-110"
        >
          Place by hand
        </Link>
        {mended.length > 0 && <Button onClick={() => void follow()}>Follow the rule again</Button>}
        <Button onClick={() => void off()}>Take off</Button>
      </div>
      <MockUps whole={whole} line={line} colour={colour} />
      <Section title="As it is printed">
        <div className="grid grid-cols-2 gap-2">
          {blank.areas
            .filter((a) => plan[a.id])
            .map((area) => (
              <figure key={area.id}>
                <AreaPicture
                  area={area}
                  size={sheet.size}
                  plan={plan[area.id]}
                  designs={[design]}
                  ground={colour.hex}
                  label={`${area.name} of ${design.name}`}
                  className="max-h-64"
                />
                <figcaption className="text-xs text-muted">{area.name}</figcaption>
              </figure>
            ))}
        </div>
      </Section>
    </Docket>
  );
}

function MockUps({ whole, line, colour }: Pick<Props, 'whole' | 'line' | 'colour'>) {
  const { sheet, blank } = whole;
  const scenes = useAnswer(() => theShop().scenes(blank.id), [blank.id]);
  const [scene, setScene] = useState('');
  const chosen = scenes?.find((s) => s.id === scene) ?? scenes?.[0];
  const placed = JSON.stringify(line.plan);
  const made = useAnswer(
    async () =>
      chosen
        ? { of: chosen.id, file: await theShop().mockUp(sheet.id, line.design.id, chosen.id, colour.name) }
        : null,
    [chosen?.id, colour.name, line.design.id, placed],
  );
  const [address, setAddress] = useState('');
  useEffect(() => {
    if (!made?.file) return;
    const url = URL.createObjectURL(made.file);
    setAddress(url);
    return () => URL.revokeObjectURL(url);
  }, [made]);
  if (!scenes?.length) return null;
  return (
    <Section title="As buyers see it">
      <div className="aspect-square w-full rounded-sm border border-rule bg-raised">
        {address && (
          <img
            src={address}
            alt={`${line.design.name} on ${blank.name}: ${chosen?.name ?? ''}`}
            className="size-full rounded-sm"
          />
        )}
      </div>
      <div className="mt-1.5 flex flex-wrap gap-1">
        {scenes.map((s) => (
          <button
            key={s.id}
            type="button"
            aria-pressed={s.id === chosen?.id}
            onClick={() => setScene(s.id)}
            className={`rounded-sm border px-2 py-0.5 text-xs ${s.id === chosen?.id ? 'border-river bg-river-soft font-semibold' : 'border-rule hover:border-edge'}`}
          >
            {s.name}
          </button>
        ))}
      </div>
    </Section>
  );
}
