import { expose } from 'comlink';
import { helperApi } from '../readings/one-helper';
import { fitPicture } from './fit-picture';

/** Work that takes long and needs no database. */
const heavyApi = { ...helperApi, fitPicture };
export type HeavyApi = typeof heavyApi;

expose(heavyApi);
