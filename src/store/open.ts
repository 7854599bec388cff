import { SampanDatabase } from './database';

/** The one database of this browser. Opened on first use; made on the server it is never touched. */
export const db = new SampanDatabase();
