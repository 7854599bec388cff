import type { Instant } from '../units';

/** How a line is made with the buyer's own words, where its print has room for them. */
export interface Proof {
  /** Which of the buyer's texts says the fields as they are made; null while they are as they came. */
  readonly words: number | null;
  /** When the buyer was asked; missing where nobody asked, or an answer came. */
  readonly askedAt?: Instant;
  /** What a person looked at and approved; null while nobody did. */
  readonly approved: {
    readonly words: number;
    readonly print: string;
    /** The hash of each area's file, by the area. */
    readonly files: Readonly<Record<string, string>>;
    readonly at: Instant;
  } | null;
}

export const NO_PROOF: Proof = { words: null, approved: null };

/** Whether a line is as it was approved: other words or another print since are a new proof. */
export const isApproved = ({
  proof,
  print,
}: {
  readonly proof?: Proof | undefined;
  readonly print?: string | undefined;
}): boolean =>
  proof?.approved != null && proof.approved.words === proof.words && proof.approved.print === print;
