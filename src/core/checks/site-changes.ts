import { ruleInWords, taxInWords } from '../pricing';
import type { Site } from './site';

const missing = (from: readonly string[], to: readonly string[]) => from.filter((one) => !to.includes(one));

/** What changed between two readings of a marketplace's fees and rules, one sentence each; empty where nothing did. */
export function siteChangesInWords(before: Site, after: Site): string[] {
  const said: string[] = [];
  const differ = (what: string, from: string | number, to: string | number) => {
    if (from !== to) said.push(`${what}: ${from} → ${to}`);
  };
  const lists = (what: string, from: readonly string[], to: readonly string[]) => {
    const [gone, come] = [missing(from, to), missing(to, from)];
    if (come.length) said.push(`${what} added: ${come.join(', ')}`);
    if (gone.length) said.push(`${what} gone: ${gone.join(', ')}`);
  };
  const nameIn = (site: Site) => (id: string) => site.categories.find((c) => c.id === id)?.name ?? id;
  const rulesOf = (site: Site) =>
    new Map(
      site.fees.rules.map((r) => [
        r.id,
        ruleInWords(r, site.fees.tax, site.currency, nameIn(site)) + (r.optional ? ' (optional)' : ''),
      ]),
    );
  const [old, now] = [rulesOf(before), rulesOf(after)];
  for (const [id, words] of now) {
    const was = old.get(id);
    if (was === undefined) said.push(`New fee. ${words}`);
    else if (was !== words) said.push(`${words} (it was ${was.slice(was.indexOf(': ') + 2)})`);
  }
  for (const [id, words] of old) if (!now.has(id)) said.push(`No longer taken. ${words}`);
  differ('Tax', taxInWords(before.fees.tax), taxInWords(after.fees.tax));
  differ('Currency', before.currency, after.currency);
  differ('Longest title', before.titleLimit, after.titleLimit);
  differ('Longest description', before.descriptionLimit, after.descriptionLimit);
  differ('Fewest pictures', before.pictures.least, after.pictures.least);
  differ('Most pictures', before.pictures.most, after.pictures.most);
  differ('Fewest pixels of a picture', before.pictures.shortest, after.pictures.shortest);
  differ('Square pictures', before.pictures.square ? 'yes' : 'no', after.pictures.square ? 'yes' : 'no');
  differ('Most tags', before.tags?.most ?? 0, after.tags?.most ?? 0);
  lists(
    'Category',
    before.categories.map((c) => c.name),
    after.categories.map((c) => c.name),
  );
  for (const c of after.categories) {
    const was = before.categories.find((b) => b.id === c.id);
    if (!was) continue;
    if (c.needsBrand !== was.needsBrand)
      said.push(`${c.name} ${c.needsBrand ? 'now asks' : 'no longer asks'} for a brand`);
    if (c.needsGtin !== was.needsGtin)
      said.push(`${c.name} ${c.needsGtin ? 'now asks' : 'no longer asks'} for a GTIN`);
  }
  for (const a of after.attributes) {
    const was = before.attributes.find((b) => b.id === a.id);
    const where = a.categories ? ` in ${a.categories.map(nameIn(after)).join(', ')}` : '';
    if (!was) said.push(`New attribute “${a.name}”${where}, ${a.needed ? 'needed' : 'as you like'}`);
    else if (was.needed !== a.needed)
      said.push(`${a.name} is ${a.needed ? 'needed' : 'no longer needed'}${where}`);
    else if (JSON.stringify(was.categories) !== JSON.stringify(a.categories))
      said.push(`${a.name} is asked${where || ' in all categories'}`);
    else
      lists(
        `Value of ${a.name}`,
        was.choices.map((c) => c.name),
        a.choices.map((c) => c.name),
      );
  }
  for (const b of before.attributes)
    if (!after.attributes.some((a) => a.id === b.id)) said.push(`${b.name} is no longer asked`);
  lists('Word not allowed', before.bannedWords, after.bannedWords);
  lists(
    'Carrier',
    before.carriers.map((c) => c.name),
    after.carriers.map((c) => c.name),
  );
  lists('Country it sells to', before.shipsTo, after.shipsTo);
  return said.length || JSON.stringify(before) === JSON.stringify(after)
    ? said
    : ['Details that touch neither price nor what a listing needs.'];
}
