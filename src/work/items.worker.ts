import { expose, transfer } from 'comlink';
import { type ItemsRead, readItems } from './items';

/** A helper that reads parts of price lists; the runner merges what it makes. */
const api = {
  read(...of: Parameters<typeof readItems>): ItemsRead {
    const made = readItems(...of);
    const buffers = new Set<ArrayBufferLike>();
    for (const { sheet, lines } of made.sheets) {
      const { piece, cold } = sheet;
      const { rows, gtin, words, wordEnds, marks } = piece;
      const texts = [piece.sku.ends, piece.title.ends, piece.group.ends];
      const long = [cold.description.bytes, cold.description.ends, cold.pictures.bytes, cold.pictures.ends];
      const columns = [
        lines,
        sheet.skuHashes,
        rows,
        gtin,
        words,
        wordEnds,
        marks,
        piece.cold,
        ...Object.values(piece.numbers),
        ...Object.values(piece.codes),
      ];
      for (const { buffer } of [...columns, ...texts, ...long]) buffers.add(buffer);
    }
    return transfer(made, [...buffers] as ArrayBuffer[]);
  },
};

export type ItemsApi = typeof api;
expose(api);
