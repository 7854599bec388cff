'use client';
import { proxy } from 'comlink';
import Link from 'next/link';
import { useId, useState } from 'react';
import type { Found } from '../../core/mail';
import { formatMoney } from '../../core/money';
import { countOf } from '../../core/units';
import { Button } from '../../ui/button';
import { DropFile } from '../../ui/drop-file';
import { Head, Notice, Section } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { MailProposal, ReadMail } from '../../work/orders/mails';
import { nameIn, type ShopTerms } from '../../work/quoting/worth';

/** Mails of suppliers and carriers: what they say of purchases is found, shown where it stands, and taken by a person's word. */
export function MailsPage() {
  const shop = useShop();
  const id = useId();
  const [mails, setMails] = useState<readonly ReadMail[]>([]);
  const [done, setDone] = useState<ReadonlySet<string>>(new Set());
  const [text, setText] = useState('');
  const [at, setAt] = useState<string | null>(null);
  if (!shop) return <Loading name="Mails" />;
  const read = async (some: readonly (Blob | string)[], names: readonly string[]) => {
    setAt(countOf(some.length, 'mail'));
    try {
      const found = await theShop().readMails(
        some,
        names,
        proxy((n: number) => setAt(`${n} of ${countOf(some.length, 'mail')}`)),
      );
      setMails(found);
      setDone(new Set());
      const taken = found.reduce((n, one) => n + one.taken, 0);
      if (taken) await say(`${countOf(taken, 'purchase')} moved on by senders that you trust.`);
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
    setAt(null);
  };
  const take = async (some: readonly MailProposal[]) => {
    let [ok, why] = [0, ''];
    const next = new Set(done);
    for (const { id: key, finding } of some) {
      const said = await theShop().takeMail({
        ...{
          order: finding.about.order,
          reference: finding.about.reference,
          supplier: finding.about.supplier,
        },
        number: finding.number?.value ?? '',
        parcels: finding.parcels.map(({ value, carrier }) => ({ tracking: value, carrier })),
        total: finding.total?.value ?? null,
        cancelled: finding.cancelled !== null,
      });
      if (said.ok) {
        ok++;
        next.add(key);
      } else why ||= said.reason;
    }
    setDone(next);
    await say(`${countOf(ok, 'purchase')} moved on${why ? `; ${why}` : ''}.`, { wrong: why !== '' });
  };
  const open = mails.flatMap((m) => m.proposals.filter((p) => !p.known && !done.has(p.id)));
  const clear = open.filter((p) => !p.doubt);
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head
        name="Mails"
        state="What suppliers and carriers write of your purchases. Nothing is taken before you say so."
      >
        <Link href="/orders" className="text-[13px] text-river underline">
          Orders
        </Link>
        {clear.length > 1 && (
          <Button kind="main" onClick={() => take(clear)}>
            Take all {clear.length} that are clear
          </Button>
        )}
      </Head>
      <div className="max-w-4xl px-4 pb-8">
        <DropFile
          words="Choose mails (.eml)"
          accept=".eml,message/rfc822"
          looking={at}
          onFiles={(files) =>
            read(
              files,
              files.map((f) => f.name),
            )
          }
          onWrong={(says) => say(says, { wrong: true })}
        />
        <form
          className="mt-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (text.trim()) read([text], ['Pasted text']);
          }}
        >
          <label htmlFor={`${id}-text`} className="text-xs text-muted">
            or paste the text of one
          </label>
          <textarea
            id={`${id}-text`}
            rows={3}
            value={text}
            onChange={(e) => setText(e.target.value)}
            className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px]"
          />
          <Button type="submit" className="mt-1" disabled={!text.trim() || at !== null}>
            Look through it
          </Button>
        </form>
        {mails.map((mail, k) => (
          <MailSection key={`${k} ${mail.name}`} read={mail} shop={shop} done={done} onTake={take} />
        ))}
      </div>
    </section>
  );
}

