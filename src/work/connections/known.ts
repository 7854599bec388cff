import * as store from '../../store';
import type { Work } from '../context/work';

/** All connections as they hold. */
export const allConnections = ({ db }: Pick<Work, 'db'>) => store.allConnections(db);

/** How it goes with each of them that something has happened to, by id. */
export const allHealth = ({ db }: Pick<Work, 'db'>) => store.allHealth(db);
