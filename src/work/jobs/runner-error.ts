import type { Work } from '../context/work';

export interface RunnerError {
  readonly at: number;
  readonly says: string;
}

/** What went wrong in the last round that threw; it is told until the next one does. */
export const runnerError = async ({ db }: Pick<Work, 'db'>): Promise<RunnerError | undefined> =>
  (await db.notes.get('runner-error'))?.value as RunnerError | undefined;
