/** What a browser calls it when it has no room left, in whatever it is wrapped. */
const isFull = (error: {
  readonly name?: string;
  readonly message?: string;
  readonly inner?: unknown;
}): boolean =>
  /quota/i.test(`${error.name ?? ''} ${error.message ?? ''}`) ||
  (typeof error.inner === 'object' && error.inner !== null && isFull(error.inner));

/** The message for a full disk: it says that nothing is lost, and what can be deleted. */
export const NO_ROOM =
  'There is no room left in this browser. Nothing was changed, and what stood there before is kept. Under Settings, “Retention and storage” says what takes the room: keep history for fewer days, or free room on this device.';

/** Something that went wrong, as a person can use it. */
export function failureInWords(error: unknown): string {
  if (typeof error !== 'object' || error === null) return String(error);
  const { message, name } = error as Error;
  if (isFull(error as Error)) return NO_ROOM;
  return message || name || 'It went wrong without a reason.';
}

/** The error of storage that was cleared under an open tab; `watchForLoss` reports that. */
const GONE =
  /^(DatabaseClosedError|InvalidStateError|OpenFailedError|TransactionInactiveError|UnknownError)$/;

/** Whether storage was taken away: that is told for the whole tab. */
export const isGone = (error: unknown): boolean => GONE.test((error as { name?: string } | null)?.name ?? '');

/** Notes a failure that nobody waits for, where developers look for it. */
export function noteFailure(error: unknown): void {
  if (!isGone(error)) console.error(error);
}
