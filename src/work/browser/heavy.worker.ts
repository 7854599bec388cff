import { expose } from 'comlink';
import { helperApi } from '../readings/one-helper';
import { areaPicture, printFile } from './draw/draw-area';
import { mockUp } from './draw/mock-up';
import { openDesign } from './draw/open-design';
import { proofsPdf } from './draw/proofs-pdf';
import { slips } from './draw/slip-pdf';
import { fitPicture } from './fit-picture';

/** Work that takes long and needs no database. */
const heavyApi = { ...helperApi, fitPicture, openDesign, printFile, areaPicture, mockUp, proofsPdf, slips };
export type HeavyApi = typeof heavyApi;

expose(heavyApi);