function MailSection({
  read,
  shop,
  done,
  onTake,
}: {
  read: ReadMail;
  shop: ShopTerms;
  done: ReadonlySet<string>;
  onTake: (some: readonly MailProposal[]) => Promise<void>;
}) {
  const { mail, proposals } = read;
  if (!mail) return <Notice tone="loss">{`${read.name}: ${read.reason}`}</Notice>;
  const suppliers = [...new Set(proposals.map((p) => p.finding.about.supplier))];
  const sender = shop.settings.senders?.find((s) => s.address === mail.from);
  const only = suppliers.length === 1 ? suppliers[0]! : null;
  return (
    <Section title={mail.subject || read.name}>
      <p className="text-xs text-muted">
        {[mail.from && `from ${mail.from}`, mail.date?.slice(0, 16).replace('T', ' '), read.name]
          .filter(Boolean)
          .join(', ')}
      </p>
      {mail.odd && (
        <Notice tone="loss">
          Replies to it go to another domain than it comes from: it may not be genuine.
        </Notice>
      )}
      {!proposals.length && (
        <p className="mt-1 text-[13.5px]">It names no purchase that you await by file or by hand.</p>
      )}
      {proposals.map((p) => (
        <Proposal
          key={p.id}
          proposal={p}
          text={mail.text}
          nameOf={nameIn(shop)}
          isDone={done.has(p.id)}
          onTake={() => onTake([p])}
        />
      ))}
      {mail.from && only && !mail.odd && (
        <label className="mt-1 block text-[13px]">
          <input
            type="checkbox"
            className="mr-1 accent-river"
            checked={sender?.taken ?? false}
            onChange={async (e) => {
              await theShop().keepSender(mail.from, { supplier: only, taken: e.target.checked });
              await say(
                e.target.checked
                  ? `What is clear in mails of ${mail.from} is taken from now on.`
                  : `Mails of ${mail.from} are asked about again.`,
                { undo: true },
              );
            }}
          />
          Take what is clear in mails of {mail.from} about {nameIn(shop)(only)} without asking
        </label>
      )}
    </Section>
  );
}

function Proposal({
  proposal,
  text,
  nameOf,
  isDone,
  onTake,
}: {
  proposal: MailProposal;
  text: string;
  nameOf: (id: string) => string;
  isDone: boolean;
  onTake: () => void;
}) {
  const { finding, doubt, known } = proposal;
  const { about, number, parcels, total, cancelled } = finding;
  const rows: readonly (readonly [string, Found<unknown> | null, string])[] = [
    ['Their number', number, number?.value ?? ''],
    ...parcels.map(
      (one) => ['Tracking', one, `${one.value}${one.carrier ? `, ${one.carrier}` : ''}`] as const,
    ),
    ['Charged', total, total ? formatMoney({ minor: total.value, currency: about.currency }) : ''],
    ['Cancelled', cancelled, cancelled ? 'all that is not in a parcel' : ''],
  ];
  return (
    <div className="my-2 rounded-sm border border-rule p-2 text-[13.5px]">
      <p>
        <Link
          href={`/orders?row=${encodeURIComponent(about.order)}`}
          className="font-mono text-river underline"
        >
          {about.number}
        </Link>{' '}
        <span className="text-muted">from {nameOf(about.supplier)}</span>
      </p>
      <dl className="mt-1 grid grid-cols-[7rem_1fr] gap-x-2">
        {rows
          .filter(([, found]) => found)
          .map(([name, found, says]) => (
            <div key={`${name} ${says}`} className="contents">
              <dt className="text-muted">{name}</dt>
              <dd>
                {says} <Excerpt text={text} found={found!} />
              </dd>
            </div>
          ))}
      </dl>
      {doubt && <p className="mt-1 text-lamp">◆ {doubt}</p>}
      <div className="mt-1.5">
        {isDone || known ? (
          <span className="text-muted">{isDone ? 'Taken.' : 'All of it is on record.'}</span>
        ) : (
          <Button kind={doubt ? 'quiet' : 'main'} onClick={onTake}>
            {doubt ? 'Take it all the same' : 'Take it'}
          </Button>
        )}
      </div>
    </div>
  );
}

/** Characters shown on either side of what was found. */
const AROUND = 36;

/** What was found, in the words around it. */
function Excerpt({ text, found: { at, length } }: { text: string; found: Found<unknown> }) {
  return (
    <span className="block text-xs text-muted">
      …{text.slice(Math.max(0, at - AROUND), at)}
      <mark className="bg-lamp-soft text-ink">{text.slice(at, at + length)}</mark>
      {text.slice(at + length, at + length + AROUND)}…
    </span>
  );
}
