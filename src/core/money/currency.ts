/**
 * Minor units of ISO 4217 that differ from two digits (list one, 2024). Intl disagrees for some, so it is
 * never asked.
 */
const DIGITS: Readonly<Record<string, number>> = {
  BIF: 0,
  CLP: 0,
  DJF: 0,
  GNF: 0,
  ISK: 0,
  JPY: 0,
  KMF: 0,
  KRW: 0,
  PYG: 0,
  RWF: 0,
  UGX: 0,
  UYI: 0,
  VND: 0,
  VUV: 0,
  XAF: 0,
  XOF: 0,
  XPF: 0,
  BHD: 3,
  IQD: 3,
  JOD: 3,
  KWD: 3,
  LYD: 3,
  OMR: 3,
  TND: 3,
  CLF: 4,
  UYW: 4,
};

/** Codes of money in use by ISO 4217 (list one, 2024), without funds, metals and tests. */
export const CURRENCIES: readonly string[] =
  'AED AFN ALL AMD ANG AOA ARS AUD AWG AZN BAM BBD BDT BGN BHD BIF BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF CHF CLF CLP CNY COP CRC CUP CVE CZK DJF DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GNF GTQ GYD HKD HNL HTG HUF IDR ILS INR IQD IRR ISK JMD JOD JPY KES KGS KHR KMF KPW KRW KWD KYD KZT LAK LBP LKR LRD LSL LYD MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD NGN NIO NOK NPR NZD OMR PAB PEN PGK PHP PKR PLN PYG QAR RON RSD RUB RWF SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TND TOP TRY TTD TWD TZS UAH UGX USD UYI UYU UYW UZS VES VND VUV WST XAF XCD XOF XPF YER ZAR ZMW ZWG'.split(
    ' ',
  );

/** Whether a text is the code of a currency in use. */
export const isCurrency = (code: string): boolean => CURRENCIES.includes(code);

const SIGNS: Readonly<Record<string, string>> = { GBP: '£', EUR: '€', USD: '$', JPY: '¥' };

/** An ISO 4217 code such as `GBP`. */
export type Currency = string;

/** Digits after the decimal point of a currency, by ISO 4217. */
export function digitsOf(currency: Currency): number {
  return DIGITS[currency] ?? 2;
}

/** The sign people write for a currency (`£`), else its code. */
export function signOf(currency: Currency): string {
  return SIGNS[currency] ?? currency;
}
