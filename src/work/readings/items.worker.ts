import { expose } from 'comlink';
import { helperApi } from './one-helper';

expose(helperApi);
