import { chance } from '../stand-ins/random';

/** A made-up design of the shop, as an SVG. */
export interface DrawnDesign {
  /** As a file is called. */
  readonly file: string;
  readonly svg: string;
}

interface Inks {
  readonly name: string;
  readonly dark: string;
  readonly main: string;
  readonly light: string;
}

const INKS: readonly Inks[] = [
  { name: 'night', dark: '#14213d', main: '#33548f', light: '#f2c14e' },
  { name: 'rust', dark: '#4a1f16', main: '#b4532a', light: '#f3d9a4' },
  { name: 'moss', dark: '#223326', main: '#56764f', light: '#efe3b8' },
  { name: 'dusk', dark: '#3a2449', main: '#8a4f7d', light: '#f4a98b' },
];

type Draw = (inks: Inks, luck: ReturnType<typeof chance>) => { width: number; height: number; body: string };

const star = (x: number, y: number, r: number, fill: string) => {
  const points = Array.from({ length: 8 }, (_, k) => {
    const [angle, reach] = [(k * Math.PI) / 4, k % 2 ? r * 0.36 : r];
    return `${(x + Math.sin(angle) * reach).toFixed(1)},${(y - Math.cos(angle) * reach).toFixed(1)}`;
  });
  return `<polygon points="${points.join(' ')}" fill="${fill}"/>`;
};

/** Points of a shape in a box of 100, joined in order; `null` lifts the pen. */
const SHAPES: Readonly<Record<string, readonly (readonly [number, number] | null)[]>> = {
  'Great Bear': [
    [8, 30],
    [26, 24],
    [42, 32],
    [56, 42],
    [60, 64],
    [88, 70],
    [92, 44],
    [56, 42],
  ],
  Orion: [
    [26, 12],
    [40, 48],
    [30, 88],
    [68, 84],
    [58, 46],
    [70, 16],
    [26, 12],
    null,
    [40, 48],
    [49, 47],
    [58, 46],
  ],
  Cassiopeia: [
    [8, 36],
    [28, 66],
    [48, 40],
    [70, 70],
    [92, 34],
  ],
  Swan: [[50, 6], [50, 34], [50, 66], [50, 94], null, [10, 26], [50, 34], [90, 46]],
  Lyre: [
    [42, 12],
    [56, 30],
    [70, 44],
    [60, 84],
    [40, 74],
    [56, 30],
  ],
};

const constellation =
  (name: string): Draw =>
  (inks, luck) => {
    const all = SHAPES[name]!;
    const at = (p: readonly [number, number]) => [80 + p[0] * 8.4, 120 + p[1] * 8.4] as const;
    let path = '';
    let pen = false;
    for (const p of all) {
      if (!p) {
        pen = false;
        continue;
      }
      const [x, y] = at(p);
      path += `${pen ? 'L' : 'M'}${x} ${y}`;
      pen = true;
    }
    const dust = Array.from({ length: 60 }, () =>
      star(luck.whole(30, 970), luck.whole(30, 1170), luck.whole(4, 11), inks.main),
    ).join('');
    const stars = all.flatMap((p) => (p ? [star(...at(p), luck.whole(22, 40), inks.light)] : [])).join('');
    return {
      width: 1000,
      height: 1200,
      body: `<g opacity=".9">${dust}</g><path d="${path}" fill="none" stroke="${inks.main}" stroke-width="7" stroke-linejoin="round"/>${stars}`,
    };
  };

const moons: Draw = (inks) => {
  const phases = Array.from({ length: 9 }, (_, k) => {
    const x = 70 + k * 120;
    const bend = Math.abs(4 - k) / 4;
    const lit = k < 4 ? 1 : 0;
    return `<circle cx="${x}" cy="160" r="48" fill="${inks.dark}"/><path d="M${x} 112a48 48 0 0 ${lit} 0 96a${(48 * (1 - 2 * bend)).toFixed(1) === '0.0' ? 1 : Math.abs(48 * (1 - 2 * bend)).toFixed(1)} 48 0 0 ${bend > 0.5 ? 1 - lit : lit} 0 -96z" fill="${inks.light}"/>`;
  });
  return { width: 1100, height: 320, body: phases.join('') };
};

