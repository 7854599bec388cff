'use client';
import { useAnswer } from '../../ui/answer';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { say } from '../../ui/said';
import { TextField } from '../../ui/text-field';
import { theShop } from '../../work/desk/client';
import type { DesignEdit } from '../../work/print/designs';
import { CHECKED, useAsset } from './asset-picture';
import { notesInWords, sizeInWords } from './words';

const MOST_KEYWORDS = 40;

/** A design in full: its picture, what is known of it, its words. */
export function DesignDocket({ id, stamp, onClose }: { id: string; stamp: number; onClose: () => void }) {
  const design = useAnswer(() => theShop().design(id), [id, stamp]);
  const picture = useAsset(design?.large ?? null);
  if (!design) return null;
  const edit = async (set: DesignEdit) => {
    await theShop().editDesigns([id], set);
    await say('Saved.', { undo: true });
  };
  const { look } = design;
  const margins = look.bounds[2] - look.bounds[0] < 0.97 || look.bounds[3] - look.bounds[1] < 0.97;
  const facts: [string, string][] = [
    ['Size', sizeInWords(design)],
    [
      'File',
      `${design.type.replace('image/', '').replace('+xml', '').toUpperCase()}, ${Math.max(1, Math.round(design.bytes / 1000)).toLocaleString('en-GB')} kB`,
    ],
    ['Resolution in the file', design.dpi ? `${Math.round(design.dpi)} DPI` : 'not said'],
    [
      'Transparency',
      look.transparent
        ? look.half > 0.12
          ? `yes, ${Math.round(look.half * 100)} % half transparent`
          : 'yes'
        : 'none',
    ],
    [
      'Empty margins',
      margins
        ? `yes: what is drawn takes ${Math.round((look.bounds[2] - look.bounds[0]) * 100)} × ${Math.round((look.bounds[3] - look.bounds[1]) * 100)} %`
        : 'none',
    ],
  ];
  return (
    <Docket label={design.name} onClose={onClose}>
      <h2 className="text-base font-semibold">{design.name}</h2>
      {picture ? (
        <img
          src={picture}
          alt={design.name}
          className={`mt-2 max-h-72 w-full rounded-sm border border-rule object-contain ${CHECKED}`}
        />
      ) : (
        <div className="mt-2 h-72 rounded-sm border border-rule bg-raised" />
      )}
      {notesInWords(design).map((says) => (
        <Notice key={says}>{says}</Notice>
      ))}
      <Section title="What is known of it">
        <dl className="text-[13.5px]">
          {facts.map(([name, value]) => (
            <div key={name} className="flex gap-3 border-b border-rule-soft py-1">
              <dt className="grow text-muted">{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
          <div className="flex items-center gap-3 py-1">
            <dt className="grow text-muted">Main colours</dt>
            <dd className="flex gap-1">
              {look.palette.slice(0, 6).map(({ r, g, b, share }) => (
                <span
                  key={`${r} ${g} ${b}`}
                  role="img"
                  aria-label={`rgb ${r} ${g} ${b}, ${Math.round(share * 100)} %`}
                  title={`rgb ${r} ${g} ${b}, ${Math.round(share * 100)} %`}
                  className="size-4 rounded-sm border border-rule"
                  style={{ background: `rgb(${r} ${g} ${b})` }}
                />
              ))}
            </dd>
          </div>
        </dl>
      </Section>
      <Section title="Words">
        <TextField
          id="design-name"
          label="Name"
          value={design.name}
          onCommit={(text) => (text.trim() ? edit({ name: text.trim().slice(0, 120) }) : false)}
        />
        <TextField
          id="design-keywords"
          label="Keywords, separated by commas"
          value={design.keywords.join(', ')}
          onCommit={(text) =>
            edit({
              keywords: [
                ...new Set(
                  text
                    .split(/[,;\n]/)
                    .map((k) => k.trim().toLowerCase())
                    .filter(Boolean),
                ),
              ].slice(0, MOST_KEYWORDS),
            })
          }
        />
        <TextField
          id="design-set"
          label="Set"
          value={design.set}
          onCommit={(text) => edit({ set: text.trim().slice(0, 60) })}
        />
        <TextField
          id="design-rights"
          label="Source and rights"
          area
          value={design.rights}
          onCommit={(text) => edit({ rights: text.trim().slice(0, 1_000) })}
        />
      </Section>
    </Docket>
  );
}
