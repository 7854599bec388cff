/** The place in an address where a text stands. */
export interface Place {
  readonly read: () => string;
  readonly write: (value: string) => void;
}

export interface Timing {
  readonly now: () => number;
  /** @returns forgets it */
  readonly later: (milliseconds: number, run: () => void) => () => void;
}

/** Milliseconds without a key after which the address follows. */
const RESTED = 250;
/** For how long after a key an earlier value may come into the address: on a busy machine the router writes late. */
const LATE = 3_000;

/**
 * A text that is typed and stands in the address: it moves with each key, the address follows once typing rests. Back and
 * links move it, too. What was typed always reaches the address: what the router writes late is put right.
 */
export class TypedText {
  private typedAt = Number.NEGATIVE_INFINITY;
  private forget = () => {};

  constructor(
    /** As it was typed, or came from the address. */
    private newest: string,
    private readonly place: Place,
    private readonly timing: Timing,
    private readonly tell: (value: string) => void,
  ) {}

  get value(): string {
    return this.newest;
  }

  type(next: string): void {
    this.newest = next;
    this.typedAt = this.timing.now();
    this.tell(next);
    this.wait(RESTED);
  }

  /** Hears that the address is another. */
  moved(): void {
    if (this.isTyping) return;
    const there = this.place.read();
    if (there === this.newest) return;
    this.newest = there;
    this.tell(there);
  }

  /** The view is left: its address is another’s from now on. */
  end(): void {
    this.forget();
  }

  private get isTyping(): boolean {
    return this.timing.now() - this.typedAt < LATE;
  }

  private wait(milliseconds: number): void {
    this.forget();
    this.forget = this.timing.later(milliseconds, () => {
      if (this.place.read() !== this.newest) this.place.write(this.newest);
      if (this.isTyping) this.wait(LATE / 3);
    });
  }
}
