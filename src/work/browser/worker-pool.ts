import { type Remote, wrap } from 'comlink';

/** Milliseconds without work after which workers are let go: more often follows soon. */
const IDLE = 60_000;

/**
 * How many workers do heavy work side by side: all cores but the one that page, desk and runner share, and two at least,
 * as these are seldom all busy; at most four, as storage keeps no more of them busy.
 */
export const shareOfCores = (cores: number): number => Math.min(4, Math.max(2, cores - 1));

export interface PooledWorker<Api> {
  readonly worker: Worker;
  readonly api: Remote<Api>;
  /** Fails when the worker dies or cannot start; never comes to anything else. */
  readonly lost: Promise<never>;
  /** Pieces of work that it was given and has not answered. */
  busy: number;
}

/** Workers for heavy work (parts of lists, pictures), started when they are needed and let go after a while. */
export class WorkerPool<Api> {
  private workers: PooledWorker<Api>[] = [];
  private idle: ReturnType<typeof setTimeout> | undefined;

  /**
   * @param start makes a worker
   * @param size how many there are at most
   * @param rest milliseconds without work after which they are let go
   */
  constructor(
    private readonly start: () => Worker,
    private readonly size = shareOfCores(globalThis.navigator?.hardwareConcurrency ?? 2),
    private readonly rest = IDLE,
  ) {}

  /** The worker with the least to do; another one while all are busy and there is room for it. */
  choose(): PooledWorker<Api> {
    const [free] = [...this.workers].sort((a, b) => a.busy - b.busy);
    return free && (free.busy === 0 || this.workers.length >= this.size) ? free : this.add();
  }

  /** Whether a worker was neither lost nor let go. */
  has(worker: PooledWorker<Api>): boolean {
    return this.workers.includes(worker);
  }

  /** Gives a piece of work to a worker. @throws where the work fails, or the worker is lost */
  async run<T>(work: (api: Remote<Api>) => Promise<T>, worker = this.choose()): Promise<T> {
    clearTimeout(this.idle);
    worker.busy++;
    try {
      return await Promise.race([work(worker.api), worker.lost]);
    } finally {
      worker.busy--;
      clearTimeout(this.idle);
      if (this.workers.every((w) => w.busy === 0)) this.idle = setTimeout(() => this.letGo(), this.rest);
    }
  }

  private add(): PooledWorker<Api> {
    const worker = this.start();
    const lost = new Promise<never>((_, reject) => {
      worker.addEventListener('error', (event) => {
        worker.terminate();
        this.workers = this.workers.filter((w) => w.worker !== worker);
        reject(new Error(`A worker was lost${event.message ? `: ${event.message}` : '.'}`));
      });
    });
    // It is heard where work waits for it.
    lost.catch(() => {});
    const added = { worker, api: wrap<Api>(worker), lost, busy: 0 };
    this.workers.push(added);
    return added;
  }

  private letGo(): void {
    for (const { worker } of this.workers) worker.terminate();
    this.workers = [];
  }
}
