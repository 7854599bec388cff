import { expose } from 'comlink';
import { helperApi } from '../readings/one-helper';

expose(helperApi);
