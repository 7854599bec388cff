import type { Change } from '../../store';

/** A message of the worker besides its answers: the change that an act made, sent right before the answer. */
export interface MadeMessage {
  readonly made: string | null;
}

/**
 * Notes which change each of some acts makes. One that makes none, or of which it cannot be told (another act made one
 * meanwhile), answers with null.
 */
export class Makers {
  private readonly underWay = new Set<Change[]>();

  /** Hears of a change that is made now. */
  readonly hear = (change: Change): void => {
    if (change.by === 'person' && change.undoable) for (const own of this.underWay) own.push(change);
  };

  /** Runs an act. @param tell hears of its change when it has ended, before its answer is given */
  async run<T>(act: () => T | Promise<T>, tell: (message: MadeMessage) => void): Promise<T> {
    const own: Change[] = [];
    this.underWay.add(own);
    try {
      return await act();
    } finally {
      this.underWay.delete(own);
      tell({ made: own.length === 1 ? own[0]!.id : null });
    }
  }
}
