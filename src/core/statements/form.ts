import { guessDecimal, plainName } from '../lists';
import type { Currency } from '../money';
import type { LineKind, Side } from './stated';

/** What a column of a statement file is: a part of a line, or the amounts of one kind. */
export const STATEMENT_PARTS = [
  'order',
  'day',
  'kind',
  'amount',
  'money in',
  'money out',
  'currency',
  'document',
  'text',
] as const;
export type StatementColumn = (typeof STATEMENT_PARTS)[number] | LineKind;

/** What a word in the column of kinds stands for: a kind, the total of the lines, or nothing that counts. */
export type WordMeaning = LineKind | 'total' | 'nothing';

export const DAY_ORDERS = ['year first', 'day first', 'month first'] as const;
export type DayOrder = (typeof DAY_ORDERS)[number];

/** How the statement files of one connection are read: matched once, then used again. */
export interface StatementForm {
  /** For each column, by its plain name; a column that is not named is not read. */
  readonly columns: Readonly<Record<string, StatementColumn>>;
  readonly decimal: '.' | ',';
  readonly days: DayOrder;
  /** Where no column says otherwise. */
  readonly currency: Currency;
  /** By the plain form of the word. */
  readonly words: Readonly<Record<string, WordMeaning>>;
  /** Kinds whose amounts stand with the other sign than here: fees above nothing, for one. */
  readonly turned: readonly LineKind[];
}

/** Names of columns in English, German, French, Polish, Spanish, Italian and Dutch, as {@link plainName} makes them. */
const COLUMNS: Readonly<Record<StatementColumn, string>> = {
  order:
    'order,order no,order number,order id,order reference,your reference,customer reference,po number,bestellung,bestellnummer,bestell nr,auftrag,auftragsnummer,ihre referenz,commande,numero de commande,n commande,reference commande,zamowienie,numer zamowienia,nr zamowienia,pedido,numero de pedido,ordine,numero ordine,bestelnummer,bestelling',
  day: 'day,date,posted,posting date,booked,booking date,transaction date,date time,settled on,datum,buchungsdatum,buchungstag,belegdatum,date d operation,date operation,data,data operacji,fecha,data operazione,boekdatum',
  kind: 'kind,type,transaction type,line type,category,movement,art,typ,vorgang,buchungsart,nature,type d operation,operation,rodzaj,typ operacji,tipo,tipo de movimiento,concepto,tipo operazione,soort,mutatiesoort',
  amount:
    'amount,net amount,value,total,net,sum,betrag,summe,wert,montant,valeur,kwota,wartosc,importe,monto,importo,bedrag',
  'money in':
    'credit,money in,in,paid in,haben,gutschrift,eingang,credit amount,wplyw,ma,haber,abono,avere,bij',
  'money out':
    'debit,money out,out,paid out,soll,belastung,ausgang,debit amount,obciazenie,wn,debe,cargo,dare,af',
  currency: 'currency,currency code,ccy,wahrung,waehrung,devise,monnaie,waluta,moneda,divisa,valuta',
  document:
    'document,reference,ref,transaction,transaction id,transaction number,entry,id,invoice,invoice no,invoice number,beleg,belegnummer,rechnung,rechnungsnummer,referenz,transaktion,piece,facture,numero de facture,dokument,numer dokumentu,faktura,nr faktury,documento,factura,fattura,factuur,factuurnummer',
  text: 'text,description,details,note,narrative,memo,beschreibung,buchungstext,verwendungszweck,libelle,opis,tytul,descripcion,descrizione,omschrijving',
  sale: 'sale,sales,gross,gross sale,item price,goods total,product sales,verkauf,umsatz,verkaufspreis,warenwert,vente,ventes,sprzedaz,venta,ventas,vendita,vendite,verkoop',
  'buyer shipping':
    'buyer shipping,shipping charged,postage paid,shipping credit,shipping income,versand kunde,versandeinnahmen,port facture,frais de port client,wysylka klient,envio cobrado,spedizione incassata,verzendinkomsten',
  refund:
    'refund,refunds,refunded,erstattung,erstattungen,ruckerstattung,remboursement,remboursements,zwrot,zwroty,reembolso,reembolsos,devolucion,rimborso,rimborsi,terugbetaling',
  'sale fee':
    'sale fee,selling fee,commission,fee on sale,provision,verkaufsgebuhr,verkaufsprovision,commission de vente,prowizja,comision,commissione,commissie',
  'listing fee':
    'listing fee,insertion fee,angebotsgebuhr,einstellgebuhr,frais d insertion,oplata za wystawienie,tarifa de publicacion,tariffa di inserzione,plaatsingskosten',
  advertising:
    'advertising,ads,ad fee,promotion,werbung,anzeigen,werbekosten,publicite,reklama,publicidad,pubblicita,advertentie',
  'payment fee':
    'payment fee,processing fee,payment processing,zahlungsgebuhr,zahlungsabwicklung,frais de paiement,oplata za platnosc,comision de pago,commissione di pagamento,betaalkosten',
  fees: 'fees,fee,charges,total fees,gebuhr,gebuhren,frais,oplata,oplaty,tarifas,comisiones,tariffe,commissioni,kosten',
  goods:
    'goods,merchandise,items,items total,ware,waren,warenwert netto,marchandises,articles,towar,towary,mercancia,merce,goederen',
  shipping:
    'shipping,delivery,postage,carriage,freight,versand,versandkosten,fracht,port,transport,livraison,wysylka,dostawa,envio,portes,spedizione,verzending,verzendkosten',
  tax: 'tax,vat,sales tax,tax withheld,mwst,ust,umsatzsteuer,tva,vat podatek,podatek,iva,btw',
  return:
    'return,returns,return label,restocking,credit note,rucksendung,retoure,gutschrift retoure,retour,retours,avoir,odeslanie,devoluciones,reso,resi,retourzending',
  'in all':
    'net per order,earnings,payout per order,auszahlung je bestellung,net vendeur,saldo zamowienia,neto por pedido,netto per ordine',
  charge:
    'charge,subscription,monthly fee,account fee,service charge,grundgebuhr,monatsgebuhr,abo,abonnement,abonament,cuota,cuota mensual,suscripcion,canone,contributie',
  payout:
    'payout,pay out,transfer,bank transfer,paid,payment,deposit,settlement,auszahlung,uberweisung,zahlung,versement,virement,paiement,wyplata,przelew,platnosc,pago,transferencia,pagamento,bonifico,uitbetaling,betaling',
};

