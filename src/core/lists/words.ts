import type { FieldName } from './match';

/**
 * Names that columns have in English, German, French, Polish, Spanish, Italian and Dutch, folded to lower
 * case without accents and marks. A name may end with a currency, a unit or `net`; that is taken off before
 * it is looked up.
 */
const NAMES: Readonly<Record<FieldName, string>> = {
  sku: 'sku,item no,item number,item code,item,article,article no,article number,article code,product code,product no,product id,part no,part number,stock code,code,ref,reference,id,supplier sku,artikelnummer,artikel nr,artikelnr,art nr,artnr,bestellnummer,bestell nr,artikel,numero d article,code article,reference article,code produit,numer,numer artykulu,indeks,kod,kod produktu,kod towaru,symbol,referencia,codigo,codigo articulo,codigo producto,articulo,codice,codice articolo,artikelcode',
  gtin: 'gtin,ean,ean13,ean 13,ean code,eancode,upc,upc code,barcode,bar code,gtin ean,ean gtin,isbn,strichcode,barcode ean,code barre,code barres,code a barres,gencod,kod kreskowy,kod ean,codigo de barras,codigo ean,codice a barre,streepjescode',
  title:
    'title,name,product name,product title,item name,product,article name,short description,description short,designation,bezeichnung,artikelbezeichnung,produktname,artikelname,titel,name des artikels,kurztext,kurzbezeichnung,libelle,nom,nom du produit,designation article,intitule,titre,nazwa,nazwa produktu,nazwa towaru,tytul,nombre,nombre del producto,titulo,denominacion,nome,nome prodotto,titolo,naam,productnaam,omschrijving',
  brand:
    'brand,make,manufacturer,vendor,brand name,marke,hersteller,fabrikat,marque,fabricant,marka,producent,marca,fabricante,produttore,merk,fabrikant',
  category:
    'category,categories,product group,group,department,product type,type,category path,subcategory,kategorie,warengruppe,produktgruppe,artikelgruppe,rubrik,categorie,famille,rayon,gamme,kategoria,grupa,grupa towarowa,dzial,categoria,familia,grupo,departamento,reparto,productgroep',
  cost: 'cost,cost price,price,unit price,trade price,wholesale price,wholesale,dealer price,your price,buy price,purchase price,net price,nett price,price net,price each,each,unit cost,price per piece,price per pack,pack price,price gross,gross price,preis,einkaufspreis,ek,ek preis,ek netto,nettopreis,haendlerpreis,handlerpreis,stueckpreis,stuckpreis,vk netto,bruttopreis,preis brutto,preis netto,prix,prix d achat,prix achat,prix unitaire,prix net,pu ht,prix ht,tarif,prix ttc,cena,cena netto,cena zakupu,cena hurtowa,cena brutto,cena jednostkowa,precio,precio neto,precio de coste,coste,costo,precio mayorista,precio sin iva,precio con iva,tarifa,prezzo,prezzo netto,prijs,inkoopprijs,nettoprijs',
  stock:
    'stock,stock level,qty,quantity,qty available,available,availability,on hand,in stock,inventory,free stock,stock qty,bestand,lagerbestand,lager,verfuegbar,verfugbar,verfuegbarkeit,verfugbarkeit,menge,stueckzahl,disponible,disponibilite,quantite,qte,en stock,stan,stan magazynowy,ilosc,dostepnosc,dostepne,existencias,cantidad,disponibilidad,disponibilita,giacenza,quantita,voorraad,aantal',
  weight:
    'weight,weight g,weight kg,gross weight,net weight,shipping weight,unit weight,grams,mass,gewicht,versandgewicht,bruttogewicht,nettogewicht,poids,poids brut,waga,masa,peso,peso neto,peso bruto',
  description:
    'description,long description,full description,details,html,body,text,product description,features,beschreibung,langtext,artikelbeschreibung,produktbeschreibung,detailbeschreibung,descriptif,description longue,opis,opis produktu,opis dlugi,descripcion,descripcion larga,descrizione,beschrijving',
  picture:
    'picture,pictures,image,images,image url,image link,photo,photos,picture url,img,bild,bilder,bild url,bildlink,abbildung,photo url,image 1,image 2,image 3,url image,lien image,zdjecie,zdjecia,obrazek,link do zdjecia,imagen,imagenes,foto,fotos,url imagen,immagine,afbeelding',
  msrp: 'msrp,rrp,srp,retail price,recommended price,recommended retail price,list price,suggested price,uvp,unverbindliche preisempfehlung,empfohlener verkaufspreis,ppc,prix conseille,prix public,pvc,pvp,pvp recomendado,precio recomendado,cena sugerowana,cena detaliczna,scd,adviesprijs,prezzo consigliato',
  map: 'map,minimum advertised price,minimum price,min price,mindestpreis,prix minimum,cena minimalna,precio minimo',
  parent:
    'parent,parent sku,parent item,parent id,parent code,group id,item group id,style,style no,style code,model,model no,master,master sku,vater,vaterartikel,hauptartikel,modell,modellnummer,modele,reference mere,produit parent,code modele,sku rodzica,produkt nadrzedny,model numer,padre,sku padre,modelo,referencia padre,codice padre,modello',
  option:
    'colour,color,size,material,length,width,flavour,scent,pattern,finish,capacity,voltage,variant,option,option 1,option 2,colour name,farbe,groesse,grosse,lange,laenge,ausfuehrung,ausfuhrung,variante,couleur,taille,pointure,coloris,longueur,matiere,kolor,rozmiar,dlugosc,wariant,talla,tamano,largo,colore,taglia,kleur,maat',
  pack: 'pack,pack size,pack qty,pieces per pack,per pack,units per pack,inner,inner qty,carton qty,ve,verpackungseinheit,gebinde,stueck pro packung,stuck pro packung,pieces par paquet,conditionnement,uvc,colisage,sztuk w opakowaniu,opakowanie,unidades por paquete,uds paquete,unidad de venta,confezione,verpakking',
  shipsFrom:
    'ships from,ship from,warehouse,location,origin,dispatch from,versand aus,versandort,lagerort,standort,expedie de,entrepot,depot,magazyn,wysylka z,almacen,envio desde,origen,magazzino,magazijn',
  days: 'days,dispatch days,lead time,lead time days,delivery days,handling time,dispatch,lieferzeit,lieferzeit tage,lieferzeit in tagen,versandtage,delai,delai de livraison,delai expedition,czas wysylki,czas dostawy,dni,plazo,plazo de entrega,dias,levertijd,giorni',
  price:
    'selling price,sale price,our price,listing price,current price,verkaufspreis,vk,prix de vente,cena sprzedazy,precio de venta',
  state: 'state,status,listing status,zustand,etat,statut,stan oferty,estado',
  link: 'link,url,product url,listing url,permalink,adresse,lien,adres,enlace',
};

