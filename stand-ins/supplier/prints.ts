import type { WireBlank, WirePurchase } from '../../src/connect/wire';

/** Print files by their SHA-256, with their pixels. */
export type PrintFiles = Record<string, { width: number; height: number }>;

/** What is wrong with the print files of a purchase; nothing for goods that are not printed. */
export function printProblems(
  blanks: readonly WireBlank[],
  files: PrintFiles,
  lines: WirePurchase['lines'],
): { field: string; reason: string }[] {
  return lines.flatMap((line, i) => {
    const blank = blanks.find((b) => b.items.some((item) => item.sku === line.sku));
    if (!blank) return [];
    const at = (reason: string) => [{ field: `lines[${i}].prints`, reason }];
    if (!line.prints?.length) return at(`${line.sku} is printed to order: no print file is named.`);
    const size = blank.items.find((item) => item.sku === line.sku)!.size;
    return line.prints.flatMap(({ area: id, file }) => {
      const area = blank.areas.find((a) => a.id === id);
      if (!area) return at(`${blank.name} has no area “${id}”.`);
      const known = Object.hasOwn(files, file) ? files[file] : undefined;
      if (!known) return at(`We have no print file ${file.slice(0, 12)}….`);
      const wanted = area.files[size] ?? area.files['*']!;
      return known.width === wanted.width && known.height === wanted.height
        ? []
        : at(
            `${area.name} of ${line.sku} takes ${wanted.width} × ${wanted.height} pixels, the file has ${known.width} × ${known.height}.`,
          );
    });
  });
}
