/** A picture of our own: its size in pixels and the SHA-256 of its bytes, in hex. */
export interface OwnPicture {
  readonly width: number;
  readonly height: number;
  readonly hash: string;
}

const OWN = /^own:(\d{1,5})x(\d{1,5}):([0-9a-f]{64})$/;

/** The name under which a picture of our own stands among the addresses of others. */
export const ownPictureName = ({ width, height, hash }: OwnPicture): string =>
  `own:${width}x${height}:${hash}`;

/** @returns null of what is an address or a path of a supplier */
export function ownPicture(name: string): OwnPicture | null {
  const [, width, height, hash] = OWN.exec(name) ?? [];
  return hash ? { width: Number(width), height: Number(height), hash } : null;
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
