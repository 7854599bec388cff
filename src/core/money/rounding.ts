/**
 * Integer division with the rounding named. All take safe integers and throw RangeError where the exact
 * result cannot be held.
 */

function check(n: number, d: number): void {
  if (!Number.isSafeInteger(n) || !Number.isSafeInteger(d) || d <= 0)
    throw new RangeError(`cannot divide ${n} by ${d} exactly`);
}

/** n / d to the nearest integer, halves away from nothing: 5/2 → 3, -5/2 → -3. */
export function divideHalfUp(n: number, d: number): number {
  check(n, d);
  const whole = Math.trunc(n / d);
  const rest = Math.abs(n - whole * d);
  return (rest * 2 >= d ? whole + Math.sign(n) : whole) + 0;
}

/** n / d towards minus infinity: -5/2 → -3. */
export function divideDown(n: number, d: number): number {
  check(n, d);
  const whole = Math.trunc(n / d);
  return (n - whole * d < 0 ? whole - 1 : whole) + 0;
}

/** n / d towards plus infinity: 5/2 → 3. */
export function divideUp(n: number, d: number): number {
  return -divideDown(-n, d) + 0;
}

/**
 * {@link divideHalfUp} for the inner loop: unchecked, for amounts of at least nothing whose quotient stays
 * under 2^31 and whose divisor stays under 2^24. The quotient in floating point is then off by less than a
 * quarter of 1/d, the smallest distance of any quotient from a half that it is not.
 */
export function halfUp(n: number, d: number): number {
  return Math.floor(n / d + 0.5);
}
