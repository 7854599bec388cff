import type { Work } from '../context/work';

export interface RunnerError {
  readonly at: number;
  readonly says: string;
}

/** The error of the last round that threw, until another one throws. */
export const runnerError = async ({ db }: Pick<Work, 'db'>): Promise<RunnerError | undefined> =>
  (await db.notes.get('runner-error'))?.value as RunnerError | undefined;
