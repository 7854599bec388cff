import type { Instant } from '../units';
import type { Place } from './problems';

/** Stars that the eye sees, and the lines between them. */
export interface SkyChart {
  /** By threes: right ascension and declination (J2000) in hundredths of a degree, magnitude in tenths. */
  readonly stars: readonly number[];
  /** Each by pairs of right ascension and declination, hundredths of a degree. */
  readonly lines: readonly (readonly number[])[];
}

const RAD = Math.PI / 180;
/** 2000-01-01T12:00Z, from which the formula counts days. */
const J2000 = Date.UTC(2000, 0, 1, 12);

/**
 * Mean sidereal time at Greenwich, degrees: Meeus, Astronomical Algorithms (2nd ed.), formula 12.4. Universal time is taken
 * for UTC, which is right to a second, a two-hundred-and-fortieth of a degree.
 */
export function siderealTime(at: Instant): number {
  const days = (at - J2000) / 86_400_000;
  const centuries = days / 36_525;
  const degrees =
    280.46061837 + 360.98564736629 * days + 0.000387933 * centuries ** 2 - centuries ** 3 / 38_710_000;
  return ((degrees % 360) + 360) % 360;
}

/** Where something stands in the sky. Degrees: above the horizon, and from north over east. Meeus, formulas 13.5 and 13.6. */
export function horizontal(
  ra: number,
  dec: number,
  latitude: number,
  localSidereal: number,
): { readonly altitude: number; readonly azimuth: number } {
  const hour = (localSidereal - ra) * RAD;
  const [phi, delta] = [latitude * RAD, dec * RAD];
  const altitude = Math.asin(
    Math.sin(phi) * Math.sin(delta) + Math.cos(phi) * Math.cos(delta) * Math.cos(hour),
  );
  const fromSouth = Math.atan2(
    Math.sin(hour),
    Math.cos(hour) * Math.sin(phi) - Math.tan(delta) * Math.cos(phi),
  );
  return { altitude: altitude / RAD, azimuth: (((fromSouth / RAD + 180) % 360) + 360) % 360 };
}

/** Something of the sky on a disc of radius 1, zenith in the middle, north up and east left: a stereographic projection. */
const onDisc = (altitude: number, azimuth: number) => {
  const r = Math.tan(((90 - altitude) / 2) * RAD);
  return { x: -r * Math.sin(azimuth * RAD), y: -r * Math.cos(azimuth * RAD) };
};

const short = (n: number) => Math.round(n * 100) / 100;

/** The sky above a place at an instant, as SVG that fills a box of so many mm with a disc. */
export function skySvg(
  chart: SkyChart,
  at: Instant,
  place: Pick<Place, 'latitude' | 'longitude'>,
  colour: string,
  box: { readonly width: number; readonly height: number },
): string {
  const r = Math.min(box.width, box.height) / 2;
  const [cx, cy] = [box.width / 2, box.height / 2];
  const sidereal = siderealTime(at) + place.longitude;
  const seen = (ra: number, dec: number) => {
    const { altitude, azimuth } = horizontal(ra / 100, dec / 100, place.latitude, sidereal);
    if (altitude < 0) return null;
    const { x, y } = onDisc(altitude, azimuth);
    return { x: short(cx + x * r), y: short(cy + y * r) };
  };
  const lines = chart.lines.flatMap((line) => {
    const runs: string[] = [];
    let open = false;
    for (let k = 0; k < line.length; k += 2) {
      const p = seen(line[k]!, line[k + 1]!);
      if (p) runs.push(`${open ? 'L' : 'M'}${p.x} ${p.y}`);
      open = p !== null;
    }
    return runs;
  });
  const stars: string[] = [];
  for (let k = 0; k < chart.stars.length; k += 3) {
    const p = seen(chart.stars[k]!, chart.stars[k + 1]!);
    if (!p) continue;
    // A star of each magnitude has 0.8 times the width of the one before.
    const size = r * 0.0125 * 0.8 ** (chart.stars[k + 2]! / 10);
    stars.push(`<circle cx="${p.x}" cy="${p.y}" r="${short(Math.max(size, r * 0.002))}"/>`);
  }
  return `<circle cx="${short(cx)}" cy="${short(cy)}" r="${short(r)}" fill="${colour}"/><path d="${lines.join('')}" fill="none" stroke="#ffffff" stroke-opacity="0.45" stroke-width="${short(r * 0.004)}"/><g fill="#ffffff">${stars.join('')}</g>`;
}