const TOTALS =
  'total,totals,sum,grand total,balance,gesamt,summe,saldo,endsaldo,somme,solde,suma,razem,totale,totaal'.split(
    ',',
  );
const NOTHING =
  'opening balance,carried forward,brought forward,anfangssaldo,ubertrag,report,saldo poczatkowe,saldo inicial,saldo iniziale,beginsaldo'.split(
    ',',
  );

const columnOf = new Map<string, StatementColumn>();
for (const [column, names] of Object.entries(COLUMNS) as [StatementColumn, string][])
  for (const name of names.split(',')) if (!columnOf.has(name)) columnOf.set(name, column);

const PARTS: ReadonlySet<string> = new Set(STATEMENT_PARTS);

/** What a word in the column of kinds means, whatever its language; undefined where that cannot be told. */
export function meaningOf(word: string, side: Side): WordMeaning | undefined {
  const plain = plainName(word);
  if (TOTALS.includes(plain)) return 'total';
  if (NOTHING.includes(plain)) return 'nothing';
  const column = columnOf.get(plain) ?? columnOf.get(plain.replace(/s$/, ''));
  if (!column || PARTS.has(column)) return undefined;
  // What a buyer pays for shipping stands in a marketplace's statement, what it costs in a supplier's.
  if (side === 'marketplace' && column === 'shipping') return 'buyer shipping';
  if (side === 'marketplace' && column === 'goods') return 'sale';
  return column as LineKind;
}

