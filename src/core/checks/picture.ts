/** A picture of our own: its size in pixels and the SHA-256 of its bytes, in hex. */
export interface OwnPicture {
  readonly width: number;
  readonly height: number;
  readonly hash: string;
  /** The size is another than that of its bytes: it is made as large as it fits in, white around it. */
  readonly fitted: boolean;
}

const OWN = /^own:(\d{1,5})x(\d{1,5}):([0-9a-f]{64})(:fitted)?$/;

/** The name under which a picture of our own stands among the addresses of others. */
export const ownPictureName = ({ width, height, hash, fitted }: OwnPicture): string =>
  `own:${width}x${height}:${hash}${fitted ? ':fitted' : ''}`;

/** @returns null of what is an address or a path of a supplier */
export function ownPicture(name: string): OwnPicture | null {
  const [, width, height, hash, fitted] = OWN.exec(name) ?? [];
  return hash ? { width: Number(width), height: Number(height), hash, fitted: fitted !== undefined } : null;
}

/** What a site asks of the pictures of a listing. */
export interface PictureRules {
  readonly least: number;
  readonly most: number;
  /** Fewest pixels on each side; 0 for any. */
  readonly shortest: number;
  readonly square: boolean;
}

/**
 * Why a site would refuse the pictures of a listing. Sizes are known of our own pictures alone; those of a supplier are
 * looked at by the site.
 */
export function pictureProblems(names: readonly string[], rules: PictureRules, site: string): string[] {
  const { least, shortest, square, most } = rules;
  const problems: string[] = [];
  if (names.length < least) problems.push(`At least ${least} picture${least > 1 ? 's are' : ' is'} needed.`);
  for (const [i, name] of names.slice(0, most).entries()) {
    const own = ownPicture(name);
    if (!own) continue;
    const { width, height } = own;
    if (Math.min(width, height) < shortest)
      problems.push(
        `Picture ${i + 1} is ${width} × ${height} pixels, ${site} takes ${shortest} and more on each side.`,
      );
    if (square && width !== height)
      problems.push(`Picture ${i + 1} is not square: crop it, or put white around it.`);
  }
  return problems;
}

/** A picture is enlarged to twice its size at most: beyond that nothing of it can be seen. */
const MOST_ENLARGED = 2;

/** A name as it is with the size that a site asks for; the same where it has it already, or cannot have it. */
export function fittedPicture(name: string, { shortest, square }: PictureRules): string {
  const own = ownPicture(name);
  if (!own) return name;
  const { width, height } = own;
  const long = Math.max(width, height);
  const short = Math.min(width, height);
  const [w, h] = square
    ? [Math.max(long, shortest), Math.max(long, shortest)]
    : short < shortest
      ? [Math.ceil((width * shortest) / short), Math.ceil((height * shortest) / short)]
      : [width, height];
  const enlarged = square ? w! / long : w! / width;
  if ((w === width && h === height) || enlarged > MOST_ENLARGED) return name;
  return ownPictureName({ width: w!, height: h!, hash: own.hash, fitted: true });
}
