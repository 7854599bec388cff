/** Where an order goes. */
export interface Address {
  readonly name: string;
  readonly line1: string;
  readonly line2: string;
  readonly town: string;
  readonly postcode: string;
  /** ISO 3166-1 alpha-2. */
  readonly country: string;
}