const NUMERIC = /^[\s(]*[-+−]?[^\d\s]{0,4}\s*[\d.,'\s]+[^\d]{0,4}$/;

/** Which day order fits the days of a column: those with points between are day first everywhere. */
export function guessDays(cells: readonly string[]): DayOrder {
  const parts = cells.flatMap((c) => {
    const found = /^(\d{1,4})([-./])(\d{1,2})[-./]\d{1,4}/.exec(c.trim());
    return found ? [{ first: found[1]!, mark: found[2]!, second: Number(found[3]) }] : [];
  });
  const [one] = parts;
  if (!one || one.first.length === 4) return 'year first';
  const overs = (of: (p: (typeof parts)[number]) => number) => parts.filter((p) => of(p) > 12).length;
  return one.mark !== '.' && overs((p) => p.second) > overs((p) => Number(p.first))
    ? 'month first'
    : 'day first';
}

/** How a file is probably read, from its header row and its first rows. What cannot be told is left open. */
export function guessForm(
  header: readonly string[],
  rows: readonly (readonly string[])[],
  { side, currency }: { readonly side: Side; readonly currency: Currency },
): StatementForm {
  const columns: Record<string, StatementColumn> = {};
  const taken = new Set<StatementColumn>();
  const cellsAt = (at: number) => rows.map((r) => r[at] ?? '').filter((c) => c.trim());
  header.forEach((name, at) => {
    const plain = plainName(name);
    let column = columnOf.get(plain) ?? columnOf.get(plain.replace(/ (gbp|usd|eur|pln)$/, ''));
    if (!column) return;
    const cells = cellsAt(at);
    const numbers = cells.length > 0 && cells.every((c) => NUMERIC.test(c));
    const isAmount = !PARTS.has(column) || ['amount', 'money in', 'money out'].includes(column);
    if (isAmount && cells.length && !numbers) {
      // “Payment” or “Transaction” may head a column of words.
      if (cells.every((c) => meaningOf(c, side) !== undefined)) column = 'kind';
      else return;
    }
    if (side === 'marketplace' && column === 'shipping') column = 'buyer shipping';
    if (side === 'marketplace' && column === 'goods') column = 'sale';
    if (taken.has(column)) return;
    taken.add(column);
    columns[plain] = column;
  });
  // Amounts of one column, or of a column for each kind; the net beside the parts would count them twice.
  const kinds = Object.entries(columns).filter(([, c]) => !PARTS.has(c));
  if (kinds.length && taken.has('amount') && !taken.has('kind'))
    for (const [name, c] of Object.entries(columns)) if (c === 'amount') delete columns[name];
  if (taken.has('kind') && taken.has('amount')) for (const [name] of kinds) delete columns[name];
  const at = (column: StatementColumn) => header.findIndex((h) => columns[plainName(h)] === column);
  const kindAt = at('kind');
  const words: Record<string, WordMeaning> = {};
  if (kindAt >= 0)
    for (const word of new Set(cellsAt(kindAt))) {
      const meaning = meaningOf(word, side);
      if (meaning) words[plainName(word)] = meaning;
    }
  const amounts = header.flatMap((h, k) => {
    const c = columns[plainName(h)];
    return c && (!PARTS.has(c) || ['amount', 'money in', 'money out'].includes(c)) ? cellsAt(k) : [];
  });
  return {
    columns,
    decimal: guessDecimal(amounts),
    days: guessDays(at('day') < 0 ? [] : cellsAt(at('day'))),
    currency,
    words,
    turned: [],
  };
}

/** What keeps a file from being read this way, in words; empty where nothing does. */
export function formProblems(header: readonly string[], form: StatementForm): string[] {
  const has = new Set(header.map((h) => form.columns[plainName(h)]).filter((c) => c !== undefined));
  const kinds = [...has].filter((c) => !PARTS.has(c));
  const problems: string[] = [];
  if (!has.has('day')) problems.push('No column is the day.');
  if (has.has('amount') && (has.has('money in') || has.has('money out')))
    problems.push('Amounts stand in one column, or money in and money out in two: leave one of them out.');
  const amount = has.has('amount') || has.has('money in') || has.has('money out');
  if (amount && !has.has('kind')) problems.push('No column says what an amount is for.');
  if (!amount && !kinds.length) problems.push('No column holds amounts.');
  if (amount && kinds.length)
    problems.push('A column of amounts stands beside columns of single kinds: they would count twice.');
  if (!has.has('order') && kinds.length) problems.push('No column is the order.');
  return problems;
}
