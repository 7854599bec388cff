import type { FindPlaces, Place } from './problems';
import { comparable } from './words';

/** A row of the gazetteer: name, region, country, latitude, longitude, zone, people. */
export type PlaceRow = readonly [string, string, string, number, number, string, number];

/** Finds places by name, and by region or country where those are named behind commas. */
export function placesIn(rows: readonly PlaceRow[]): FindPlaces {
  const byName = new Map<string, Place[]>();
  /** Names of several words by the first of them: who writes `Newcastle` may mean the one upon Tyne. */
  const byFirst = new Map<string, Place[]>();
  for (const [name, region, country, latitude, longitude, zone, people] of rows) {
    const key = comparable(name);
    const place = { name, region, country, latitude, longitude, zone, people };
    const own = byName.get(key);
    if (own) own.push(place);
    else byName.set(key, [place]);
    const space = key.indexOf(' ');
    if (space > 0) {
      const first = key.slice(0, space);
      const longer = byFirst.get(first);
      if (longer) longer.push(place);
      else byFirst.set(first, [place]);
    }
  }
  return (typed) => {
    const [name = '', ...behind] = typed.split(',').map(comparable);
    const longer = (byFirst.get(name.split(' ')[0]!) ?? []).filter((p) =>
      comparable(p.name).startsWith(`${name} `),
    );
    const some = [...(byName.get(name) ?? []), ...longer].filter((p) =>
      behind.every((part) => !part || comparable(p.region) === part || comparable(p.country) === part),
    );
    return some.sort((a, b) => b.people - a.people);
  };
}