const fieldOf = new Map<string, FieldName>();
for (const [field, names] of Object.entries(NAMES) as [FieldName, string][])
  for (const name of names.split(',')) if (!fieldOf.has(name)) fieldOf.set(name, field);

/**
 * A column's name without case, accents and marks: `Artikel-Nr.` → `artikel nr`, `EK-Preis (netto, €)` → `ek
 * preis netto`.
 */
export function plainName(name: string): string {
  return name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/ł/gi, 'l')
    .replace(/ß/g, 'ss')
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, ' ')
    .trim();
}

const ENDINGS =
  /\s+(gbp|eur|usd|pln|chf|net|netto|nett|ht|ttc|brutto|gross|excl vat|ex vat|incl vat|inc vat|exkl mwst|inkl mwst|zzgl mwst|sin iva|con iva|hors taxe|bez vat|z vat|g|kg|gr|oz|lb|lbs|pcs|stk|szt|\d)$/;

/**
 * The field a column's name stands for, and how sure that is: 2 for the whole name, 1 for a part of it; null
 * where it says nothing.
 */
export function fieldByName(name: string): { field: FieldName; sure: number } | null {
  let plain = plainName(name);
  for (;;) {
    const field = fieldOf.get(plain);
    if (field) return { field, sure: 2 };
    const shorter = plain.replace(ENDINGS, '');
    if (shorter === plain) break;
    plain = shorter;
  }
  const words = plain.split(' ');
  for (let n = Math.min(words.length - 1, 3); n > 0; n--) {
    for (let at = 0; at + n <= words.length; at++) {
      const field = fieldOf.get(words.slice(at, at + n).join(' '));
      if (field && (n > 1 || words[at]!.length > 2)) return { field, sure: 1 };
    }
  }
  // Names of the last level of nested data: `offer/price/net`, `variants[].ean`.
  return null;
}

/** Whether a column's name says that tax is in its amounts, or that it is not; null where it says neither. */
export function taxByName(name: string): boolean | null {
  const plain = ` ${plainName(name)} `;
  if (
    / (brutto|gross|ttc|incl vat|inc vat|inkl mwst|con iva|z vat|iva incluido|iva incl|inkl ust) /.test(plain)
  )
    return true;
  return / (net|netto|nett|neto|ht|excl vat|ex vat|exkl mwst|zzgl mwst|sin iva|hors taxe|bez vat|exkl ust|excl|pu ht) /.test(
    plain,
  )
    ? false
    : null;
}

/** Whether a column's name says that its amounts are for a pack. */
export const packByName = (name: string): boolean =>
  / (per pack|pack price|price pack|pro packung|pro ve|ve preis|par paquet|za opakowanie|por paquete) /.test(
    ` ${plainName(name)} `,
  );