const comet: Draw = (inks, luck) => ({
  width: 1000,
  height: 1000,
  body: `<circle cx="500" cy="500" r="470" fill="${inks.dark}"/>${Array.from({ length: 50 }, () => star(luck.whole(180, 820), luck.whole(180, 820), luck.whole(4, 12), inks.light)).join('')}<path d="M700 320L250 690q-40 60 30 40z" fill="${inks.main}"/><path d="M700 320L330 700q-20 40 24 24z" fill="${inks.light}" opacity=".7"/><circle cx="706" cy="314" r="56" fill="${inks.light}"/>`,
});

const ridge: Draw = (inks, luck) => ({
  width: 1400,
  height: 1000,
  body: `<rect width="1400" height="1000" fill="${inks.dark}"/>${Array.from({ length: 90 }, () => star(luck.whole(10, 1390), luck.whole(10, 560), luck.whole(4, 13), inks.light)).join('')}<circle cx="1080" cy="240" r="110" fill="${inks.light}"/><path d="M0 760L240 520l180 190 260-300 300 340 200-180 220 230v240H0z" fill="${inks.main}"/><path d="M0 880l300-160 260 140 320-190 520 220v110H0z" fill="${inks.dark}" opacity=".75"/>`,
});

const planets: Draw = (inks) => ({
  width: 1000,
  height: 1000,
  body: [440, 350, 265, 185, 110]
    .map(
      (r, k) =>
        `<circle cx="500" cy="500" r="${r}" fill="none" stroke="${inks.main}" stroke-width="6"/><circle cx="${(500 + r * Math.cos(k * 1.9)).toFixed(0)}" cy="${(500 + r * Math.sin(k * 1.9)).toFixed(0)}" r="${34 - k * 4}" fill="${k % 2 ? inks.light : inks.dark}"/>`,
    )
    .join('')
    .concat(`<circle cx="500" cy="500" r="58" fill="${inks.light}"/>`),
});

const KINDS: readonly (readonly [string, Draw])[] = [
  ...Object.keys(SHAPES).map((name) => [name, constellation(name)] as const),
  ['Moon phases', moons],
  ['Comet', comet],
  ['Ridge at night', ridge],
  ['Five planets', planets],
  [
    'Owl on watch',
    (inks) => ({
      width: 900,
      height: 1100,
      body: `<path d="M450 90c190 0 300 150 300 420 0 300-130 470-300 470s-300-170-300-470c0-270 110-420 300-420z" fill="${inks.main}"/><path d="M190 180l120 60-90 70zM710 180l-120 60 90 70z" fill="${inks.dark}"/><circle cx="330" cy="370" r="110" fill="${inks.light}"/><circle cx="570" cy="370" r="110" fill="${inks.light}"/><circle cx="330" cy="370" r="54" fill="${inks.dark}"/><circle cx="570" cy="370" r="54" fill="${inks.dark}"/><path d="M450 440l44 80h-88z" fill="${inks.light}"/><path d="M290 640q160 90 320 0M290 730q160 90 320 0M310 820q140 80 280 0" fill="none" stroke="${inks.dark}" stroke-width="20"/>`,
    }),
  ],
];

/** So many designs, the same ones on every machine: each motif in each set of inks. */
export function drawDesigns(count: number): DrawnDesign[] {
  return INKS.flatMap((inks) => KINDS.map(([name, draw]) => ({ inks, name, draw })))
    .slice(0, count)
    .map(({ inks, name, draw }, k) => {
      const { width, height, body } = draw(inks, chance(900 + k));
      const file = `${name.toLowerCase().replace(/ /g, '-')}-${inks.name}.svg`;
      return {
        file,
        svg: `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${body}</svg>`,
      };
    });
}
