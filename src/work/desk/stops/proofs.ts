import type { Values } from '../../../core/personal';
import { work } from '../../browser/browser';
import type { ProofOnPaper } from '../../context/draw';
import {
  approveProof,
  askBuyer,
  correctProof,
  proofAsNow,
  proofPicture,
  proofSheet,
  setPersonal,
  typedProblems,
  waitingProofs,
} from '../../orders/proofs';
import { bound } from '../bound';
import { built, changing, OF_LISTS, OFTEN, SOON } from '../memory';

/** Pictures that are kept: some hundred kilobytes each. */
const KEPT = 260;
const pictures = new Map<string, Promise<Blob | null>>();

/** Pixels of the longer side. */
const LARGE = 1_000;

/** {@link proofPicture}, drawn once for the same print and words. */
function picture(
  order: string,
  line: string,
  print: string,
  area: string,
  values: Values,
): Promise<Blob | null> {
  const key = JSON.stringify([order, line, print, area, values]);
  const known = pictures.get(key);
  const made = known ?? proofPicture(work, order, line, area, values, LARGE);
  pictures.delete(key);
  pictures.set(key, made);
  made.catch(() => pictures.delete(key));
  for (const old of pictures.keys()) {
    if (pictures.size <= KEPT) break;
    pictures.delete(old);
  }
  return made;
}

/** Grows with each beginning and each end of drawing ahead. */
let turn = 0;
/** Proofs that are drawn at the same time. */
const AT_ONCE = 3;

/** Questions and acts of proofs. */
export const proofsDesk = {
  proof: async (order: string, line: string) => {
    await built();
    return proofSheet(work, order, line);
  },
  proofPicture: picture,
  /** Draws what waits ahead of being looked at, until it is stopped. @param tell hears how many are drawn */
  drawProofs: async (tell: (done: number, total: number) => void) => {
    const own = ++turn;
    await built();
    const waiting = await waitingProofs(work);
    let done = 0;
    const rest = waiting.slice(0, KEPT);
    const next = async (): Promise<void> => {
      for (let one = rest.shift(); one && own === turn; one = rest.shift()) {
        const sheet = await proofSheet(work, one.order, one.line);
        if (sheet) {
          const { order, line, print, values } = sheet;
          for (const { id } of sheet.areas) await picture(order, line, print, id, values).catch(() => null);
        }
        tell(++done, waiting.length);
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, next));
  },
  /** What waits as one PDF; null where it was stopped. @param tell hears how many are drawn */
  proofsPdf: async (tell: (done: number, total: number) => void): Promise<Blob | null> => {
    const own = ++turn;
    await built();
    const waiting = await waitingProofs(work);
    const proofs: ProofOnPaper[] = [];
    for (const [k, one] of waiting.entries()) {
      const sheet = await proofSheet(work, one.order, one.line);
      const words = sheet?.fields.map((f) => `${f.name}: ${sheet.values[f.id] ?? ''}`).join('; ') ?? '';
      for (const { id } of sheet?.areas ?? []) {
        const drawn = await picture(one.order, one.line, sheet!.print, id, sheet!.values);
        if (drawn) proofs.push({ picture: drawn, number: one.number, units: one.units, words });
      }
      tell(k + 1, waiting.length);
      if (own !== turn) return null;
    }
    return work.draw?.proofsPdf?.(proofs, () => own === turn) ?? null;
  },
  stopDrawingProofs: () => {
    turn++;
  },
  typedProblems: bound(typedProblems),
  correctProof: bound(correctProof),
  approveProof: bound(approveProof),
  proofAsNow: bound(proofAsNow),
  askBuyer: bound(askBuyer),
  setPersonal: bound(setPersonal),
};

export const proofsFeeds = {
  waitingProofs: changing([...OF_LISTS, 'orders'], { calm: SOON, often: OFTEN }, async () => {
    await built();
    return waitingProofs(work);
  }),
};
