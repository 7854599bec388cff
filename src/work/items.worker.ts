import { expose } from 'comlink';
import { helperApi } from './helper';

expose(helperApi);
