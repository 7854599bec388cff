import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Lies, Point, Scene, SceneArea, SceneKind } from '../src/core/print';

/**
 * Draws the scenes that ship with Sampan into public/scenes. `tsx scripts/scenes.ts`. Shades and lights are gradients alone,
 * which any renderer draws alike.
 */

const SIDE = 1200;

interface View {
  /** Left, top and side of what is seen of the drawing. */
  readonly x: number;
  readonly y: number;
  readonly side: number;
}

const WHOLE: View = { x: 0, y: 0, side: SIDE };

const svg = (body: string, defs = '', { x, y, side } = WHOLE) =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="${SIDE}" viewBox="${x} ${y} ${side} ${side}">${defs ? `<defs>${defs}</defs>` : ''}${body}</svg>`;

interface Stop {
  readonly at: number;
  readonly colour: string;
  readonly opacity?: number;
}

const stops = (all: readonly Stop[]) =>
  all
    .map(
      ({ at, colour, opacity = 1 }) =>
        `<stop offset="${at}" stop-color="${colour}"${opacity < 1 ? ` stop-opacity="${opacity}"` : ''}/>`,
    )
    .join('');

const linear = (id: string, to: readonly [number, number, number, number], all: readonly Stop[]) =>
  `<linearGradient id="${id}" gradientUnits="userSpaceOnUse" x1="${to[0]}" y1="${to[1]}" x2="${to[2]}" y2="${to[3]}">${stops(all)}</linearGradient>`;
const radial = (id: string, cx: number, cy: number, r: number, all: readonly Stop[]) =>
  `<radialGradient id="${id}" gradientUnits="userSpaceOnUse" cx="${cx}" cy="${cy}" r="${r}">${stops(all)}</radialGradient>`;

const wall = (from: string, to: string) =>
  linear(
    'wall',
    [0, 0, 0, SIDE],
    [
      { at: 0, colour: from },
      { at: 1, colour: to },
    ],
  );
const fill = (id: string) => `<rect width="${SIDE}" height="${SIDE}" fill="url(#${id})"/>`;

/** A soft shadow as a few growing outlines: no blur is needed. */
const shadow = (shape: (grow: number) => string, dx: number, dy: number) =>
  `<g transform="translate(${dx} ${dy})" fill="#12232b">${[26, 20, 14, 9, 5, 2]
    .map((grow) => `<g fill-opacity=".05">${shape(grow)}</g>`)
    .join('')}</g>`;

const box =
  (x: number, y: number, width: number, height: number, r = 0) =>
  (grow: number) =>
    `<rect x="${x - grow}" y="${y - grow}" width="${width + 2 * grow}" height="${height + 2 * grow}" rx="${r + grow}"/>`;

/** Upright folds of hanging cloth: dark and light stripes over a width, as grey gradients. */
function folds(id: string, x: number, width: number, waves: number, depth: number): string {
  const all: Stop[] = [];
  const steps = waves * 8;
  for (let k = 0; k <= steps; k++) {
    const phase = (k / steps) * waves * 2 * Math.PI;
    const grey = Math.round(255 * (1 - depth * (0.5 - 0.5 * Math.cos(phase + 0.9))));
    all.push({ at: k / steps, colour: `rgb(${grey},${grey},${grey})` });
  }
  return linear(id, [x, 0, x + width, 0], all);
}

/** A cloth of so many waves: each row of points swings from side to side, the lower the more. */
function cloth(x: number, y: number, width: number, height: number, waves: number, swing: number): Lies {
  const columns = waves * 8;
  const rows = 8;
  const points: Point[] = [];
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) {
      const [s, t] = [i / columns, j / rows];
      const phase = s * waves * 2 * Math.PI + 0.9;
      points.push({
        x: x + s * width + Math.sin(phase) * swing * (0.35 + 0.65 * t),
        y: y + t * height + (1 - Math.cos(phase)) * swing * 0.35 * (0.4 + 0.6 * t),
      });
    }
  return { kind: 'mesh', columns, rows, points };
}

/** The outline of a mesh as a path. */
function outline(lies: Lies): string {
  if (lies.kind !== 'mesh') throw new Error('Only a mesh has an outline.');
  const { columns, rows, points } = lies;
  const at = (i: number, j: number) => points[j * (columns + 1) + i]!;
  const ring = [
    ...Array.from({ length: columns }, (_, i) => at(i, 0)),
    ...Array.from({ length: rows }, (_, j) => at(columns, j)),
    ...Array.from({ length: columns }, (_, i) => at(columns - i, rows)),
    ...Array.from({ length: rows }, (_, j) => at(0, rows - j)),
  ];
  return `M${ring.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('L')}Z`;
}

/** A cushion: a square that bulges. */
function bulge(x: number, y: number, side: number, amount: number): Lies {
  const n = 12;
  const points: Point[] = [];
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++) {
      const [s, t] = [(i / n) * 2 - 1, (j / n) * 2 - 1];
      points.push({
        x: x + side / 2 + (side / 2) * s * (1 + amount * (1 - t * t)),
        y: y + side / 2 + (side / 2) * t * (1 + amount * (1 - s * s)),
      });
    }
  return { kind: 'mesh', columns: n, rows: n, points };
}

interface Drawn {
  readonly id: string;
  readonly name: string;
  readonly kind: SceneKind;
  readonly blanks: readonly string[];
  /** Body and definitions of each part. */
  readonly ground: readonly [string, string?];
  readonly goods: readonly [string, string?];
  readonly shade?: readonly [string, string?];
  readonly light?: readonly [string, string?];
  readonly front?: readonly [string, string?];
  readonly areas: readonly SceneArea[];
}

/** How an area lies in a part of a picture that is seen larger. */
function closer(lies: Lies, { x, y, side }: View): Lies {
  const k = SIDE / side;
  const moved = (p: Point): Point => ({ x: (p.x - x) * k, y: (p.y - y) * k });
  switch (lies.kind) {
    case 'flat':
      return { ...lies, ...moved(lies), width: lies.width * k, height: lies.height * k };
    case 'cylinder':
      return {
        ...lies,
        ...moved(lies),
        radius: lies.radius * k,
        height: lies.height * k,
        sink: lies.sink * k,
      };
    default:
      return { ...lies, points: lies.points.map(moved) };
  }
}

const rounded = (lies: Lies): Lies =>
  'points' in lies
    ? {
        ...lies,
        points: lies.points.map((p) => ({ x: Math.round(p.x * 10) / 10, y: Math.round(p.y * 10) / 10 })),
      }
    : lies;

function sceneOf(d: Drawn, view: View = WHOLE): Scene {
  const part = (p: readonly [string, string?] | undefined) => p && svg(p[0], p[1], view);
  const [shade, light, front] = [part(d.shade), part(d.light), part(d.front)];
  return {
    form: 'sampan-scene',
    version: 1,
    id: d.id,
    name: d.name,
    kind: d.kind,
    blanks: d.blanks,
    width: SIDE,
    height: SIDE,
    ground: part(d.ground)!,
    goods: part(d.goods)!,
    ...(shade && { shade }),
    ...(light && { light }),
    ...(front && { front }),
    areas: d.areas.map((a) => ({ ...a, lies: rounded(closer(a.lies, view)) })),
  };
}

const detail = (d: Drawn, id: string, name: string, view: View): Scene =>
  sceneOf({ ...d, id, name, kind: 'detail' }, view);

const TABLE = wall('#d9d3c4', '#c8bfac');
const PLASTER = wall('#e4e9e9', '#d3dcdd');
const DUSK = wall('#33485a', '#22333f');

const planks = (colour: string) =>
  Array.from(
    { length: 7 },
    (_, k) =>
      `<path d="M0 ${k * 190 + 60}H${SIDE}" stroke="${colour}" stroke-opacity=".22" stroke-width="2"/>`,
  ).join('');

const flatTowel: Drawn = {
  id: 'tea-towel-flat',
  name: 'Laid flat on a table',
  kind: 'flat',
  blanks: ['tea-towel'],
  ground: [`${fill('wall')}${planks('#7d735c')}${shadow(box(310, 194, 580, 812, 3), 8, 14)}`, TABLE],
  goods: [
    '<rect x="310" y="194" width="580" height="812" rx="3" fill="#fff"/><path d="M322 206h556v788H322z" fill="none" stroke="#c9c9c9" stroke-width="2" stroke-dasharray="7 4"/><path d="M870 184q24-2 22 20" fill="none" stroke="#eee" stroke-width="7"/>',
  ],
  shade: [
    '<rect x="300" y="180" width="600" height="840" fill="url(#a)"/><rect x="300" y="180" width="600" height="840" fill="url(#b)"/>',
    linear(
      'a',
      [310, 0, 890, 0],
      [
        { at: 0, colour: '#bbb', opacity: 0.5 },
        { at: 0.32, colour: '#fff', opacity: 0.2 },
        { at: 0.335, colour: '#8d8d8d', opacity: 0.42 },
        { at: 0.35, colour: '#fff', opacity: 0.1 },
        { at: 0.66, colour: '#fff', opacity: 0.1 },
        { at: 0.672, colour: '#8d8d8d', opacity: 0.42 },
        { at: 0.69, colour: '#fff', opacity: 0.1 },
        { at: 1, colour: '#9a9a9a', opacity: 0.4 },
      ],
    ) +
      linear(
        'b',
        [0, 194, 0, 1006],
        [
          { at: 0, colour: '#fff', opacity: 0 },
          { at: 0.488, colour: '#fff', opacity: 0 },
          { at: 0.5, colour: '#777', opacity: 0.36 },
          { at: 0.515, colour: '#fff', opacity: 0 },
          { at: 1, colour: '#8a8a8a', opacity: 0.28 },
        ],
      ),
  ],
  areas: [{ area: 'front', lies: { kind: 'flat', x: 310, y: 194, width: 580, height: 812 } }],
};

const hungCloth = cloth(356, 250, 490, 720, 3, 13);
const hungTowel: Drawn = {
  id: 'tea-towel-rail',
  name: 'Hung over an oven rail',
  kind: 'in use',
  blanks: ['tea-towel'],
  ground: [
    `${fill('wall')}<rect y="880" width="${SIDE}" height="320" fill="#8e9b9f"/><rect x="90" y="120" width="1020" height="900" rx="22" fill="#4c5b62"/><rect x="130" y="330" width="940" height="620" rx="14" fill="#27343a"/><rect x="150" y="350" width="900" height="580" rx="8" fill="url(#glass)"/>`,
    `${PLASTER}${linear(
      'glass',
      [150, 350, 1050, 930],
      [
        { at: 0, colour: '#3a4a52' },
        { at: 0.5, colour: '#1d2930' },
        { at: 1, colour: '#2e3d45' },
      ],
    )}`,
  ],
  goods: [`<path d="${outline(hungCloth)}" fill="#fff"/>`],
  shade: [
    `<path d="${outline(hungCloth)}" fill="url(#f)"/><path d="${outline(hungCloth)}" fill="url(#top)"/>`,
    `${folds('f', 356, 490, 3, 0.34)}${linear(
      'top',
      [0, 240, 0, 330],
      [
        { at: 0, colour: '#555', opacity: 0.65 },
        { at: 0.35, colour: '#fff', opacity: 0 },
        { at: 1, colour: '#999', opacity: 0 },
      ],
    )}`,
  ],
  light: [
    `<path d="${outline(hungCloth)}" fill="url(#l)"/>`,
    linear(
      'l',
      [0, 250, 0, 300],
      [
        { at: 0, colour: '#fff', opacity: 0 },
        { at: 0.5, colour: '#fff', opacity: 0.28 },
        { at: 1, colour: '#fff', opacity: 0 },
      ],
    ),
  ],
  front: [
    '<rect x="180" y="226" width="840" height="34" rx="17" fill="url(#rail)"/><rect x="196" y="160" width="26" height="90" rx="8" fill="#b9c3c7"/><rect x="978" y="160" width="26" height="90" rx="8" fill="#b9c3c7"/>',
    linear(
      'rail',
      [0, 226, 0, 260],
      [
        { at: 0, colour: '#d7dee1' },
        { at: 0.4, colour: '#f4f7f8' },
        { at: 1, colour: '#8a979d' },
      ],
    ),
  ],
  areas: [{ area: 'front', lies: hungCloth }],
};

const flatPoster: Drawn = {
  id: 'poster-wall',
  name: 'Hung on a wall with two clips',
  kind: 'flat',
  blanks: ['poster'],
  ground: [`${fill('wall')}${shadow(box(306, 130, 588, 824), 10, 18)}`, PLASTER],
  goods: ['<rect x="306" y="130" width="588" height="824" fill="#fff"/>'],
  shade: [
    '<rect x="306" y="130" width="588" height="824" fill="url(#a)"/>',
    linear(
      'a',
      [306, 130, 894, 954],
      [
        { at: 0, colour: '#fff', opacity: 0 },
        { at: 0.7, colour: '#d8d8d8', opacity: 0.4 },
        { at: 1, colour: '#a0a0a0', opacity: 0.5 },
      ],
    ),
  ],
  front: [
    '<g fill="#1f2a30"><rect x="398" y="104" width="54" height="46" rx="4"/><rect x="748" y="104" width="54" height="46" rx="4"/></g><g fill="none" stroke="#1f2a30" stroke-width="5"><path d="M410 104q15-44 30 0M760 104q15-44 30 0"/></g>',
  ],
  areas: [{ area: 'front', lies: { kind: 'flat', x: 306, y: 130, width: 588, height: 824 } }],
};

const slanted = [
  { x: 372, y: 96 },
  { x: 806, y: 150 },
  { x: 796, y: 752 },
  { x: 356, y: 742 },
];
const polygon = (points: readonly Point[]) => points.map((p) => `${p.x},${p.y}`).join(' ');
const deskPoster: Drawn = {
  id: 'poster-desk',
  name: 'Over a desk in lamplight',
  kind: 'in use',
  blanks: ['poster'],
  ground: [
    `${fill('wall')}<circle cx="930" cy="500" r="620" fill="url(#glow)"/><g transform="translate(12 16)" fill="#0b151b" fill-opacity=".4"><polygon points="${polygon(slanted)}"/></g>`,
    `${DUSK}${radial('glow', 930, 500, 620, [
      { at: 0, colour: '#ffd9a0', opacity: 0.5 },
      { at: 1, colour: '#ffd9a0', opacity: 0 },
    ])}`,
  ],
  goods: [`<polygon points="${polygon(slanted)}" fill="#fff"/>`],
  shade: [
    `<polygon points="${polygon(slanted)}" fill="url(#a)"/>`,
    linear(
      'a',
      [820, 500, 350, 380],
      [
        { at: 0, colour: '#fff', opacity: 0.2 },
        { at: 0.5, colour: '#b4aa9c', opacity: 0.6 },
        { at: 1, colour: '#6b6a72', opacity: 0.75 },
      ],
    ),
  ],
  front: [
    `<rect y="880" width="${SIDE}" height="320" fill="url(#desk)"/><path d="M930 884V470" stroke="#20282c" stroke-width="13"/><path d="M836 400h188l44 120H792z" fill="#b4643a"/><ellipse cx="930" cy="520" rx="138" ry="20" fill="#ffe9c4"/><rect x="858" y="870" width="144" height="22" rx="10" fill="#20282c"/><g transform="translate(150 690)"><rect width="66" height="196" fill="#7b3f2c"/><rect x="70" y="20" width="52" height="176" fill="#c6b48a"/><rect x="126" y="-14" width="72" height="210" fill="#2c5a5f"/></g>`,
    linear(
      'desk',
      [0, 880, 0, SIDE],
      [
        { at: 0, colour: '#6d5138' },
        { at: 1, colour: '#4b3726' },
      ],
    ),
  ],
  areas: [{ area: 'front', lies: { kind: 'corners', points: slanted } }],
};

const flatSheet: Drawn = {
  id: 'sticker-sheet-flat',
  name: 'On a dark desk',
  kind: 'flat',
  blanks: ['sticker-sheet'],
  ground: [`${fill('wall')}${planks('#0b151b')}${shadow(box(316, 196, 570, 808, 14), 8, 12)}`, DUSK],
  goods: ['<rect x="316" y="196" width="570" height="808" rx="14" fill="#fff"/>'],
  light: [
    '<rect x="316" y="196" width="570" height="808" rx="14" fill="url(#l)"/>',
    linear(
      'l',
      [316, 196, 886, 1004],
      [
        { at: 0, colour: '#fff', opacity: 0.16 },
        { at: 0.3, colour: '#fff', opacity: 0 },
        { at: 0.62, colour: '#fff', opacity: 0 },
        { at: 0.7, colour: '#fff', opacity: 0.14 },
        { at: 0.78, colour: '#fff', opacity: 0 },
      ],
    ),
  ],
  areas: [{ area: 'front', lies: { kind: 'flat', x: 316, y: 196, width: 570, height: 808 } }],
};

const tilted = [
  { x: 420, y: 170 },
  { x: 936, y: 306 },
  { x: 742, y: 1042 },
  { x: 226, y: 906 },
];
const heldSheet: Drawn = {
  id: 'sticker-sheet-notebook',
  name: 'Beside a notebook',
  kind: 'in use',
  blanks: ['sticker-sheet'],
  ground: [
    `${fill('wall')}${planks('#7d735c')}<rect x="690" y="90" width="430" height="620" rx="16" fill="#2c5a5f"/><rect x="690" y="90" width="40" height="620" fill="#1f4347"/><g transform="translate(10 16)" fill="#12232b" fill-opacity=".22"><polygon points="${polygon(tilted)}"/></g>`,
    TABLE,
  ],
  goods: [`<polygon points="${polygon(tilted)}" fill="#fff"/>`],
  light: [
    `<polygon points="${polygon(tilted)}" fill="url(#l)"/>`,
    linear(
      'l',
      [300, 300, 860, 900],
      [
        { at: 0, colour: '#fff', opacity: 0 },
        { at: 0.45, colour: '#fff', opacity: 0.2 },
        { at: 0.6, colour: '#fff', opacity: 0 },
      ],
    ),
  ],
  front: [
    '<g transform="rotate(24 260 380)"><rect x="120" y="130" width="26" height="440" rx="8" fill="#c98a2b"/><path d="M120 570h26l-13 46z" fill="#e9d9b8"/><rect x="120" y="112" width="26" height="34" rx="8" fill="#a33a3a"/></g>',
  ],
  areas: [{ area: 'front', lies: { kind: 'corners', points: tilted } }],
};

const pillow = bulge(278, 268, 644, 0.055);
const flatCushion: Drawn = {
  id: 'cushion-flat',
  name: 'Seen from the front',
  kind: 'flat',
  blanks: ['cushion'],
  ground: [`${fill('wall')}${shadow(box(270, 300, 660, 650, 60), 6, 26)}`, PLASTER],
  goods: [`<path d="${outline(pillow)}" fill="#fff"/>`],
  shade: [
    `<path d="${outline(pillow)}" fill="url(#r)"/>`,
    radial('r', 560, 540, 560, [
      { at: 0, colour: '#fff', opacity: 0 },
      { at: 0.6, colour: '#d0d0d0', opacity: 0.45 },
      { at: 0.85, colour: '#8b8b8b', opacity: 0.65 },
      { at: 1, colour: '#555', opacity: 0.8 },
    ]),
  ],
  light: [
    `<path d="${outline(pillow)}" fill="url(#l)"/>`,
    radial('l', 500, 450, 300, [
      { at: 0, colour: '#fff', opacity: 0.14 },
      { at: 1, colour: '#fff', opacity: 0 },
    ]),
  ],
  areas: [{ area: 'front', lies: pillow }],
};

const leaning = bulge(330, 250, 540, 0.06);
const chairCushion: Drawn = {
  id: 'cushion-chair',
  name: 'On a chair by the window',
  kind: 'in use',
  blanks: ['cushion'],
  ground: [
    `${fill('wall')}<rect x="60" y="60" width="340" height="420" fill="#20313f"/><path d="M230 60v420M60 270h340" stroke="#e8e2d2" stroke-width="14"/><rect x="60" y="60" width="340" height="420" fill="none" stroke="#e8e2d2" stroke-width="22"/><g fill="#f6efd9"><circle cx="130" cy="140" r="4"/><circle cx="320" cy="120" r="3"/><circle cx="300" cy="380" r="4"/><circle cx="160" cy="400" r="3"/><circle cx="110" cy="330" r="2"/></g><rect x="210" y="190" width="780" height="760" rx="110" fill="#5f7468"/><rect x="150" y="760" width="900" height="240" rx="70" fill="#6d8376"/><path d="M230 1000v150M970 1000v150" stroke="#4b3726" stroke-width="34"/>${shadow(box(340, 290, 520, 520, 60), 4, 18)}`,
    wall('#d8d2c6', '#c5bcab'),
  ],
  goods: [`<path d="${outline(leaning)}" fill="#fff"/>`],
  shade: [
    `<path d="${outline(leaning)}" fill="url(#r)"/>`,
    radial('r', 520, 440, 520, [
      { at: 0, colour: '#fff', opacity: 0 },
      { at: 0.55, colour: '#c8c4bb', opacity: 0.5 },
      { at: 0.9, colour: '#76736c', opacity: 0.75 },
      { at: 1, colour: '#4b4a46', opacity: 0.8 },
    ]),
  ],
  areas: [{ area: 'front', lies: leaning }],
};

/** A mug with its handle on one side; the wrap begins and ends at the handle. */
function mug(side: 'right' | 'left'): Drawn {
  const [cx, radius, top, bottom, sink] = [side === 'right' ? 545 : 655, 262, 296, 906, 42];
  const body = `M${cx - radius} ${top}v${bottom - top - 40}a${radius} ${sink + 14} 0 0 0 ${2 * radius} 0V${top}a${radius} ${sink} 0 0 1 ${-2 * radius} 0z`;
  const sign = side === 'right' ? 1 : -1;
  const at = cx + sign * (radius - 6);
  const handle = `M${at} 400c${sign * 210} -34 ${sign * 210} 400 0 350`;
  return {
    id: `mug-handle-${side}`,
    name: `With the handle on the ${side}`,
    kind: side === 'right' ? 'flat' : 'in use',
    blanks: ['mug'],
    ground: [
      side === 'right'
        ? `${fill('wall')}<rect y="820" width="${SIDE}" height="380" fill="#c9d3d4"/><ellipse cx="${cx + 20}" cy="926" rx="330" ry="44" fill="url(#s)"/>`
        : `${fill('wall')}<rect y="800" width="${SIDE}" height="400" fill="#5a4632"/><path d="M0 800h${SIDE}" stroke="#3b2d1f" stroke-width="3"/><circle cx="180" cy="190" r="86" fill="#f3ead0"/><circle cx="214" cy="172" r="80" fill="#2f4354"/><g fill="#f6efd9"><circle cx="420" cy="120" r="4"/><circle cx="90" cy="400" r="3"/><circle cx="1060" cy="180" r="4"/><circle cx="1010" cy="420" r="3"/></g><ellipse cx="${cx + 20}" cy="926" rx="330" ry="44" fill="url(#s)"/>`,
      `${side === 'right' ? PLASTER : DUSK}${radial('s', cx + 20, 926, 330, [
        { at: 0, colour: '#0b151b', opacity: 0.5 },
        { at: 1, colour: '#0b151b', opacity: 0 },
      ])}`,
    ],
    goods: [
      `<path d="${handle}" fill="none" stroke="#fff" stroke-width="54"/><path d="${body}" fill="#fff"/><ellipse cx="${cx}" cy="${top}" rx="${radius}" ry="${sink}" fill="#f1f1ef"/>`,
    ],
    shade: [
      `<path d="${handle}" fill="none" stroke="#8a8a8a" stroke-opacity=".5" stroke-width="54"/><path d="${handle}" fill="none" stroke="#fff" stroke-width="26" stroke-opacity=".55"/><path d="${body}" fill="url(#c)"/><ellipse cx="${cx}" cy="${top}" rx="${radius}" ry="${sink}" fill="#b9b9b4"/><ellipse cx="${cx}" cy="${top + 7}" rx="${radius - 14}" ry="${sink - 9}" fill="#7e7c78"/>`,
      linear(
        'c',
        [cx - radius, 0, cx + radius, 0],
        [
          { at: 0, colour: '#6f6f6f', opacity: 0.8 },
          { at: 0.12, colour: '#b5b5b5', opacity: 0.6 },
          { at: 0.34, colour: '#fff', opacity: 0.1 },
          { at: 0.6, colour: '#f2f2f2', opacity: 0.2 },
          { at: 0.86, colour: '#a2a2a2', opacity: 0.65 },
          { at: 1, colour: '#5f5f5f', opacity: 0.85 },
        ],
      ),
    ],
    light: [
      `<path d="${body}" fill="url(#l)"/>`,
      linear(
        'l',
        [cx - radius, 0, cx + radius, 0],
        [
          { at: 0.2, colour: '#fff', opacity: 0 },
          { at: 0.27, colour: '#fff', opacity: 0.3 },
          { at: 0.33, colour: '#fff', opacity: 0.06 },
          { at: 0.4, colour: '#fff', opacity: 0 },
        ],
      ),
    ],
    areas: [
      {
        area: 'wrap',
        // Of a wrap over 277 degrees the eye sees 150.
        part: side === 'right' ? [0.03, 0, 0.57, 1] : [0.43, 0, 0.97, 1],
        lies: {
          kind: 'cylinder',
          x: cx,
          y: 612,
          radius: radius - 1,
          height: 520,
          from: -75,
          to: 75,
          sink: 44,
        },
      },
    ],
  };
}

const SHIRT = 'M430 214c56 58 284 58 340 0l190 92 74 214-138 54-52-96v556H356V478l-52 96-138-54 74-214z';
const SHIRT_FOLDS = `${linear(
  'a',
  [356, 0, 844, 0],
  [
    { at: 0, colour: '#777', opacity: 0.55 },
    { at: 0.1, colour: '#e8e8e8', opacity: 0.2 },
    { at: 0.5, colour: '#fff', opacity: 0 },
    { at: 0.9, colour: '#dcdcdc', opacity: 0.25 },
    { at: 1, colour: '#6c6c6c', opacity: 0.6 },
  ],
)}${linear(
  'b',
  [420, 560, 560, 980],
  [
    { at: 0, colour: '#fff', opacity: 0 },
    { at: 0.42, colour: '#8f8f8f', opacity: 0.24 },
    { at: 0.5, colour: '#fff', opacity: 0 },
    { at: 0.8, colour: '#8f8f8f', opacity: 0.2 },
    { at: 1, colour: '#fff', opacity: 0 },
  ],
)}`;
const shirt = (area: 'front' | 'back'): Drawn => ({
  id: `t-shirt-${area}`,
  name: area === 'front' ? 'Laid flat, front' : 'Laid flat, back',
  kind: 'flat',
  blanks: ['t-shirt'],
  ground: [
    `${fill('wall')}${shadow((g) => `<path d="${SHIRT}" stroke="#12232b" stroke-opacity=".05" stroke-width="${g * 2}"/>`, 6, 16)}`,
    PLASTER,
  ],
  goods: [
    `<path d="${SHIRT}" fill="#fff"/>${area === 'front' ? '<path d="M430 214c56 96 284 96 340 0" fill="none" stroke="#d9d9d9" stroke-width="16"/>' : '<path d="M430 214c56 40 284 40 340 0" fill="none" stroke="#d9d9d9" stroke-width="16"/>'}`,
  ],
  shade: [`<path d="${SHIRT}" fill="url(#a)"/><path d="${SHIRT}" fill="url(#b)"/>`, SHIRT_FOLDS],
  areas: [{ area, lies: { kind: 'flat', x: 444, y: 372, width: 312, height: 416 } }],
});

const hungShirt = cloth(446, 396, 308, 412, 2, 9);
const hangerShirt: Drawn = {
  ...shirt('front'),
  id: 't-shirt-hanger',
  name: 'On a hanger',
  kind: 'in use',
  ground: [
    `${fill('wall')}<rect y="96" width="${SIDE}" height="26" rx="13" fill="#7a5c3e"/><path d="M600 122q34-42 6-66" fill="none" stroke="#9aa6ab" stroke-width="9"/><path d="M600 124v70" stroke="#9aa6ab" stroke-width="9"/><path d="M430 250L600 190l170 60" fill="none" stroke="#8f6b45" stroke-width="22" stroke-linecap="round"/>${shadow((g) => `<path d="${SHIRT}" stroke="#12232b" stroke-opacity=".05" stroke-width="${g * 2}"/>`, 22, 22)}`,
    wall('#cfd8cf', '#b9c5bb'),
  ],
  shade: [
    `<path d="${SHIRT}" fill="url(#f)"/><path d="${SHIRT}" fill="url(#a)"/>`,
    `${folds('f', 300, 600, 4, 0.22)}${SHIRT_FOLDS}`,
  ],
  areas: [{ area: 'front', lies: hungShirt }],
};

const BAG = 'M300 420h600l24 620q2 40-38 40H314q-40 0-38-40z';
const tote = (kind: 'flat' | 'in use'): Drawn => {
  const hung = cloth(386, 520, 428, 488, 2, 10);
  const handles =
    '<path d="M420 430V270q0-110 180-110t180 110v160" fill="none" stroke="#fff" stroke-width="34"/>';
  return {
    id: kind === 'flat' ? 'tote-flat' : 'tote-hook',
    name: kind === 'flat' ? 'Laid flat' : 'On a hook by the door',
    kind,
    blanks: ['tote'],
    ground:
      kind === 'flat'
        ? [`${fill('wall')}${planks('#7d735c')}${shadow(box(290, 430, 620, 640, 30), 6, 14)}`, TABLE]
        : [
            `${fill('wall')}<rect x="820" width="380" height="${SIDE}" fill="#3f5a55"/><rect x="860" y="60" width="300" height="470" fill="none" stroke="#2f4642" stroke-width="8"/><rect x="860" y="590" width="300" height="530" fill="none" stroke="#2f4642" stroke-width="8"/><rect x="440" y="120" width="320" height="36" rx="8" fill="#7a5c3e"/>${shadow(box(290, 430, 620, 640, 30), 20, 18)}`,
            wall('#dcd7cb', '#c9c2b1'),
          ],
    goods: [`${handles}<path d="${BAG}" fill="#fff"/>`],
    shade: [
      `<path d="${BAG}" fill="url(#f)"/><path d="${BAG}" fill="url(#t)"/><path d="M300 448h600" stroke="#999" stroke-opacity=".6" stroke-width="3" stroke-dasharray="9 5"/>`,
      `${folds('f', 280, 640, 3, kind === 'flat' ? 0.08 : 0.26)}${linear(
        't',
        [0, 420, 0, 1080],
        [
          { at: 0, colour: '#aaa', opacity: 0.35 },
          { at: 0.12, colour: '#fff', opacity: 0 },
          { at: 0.8, colour: '#fff', opacity: 0 },
          { at: 1, colour: '#777', opacity: 0.45 },
        ],
      )}`,
    ],
    ...(kind === 'in use' && {
      front: ['<path d="M600 120v74" stroke="#20282c" stroke-width="16" stroke-linecap="round"/>'] as const,
    }),
    areas: [
      {
        area: 'front',
        lies: kind === 'flat' ? { kind: 'flat', x: 386, y: 520, width: 428, height: 489 } : hung,
      },
    ],
  };
};

const frame = (kind: 'flat' | 'in use'): Drawn => {
  const [x, y, w, h] = kind === 'flat' ? [320, 170, 560, 747] : [240, 120, 440, 587];
  const room =
    kind === 'flat'
      ? fill('wall')
      : `${fill('wall')}<rect y="930" width="${SIDE}" height="270" fill="#8b7355"/><rect x="120" y="770" width="760" height="190" rx="26" fill="#56706a"/><rect x="90" y="720" width="110" height="240" rx="26" fill="#4b625d"/><rect x="800" y="720" width="110" height="240" rx="26" fill="#4b625d"/><path d="M1030 930V610" stroke="#4f6b3b" stroke-width="10"/><g fill="#5f7f47"><ellipse cx="980" cy="600" rx="30" ry="90" transform="rotate(-28 980 600)"/><ellipse cx="1085" cy="590" rx="30" ry="96" transform="rotate(26 1085 590)"/><ellipse cx="1030" cy="550" rx="28" ry="100"/></g><path d="M970 800h120l-16 150h-88z" fill="#b4643a"/>`;
  return {
    id: kind === 'flat' ? 'framed-print-wall' : 'framed-print-room',
    name: kind === 'flat' ? 'On a plain wall' : 'Over a sofa',
    kind,
    blanks: ['framed-print'],
    ground: [
      `${room}${shadow(box(x - 26, y - 26, w + 52, h + 52, 2), 10, 18)}`,
      kind === 'flat' ? PLASTER : wall('#d6dcd8', '#c3cdc8'),
    ],
    goods: [`<rect x="${x - 26}" y="${y - 26}" width="${w + 52}" height="${h + 52}" fill="#fff"/>`],
    shade: [
      `<rect x="${x - 26}" y="${y - 26}" width="${w + 52}" height="${h + 52}" fill="none"/><rect x="${x}" y="${y}" width="${w}" height="${h}" fill="url(#a)"/><path d="M${x} ${y}h${w}v12H${x + 12}v${h - 12}H${x}z" fill="#444" fill-opacity=".4"/><path d="M${x - 26} ${y + h + 26}h${w + 52}v-9H${x - 26}z" fill="#333" fill-opacity=".35"/>`,
      linear(
        'a',
        [x, y, x + w, y + h],
        [
          { at: 0, colour: '#fff', opacity: 0 },
          { at: 1, colour: '#b9b9b9', opacity: 0.3 },
        ],
      ),
    ],
    light: [
      `<rect x="${x - 26}" y="${y - 26}" width="${w + 52}" height="9" fill="#fff" fill-opacity=".22"/><path d="M${x} ${y}h${w * 0.5}L${x} ${y + h * 0.62}z" fill="url(#l)"/>`,
      linear(
        'l',
        [x, y, x + w * 0.6, y + h * 0.6],
        [
          { at: 0, colour: '#fff', opacity: 0.16 },
          { at: 1, colour: '#fff', opacity: 0.02 },
        ],
      ),
    ],
    areas: [{ area: 'front', lies: { kind: 'flat', x, y, width: w, height: h } }],
  };
};

const SCENES: readonly Scene[] = [
  ...[
    flatTowel,
    hungTowel,
    flatPoster,
    deskPoster,
    flatSheet,
    heldSheet,
    flatCushion,
    chairCushion,
    mug('right'),
    mug('left'),
    shirt('front'),
    shirt('back'),
    hangerShirt,
    tote('flat'),
    tote('in use'),
    frame('flat'),
    frame('in use'),
  ].map((d) => sceneOf(d)),
  detail(flatTowel, 'tea-towel-hem', 'Close to the hem', { x: 560, y: 640, side: 420 }),
  detail(flatPoster, 'poster-corner', 'Close to a clip', { x: 300, y: 70, side: 460 }),
  detail(flatCushion, 'cushion-corner', 'Close to a corner', { x: 240, y: 240, side: 480 }),
  detail(mug('right'), 'mug-close', 'From close by', { x: 280, y: 340, side: 540 }),
  detail(shirt('front'), 't-shirt-close', 'From close by', { x: 400, y: 300, side: 440 }),
];

const folder = join(import.meta.dirname, '..', 'public', 'scenes');
mkdirSync(folder, { recursive: true });
for (const scene of SCENES) writeFileSync(join(folder, `${scene.id}.json`), `${JSON.stringify(scene)}\n`);
writeFileSync(join(folder, 'index.json'), `${JSON.stringify(SCENES.map((s) => s.id))}\n`);
