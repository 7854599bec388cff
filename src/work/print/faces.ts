import fontkit from '@pdf-lib/fontkit';
import type { Face, Glyph, PrintFont, Stroke } from '../../core/personal';

const OPS = { moveTo: 'M', lineTo: 'L', quadraticCurveTo: 'Q', bezierCurveTo: 'C', closePath: 'Z' } as const;

interface Part {
  readonly has: ReadonlySet<number>;
  readonly shape: (text: string) => Glyph[];
}

/** As the font package has it; its types leave out what it draws. */
interface Shaped {
  readonly glyphs: readonly {
    readonly path: { readonly commands: readonly { command: keyof typeof OPS; args: number[] }[] };
  }[];
  readonly positions: readonly { xAdvance: number; xOffset: number; yOffset: number }[];
}

function partOf(bytes: Uint8Array): Part {
  const font = fontkit.create(bytes);
  const em = font.unitsPerEm;
  const shape = (text: string): Glyph[] => {
    const { glyphs, positions } = font.layout(text) as unknown as Shaped;
    return glyphs.map(({ path }, k) => {
      const { xAdvance, xOffset, yOffset } = positions[k]!;
      const outline = path.commands.map(
        ({ command, args }): Stroke => ({
          op: OPS[command],
          at: args.map((v, i) => (v + (i % 2 ? yOffset : xOffset)) / em),
        }),
      );
      return { outline, advance: xAdvance / em };
    });
  };
  return { has: new Set(font.characterSet), shape };
}

/** A font of several files, each with a part of its letters. @param files in the order of its parts */
export function faceOf(font: PrintFont, files: readonly Uint8Array[]): Face {
  const parts = files.map(partOf);
  const partFor = (code: number) => parts.find((p) => p.has.has(code));
  return {
    font,
    has: (code) => partFor(code) !== undefined,
    shape: (text) => {
      const runs: { readonly part: Part; text: string }[] = [];
      for (const letter of text) {
        const last = runs.at(-1);
        const code = letter.codePointAt(0)!;
        // Signs that several parts have, as a space, stay with the letters before them.
        const part = last?.part.has.has(code) ? last.part : (partFor(code) ?? last?.part ?? parts[0]!);
        if (last?.part === part) last.text += letter;
        else runs.push({ part, text: letter });
      }
      return runs.flatMap((run) => run.part.shape(run.text));
    },
  };
}
