import 'reflect-metadata';
import { type ClassConstructor, plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
  type ValidationError,
  validateSync,
} from 'class-validator';
import type { MakerStage } from './wire';

/**
 * The wire contract as classes that check what really came. Text limits keep a hostile answer from filling
 * the database.
 */

const AMOUNT = /^\d{1,8}(\.\d{1,4})?$/;
const PERCENT = /^\d{1,2}(\.\d{1,4})?$/;

/** RFC 3339, section 5.6: a date and a time with its offset. Other forms of ISO 8601, such as weeks, are not understood here. */
const TIME =
  /^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])[Tt]([01]\d|2[0-3]):[0-5]\d:[0-5]\d(\.\d{1,9})?([Zz]|[+-]([01]\d|2[0-3]):[0-5]\d)$/;

const Time = () => Matches(TIME, { message: '$property must be a time such as 2026-11-26T14:05:00Z' });
const Amount = () =>
  Matches(AMOUNT, { message: '$property must be an amount such as "12.50", not "$value"' });
const Percent = () => Matches(PERCENT, { message: '$property must be a percentage such as "12.5"' });

export class ItemShape {
  @IsString() @Length(1, 64) sku: string;
  @IsOptional() @IsString() @Length(1, 64) group?: string;
  @IsString() @Length(1, 500) title: string;
  @IsString() @MaxLength(120) brand: string;
  @IsString() @Length(1, 200) category: string;
  @IsOptional() @IsObject() options?: Record<string, string>;
  @IsOptional() @IsString() @MaxLength(20) gtin?: string;
  @Amount() cost: string;
  @IsOptional() @Amount() map?: string;
  @IsOptional() @Amount() msrp?: string;
  @IsInt() @Min(0) @Max(10_000_000) stock: number;
  @IsOptional() @IsInt() @Min(0) @Max(1_000_000) grams?: number;
  @IsString() @MaxLength(50_000) description: string;
  @IsArray() @ArrayMaxSize(24) @IsString({ each: true }) pictures: string[];
  @IsOptional() @IsString() @MaxLength(60) shipsFrom?: string;
  @IsOptional() @IsInt() @Min(0) @Max(365) dispatchDays?: number;
}

export class ItemPageShape {
  @IsString() @Length(3, 3) currency: string;
  @IsInt() @Min(0) @Max(5_000_000) total: number;
  @IsArray() @ArrayMaxSize(1000) items: unknown[];
  @IsOptional() @IsString() @MaxLength(200) next: string | null;
}

class ShippingShape {
  @IsInt() @Min(1) upToGrams: number;
  @Amount() price: string;
}

class DeliveryShape {
  @IsString() @Length(2, 2) from: string;
  @IsArray() @ArrayMaxSize(300) @IsString({ each: true }) to: string[];
  @IsInt() @Min(0) @Max(365) days: number;
}

class AddressLimitsShape {
  @IsBoolean() boxes: boolean;
  @IsOptional() @IsInt() @Min(10) @Max(1000) longest?: number;
}

class ServiceShape {
  @IsString() @Length(1, 40) id: string;
  @IsString() @Length(1, 80) name: string;
  @IsArray() @ArrayMaxSize(300) @IsString({ each: true }) to: string[];
  @Amount() extra: string;
  @IsInt() @Min(0) @Max(365) days: number;
}

class NoticeShape {
  @IsIn(['delayed', 'restricted']) kind: 'delayed' | 'restricted';
  @IsArray() @ArrayMaxSize(300) @IsString({ each: true }) to: string[];
  @IsOptional() @IsInt() @Min(0) @Max(365) days?: number;
  @IsString() @MaxLength(200) why: string;
}

class ReachShape {
  @IsArray() @ArrayMaxSize(300) @IsString({ each: true }) to: string[];
  @Amount() extra: string;
  @IsInt() @Min(0) @Max(365) days: number;
}

class MakerSiteShape {
  @IsString() @Length(1, 40) id: string;
  @IsString() @Length(1, 80) name: string;
  @Matches(/^[A-Z]{2}$/) country: string;
  @IsArray() @ArrayMaxSize(50) @ValidateNested({ each: true }) @Type(() => ReachShape) reaches: ReachShape[];
}

export class SupplierAccountShape {
  @IsString() @Length(1, 100) name: string;
  @IsString() @Length(3, 3) currency: string;
  @IsString() @Length(1, 60) zone: string;
  @IsOptional() @Amount() balance: string | null;
  @IsArray()
  @ArrayMaxSize(100)
  @ValidateNested({ each: true })
  @Type(() => ShippingShape)
  shipping: ShippingShape[];
  @IsArray() @ArrayMaxSize(300) @IsString({ each: true }) shipsTo: string[];
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(100)
  @ValidateNested({ each: true })
  @Type(() => DeliveryShape)
  delivery?: DeliveryShape[];
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => ServiceShape)
  services?: ServiceShape[];
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => NoticeShape)
  notices?: NoticeShape[];
  @IsOptional() @IsObject() @ValidateNested() @Type(() => AddressLimitsShape) address?: AddressLimitsShape;
  @IsOptional() @IsInt() @Min(0) @Max(100_000) blanks?: number;
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => MakerSiteShape)
  sites?: MakerSiteShape[];
}

class TechniqueShape {
  @IsString() @Length(1, 120) name: string;
  @IsBoolean() halfTones: boolean;
  @IsBoolean() opaque: boolean;
  @IsBoolean() underprint: boolean;
  @IsNumber() @Min(0) @Max(20) finestLine: number;
}

/** Pixels of a print file: more than this no browser draws. */
const MOST_PIXELS = 16_384;

export class FileSizeShape {
  @IsInt() @Min(16) @Max(MOST_PIXELS) width: number;
  @IsInt() @Min(16) @Max(MOST_PIXELS) height: number;
  @IsInt() @Min(30) @Max(2_400) dpi: number;
}

class BlankAreaShape {
  @IsString() @Matches(/^[\w-]{1,40}$/) id: string;
  @IsString() @Length(1, 80) name: string;
  @IsIn(['rectangle', 'ellipse']) shape: 'rectangle' | 'ellipse';
  @IsObject() @ValidateNested() @Type(() => TechniqueShape) technique: TechniqueShape;
  @IsNumber() @Min(0) @Max(200) bleed: number;
  @IsNumber() @Min(0) @Max(500) safe: number;
  @IsOptional() @Amount() extra?: string;
  @IsObject() files: Record<string, FileSizeShape>;
}

class ColourShape {
  @IsString() @Length(1, 60) name: string;
  @Matches(/^#[0-9a-f]{6}$/i) hex: string;
}

class BlankItemShape {
  @IsString() @Length(1, 64) sku: string;
  @IsString() @MaxLength(60) colour: string;
  @IsString() @MaxLength(60) size: string;
}

class PrintSiteShape {
  @IsString() @Length(1, 60) name: string;
  @Matches(/^[A-Z]{2}$/) country: string;
  @IsInt() @Min(0) @Max(365) days: number;
}

export class BlankShape {
  @IsString() @Matches(/^[\w-]{1,40}$/) id: string;
  @IsString() @Length(1, 120) name: string;
  @IsString() @Length(1, 200) category: string;
  @IsString() @MaxLength(1_000) care: string;
  @IsArray() @ArrayMaxSize(50) @IsString({ each: true }) forbidden: string[];
  @IsOptional() @Amount() personal?: string;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => ColourShape)
  colours: ColourShape[];
  @IsOptional() @IsArray() @ArrayMaxSize(100) @IsString({ each: true }) sizes?: string[];
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(20)
  @ValidateNested({ each: true })
  @Type(() => BlankAreaShape)
  areas: BlankAreaShape[];
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(2_000)
  @ValidateNested({ each: true })
  @Type(() => BlankItemShape)
  items: BlankItemShape[];
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => PrintSiteShape)
  sites: PrintSiteShape[];
}

export class BlanksShape {
  @IsString() @Length(3, 3) currency: string;
  @IsArray() @ArrayMaxSize(2_000) blanks: unknown[];
}

export class PrintFileShape {
  @Matches(/^[0-9a-f]{64}$/) file: string;
}

class ChargeShape {
  @Amount() goods: string;
  @Amount() shipping: string;
}

class CountShape {
  @IsOptional() @IsString() @Length(1, 100) line?: string;
  @IsString() @Length(1, 64) sku: string;
  @IsInt() @Min(1) @Max(100_000) quantity: number;
}

class ParcelShape {
  @IsString() @Length(1, 80) carrier: string;
  @IsString() @Length(1, 80) tracking: string;
  @Time() shippedAt: string;
  @IsOptional() @Time() deliveredAt?: string;
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => CountShape)
  lines?: CountShape[];
}

class ReprintShape {
  @IsString() @Length(1, 64) id: string;
  @IsIn(['asked', 'granted', 'refused', 'sent']) state: 'asked' | 'granted' | 'refused' | 'sent';
  @IsOptional() @IsString() @MaxLength(500) says?: string;
  @IsOptional() @IsString() @MaxLength(80) carrier?: string;
  @IsOptional() @IsString() @MaxLength(80) tracking?: string;
}

class SupplierReturnShape {
  @IsString() @Length(1, 120) id: string;
  @IsIn(['asked', 'granted', 'refused', 'settled']) state: 'asked' | 'granted' | 'refused' | 'settled';
  @IsOptional() @IsString() @MaxLength(500) says?: string;
  @IsOptional() @Time() answerBy?: string;
  @IsOptional() @Amount() credit?: string;
  @IsOptional() @Amount() restocking?: string;
  @IsOptional() @IsBoolean() back?: boolean;
  @IsOptional() @IsString() @MaxLength(80) carrier?: string;
  @IsOptional() @IsString() @MaxLength(80) tracking?: string;
}

class AgainShape {
  @Amount() charge: string;
}

class ParcelBackShape {
  @IsString() @Length(1, 80) tracking: string;
  @IsString() @MaxLength(300) why: string;
  @IsOptional() @Time() heldUntil?: string;
  @IsOptional() @IsObject() @ValidateNested() @Type(() => AgainShape) again?: AgainShape;
}

export class SupplierOrderShape {
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => SupplierReturnShape)
  returns?: SupplierReturnShape[];
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => ParcelBackShape)
  back?: ParcelBackShape[];

  @IsArray()
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => CountShape)
  lines: CountShape[];
  @IsString() @Length(1, 64) number: string;
  @IsString() @Length(1, 100) reference: string;
  @IsIn(['accepted', 'part shipped', 'shipped', 'delivered', 'cancelled'])
  status: 'accepted' | 'part shipped' | 'shipped' | 'delivered' | 'cancelled';
  @IsString() @Length(3, 3) currency: string;
  @IsOptional() @IsObject() @ValidateNested() @Type(() => ChargeShape) charge?: ChargeShape;
  @IsOptional() @IsInt() @Min(0) revision?: number;
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => ParcelShape)
  parcels: ParcelShape[];
  @Time() acceptedAt: string;
  @IsOptional() @IsString() @MaxLength(80) site?: string;
  @IsOptional() @IsIn(['received', 'file checked', 'printing', 'made', 'sent']) stage?: MakerStage;
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => ReprintShape)
  reprints?: ReprintShape[];
  @IsOptional() @Amount() balance?: string | null;
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => CountShape)
  cancelled?: CountShape[];
}

export class PurchasesFoundShape {
  @IsArray() @ArrayMaxSize(100) orders: unknown[];
}

export class ChangesShape {
  @IsString() @MaxLength(200) next: string;
  @IsBoolean() more: boolean;
}

class FeeBandShape {
  @IsOptional() @Amount() upTo: string | null;
  @Percent() rate: string;
}

class CategoryShape {
  @IsString() @Length(1, 64) id: string;
  @IsString() @Length(1, 120) name: string;
  @IsArray() @IsString({ each: true }) words: string[];
  @IsBoolean() needsBrand: boolean;
  @IsBoolean() needsGtin: boolean;
}

/** Its bands by category are checked one by one with {@link FeeBandsShape}. */
class FeeShape {
  @IsString() @Length(1, 64) id: string;
  @IsString() @Length(1, 80) name: string;
  @IsIn(['sale', 'payment', 'advertising', 'listing']) kind: 'sale' | 'payment' | 'advertising' | 'listing';
  @IsIn(['item', 'order', 'listing']) per: 'item' | 'order' | 'listing';
  @IsOptional() @IsObject() bands?: Record<string, unknown>;
  @IsOptional() @Amount() fixed?: string;
  @IsOptional() @Amount() least?: string;
  @IsOptional() @Amount() most?: string;
  @IsBoolean() onShipping: boolean;
  @IsBoolean() onTax: boolean;
  @IsOptional() @IsBoolean() optional?: boolean;
}

export class FeeBandsShape {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(20)
  @ValidateNested({ each: true })
  @Type(() => FeeBandShape)
  bands: FeeBandShape[];
}

class TaxShape {
  @IsIn(['inside', 'added', 'none']) model: 'inside' | 'added' | 'none';
  @Percent() rate: string;
}

class TagsShape {
  @IsInt() @Min(1) @Max(100) most: number;
  @IsInt() @Min(1) @Max(200) longest: number;
}

class PicturesShape {
  @IsInt() @Min(0) least: number;
  @IsInt() @Min(1) most: number;
  @IsOptional() @IsInt() @Min(0) @Max(10_000) shortest?: number;
  @IsOptional() @IsBoolean() square?: boolean;
}

class CarrierShape {
  @IsString() @Length(1, 64) code: string;
  @IsString() @Length(1, 80) name: string;
}

class LimitsShape {
  @IsInt() @Min(1) @Max(32) inFlight: number;
  @IsInt() @Min(1) @Max(500) listingsAtOnce: number;
}

class ChoiceShape {
  @IsString() @Length(1, 60) id: string;
  @IsString() @Length(1, 100) name: string;
}

class AttributeShape {
  @IsString() @Matches(/^[a-z0-9][a-z0-9-]{0,39}$/) id: string;
  @IsString() @Length(1, 60) name: string;
  @IsIn(['choice', 'text', 'number', 'amount', 'link']) kind:
    | 'choice'
    | 'text'
    | 'number'
    | 'amount'
    | 'link';
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => ChoiceShape)
  choices?: ChoiceShape[];
  @IsOptional() @IsString() @MaxLength(20) unit?: string;
  @IsOptional() @IsArray() @ArrayMaxSize(5000) @IsString({ each: true }) categories?: string[];
  @IsOptional() @IsBoolean() needed?: boolean;
  @IsOptional() @IsString() @MaxLength(200) usual?: string;
  @IsOptional() @IsInt() @Min(0) least?: number;
  @IsOptional() @IsInt() @Min(0) most?: number;
  @IsOptional() @IsBoolean() before?: boolean;
}

export class SiteShape {
  @IsString() @Length(1, 80) name: string;
  @IsString() @Length(3, 3) currency: string;
  @IsString() @Length(1, 60) zone: string;
  @IsInt() @Min(1) @Max(1000) titleLimit: number;
  @IsInt() @Min(1) descriptionLimit: number;
  @IsObject() @ValidateNested() @Type(() => PicturesShape) pictures: PicturesShape;
  @IsArray() @IsString({ each: true }) bannedWords: string[];
  @IsArray() @IsString({ each: true }) shipsTo: string[];
  @IsObject() @ValidateNested() @Type(() => TaxShape) tax: TaxShape;
  @IsArray() @ArrayMaxSize(40) @ValidateNested({ each: true }) @Type(() => FeeShape) fees: FeeShape[];
  @IsOptional() @IsObject() @ValidateNested() @Type(() => TagsShape) tags?: TagsShape;
  @IsOptional() @IsBoolean() drafts?: boolean;
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => AttributeShape)
  attributes?: AttributeShape[];
  @IsOptional() @IsObject() @ValidateNested() @Type(() => LimitsShape) limits?: LimitsShape;
  @IsArray()
  @ArrayMaxSize(5000)
  @ValidateNested({ each: true })
  @Type(() => CategoryShape)
  categories: CategoryShape[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => CarrierShape) carriers: CarrierShape[];
  @IsOptional() @IsString() @Length(2, 2) language?: string;
  @IsOptional() @IsArray() @ArrayMaxSize(40) @IsString({ each: true }) ownMessages?: string[];
}

export class ListingAnswerShape {
  @IsString() @Length(1, 100) id: string;
  @IsIn(['live', 'paused', 'draft']) state: 'live' | 'paused' | 'draft';
  @IsInt() revision: number;
  @IsOptional() @IsString() @MaxLength(500) page?: string;
}

class FieldErrorShape {
  @IsString() @MaxLength(80) field: string;
  @IsString() @MaxLength(500) reason: string;
}

export class ListingErrorsShape {
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => FieldErrorShape)
  errors: FieldErrorShape[];
}

export class KnownListingShape {
  @IsString() @Length(1, 100) sku: string;
  @IsString() @Length(1, 100) id: string;
  @IsOptional() @IsString() @Length(1, 64) group?: string;
  @IsOptional() @IsObject() options?: Record<string, string>;
  @IsString() @Length(1, 500) title: string;
  @IsString() @MaxLength(50_000) description: string;
  @IsString() @MaxLength(100) category: string;
  @IsString() @MaxLength(120) brand: string;
  @IsOptional() @IsString() @MaxLength(20) gtin?: string;
  @IsArray() @ArrayMaxSize(24) @IsString({ each: true }) pictures: string[];
  @Amount() price: string;
  @IsInt() @Min(0) @Max(10_000_000) quantity: number;
  @IsIn(['live', 'paused', 'ended', 'draft']) state: 'live' | 'paused' | 'ended' | 'draft';
}

export class ListingPageShape {
  @IsString() @Length(3, 3) currency: string;
  @IsInt() @Min(0) @Max(10_000_000) total: number;
  @IsArray() @ArrayMaxSize(1000) listings: unknown[];
  @IsOptional() @IsString() @Length(1, 500) next?: string | null;
}

class AddressShape {
  @IsString() @MaxLength(120) name: string;
  @IsString() @MaxLength(200) line1: string;
  @IsOptional() @IsString() @MaxLength(200) line2?: string;
  @IsString() @MaxLength(100) town: string;
  @IsString() @MaxLength(20) postcode: string;
  @IsString() @MaxLength(3) country: string;
}

class BuyerShape {
  @IsString() @MaxLength(120) name: string;
  @IsString() @MaxLength(200) email: string;
}

class BuyerFieldShape {
  @IsString() @Length(1, 60) name: string;
  @IsString() @MaxLength(1000) value: string;
}

class BuyerFileShape {
  @IsString() @Length(1, 60) name: string;
  @Matches(/^\/v1\/files\/[\w.-]{1,120}$/) file: string;
}

class OrderLineShape {
  @IsString() @Length(1, 100) id: string;
  @IsString() @Length(1, 100) sku: string;
  @IsString() @MaxLength(500) title: string;
  @IsInt() @Min(1) @Max(100_000) quantity: number;
  @Amount() unitPrice: string;
  @IsOptional() @IsString() @MaxLength(1000) personalisation?: string;
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(30)
  @ValidateNested({ each: true })
  @Type(() => BuyerFieldShape)
  fields?: BuyerFieldShape[];
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(10)
  @ValidateNested({ each: true })
  @Type(() => BuyerFileShape)
  files?: BuyerFileShape[];
  @IsOptional() @IsInt() @Min(0) cancelled?: number;
}

class OrderChargeShape {
  @IsIn(['sale', 'payment', 'advertising', 'listing']) kind: 'sale' | 'payment' | 'advertising' | 'listing';
  @IsString() @Length(1, 80) name: string;
  @Amount() amount: string;
}

class DispatchShape {
  @IsString() @Length(1, 80) tracking: string;
}

class LineUnitsShape {
  @IsString() @Length(1, 100) id: string;
  @IsInt() @Min(0) @Max(100_000) quantity: number;
}

class CancelRequestShape {
  @IsString() @Length(1, 64) id: string;
  @Time() askedAt: string;
  @IsOptional() @Time() answerBy?: string;
  @IsOptional() @IsString() @MaxLength(1000) reason?: string;
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => LineUnitsShape)
  lines?: LineUnitsShape[];
  @IsIn(['open', 'accepted', 'declined', 'over']) state: 'open' | 'accepted' | 'declined' | 'over';
}

class ReturnShape {
  @IsString() @Length(1, 64) id: string;
  @IsIn(['return', 'refund', 'not received', 'chargeback'])
  kind: 'return' | 'refund' | 'not received' | 'chargeback';
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => LineUnitsShape)
  lines: LineUnitsShape[];
  @IsString() @MaxLength(120) reason: string;
  @IsOptional() @IsString() @MaxLength(2000) says?: string;
  @Time() openedAt: string;
  @IsOptional() @Time() answerBy?: string;
  @IsIn(['open', 'accepted', 'declined', 'received', 'closed'])
  state: 'open' | 'accepted' | 'declined' | 'received' | 'closed';
  @IsOptional() @IsBoolean() sent?: boolean;
  @IsOptional() @Amount() refunded?: string;
  @IsOptional() @Amount() label?: string;
  @IsOptional() @Amount() fees?: string;
}

export class OrderShape {
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => ReturnShape)
  returns?: ReturnShape[];

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => DispatchShape)
  dispatches?: DispatchShape[];
  @IsString() @Length(1, 64) number: string;
  @IsIn(['paid', 'shipped', 'delivered', 'cancelled']) status: 'paid' | 'shipped' | 'delivered' | 'cancelled';
  @IsString() @Length(3, 3) currency: string;
  @Time() paidAt: string;
  @Time() shipBy: string;
  @IsObject() @ValidateNested() @Type(() => BuyerShape) buyer: BuyerShape;
  @IsObject() @ValidateNested() @Type(() => AddressShape) shipTo: AddressShape;
  @IsArray()
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => OrderLineShape)
  lines: OrderLineShape[];
  @IsOptional() @IsString() @MaxLength(2000) note?: string;
  @IsOptional() @IsString() @MaxLength(1000) gift?: string;
  @IsOptional() @IsString() @MaxLength(80) via?: string;
  @IsOptional()
  @IsObject()
  @ValidateNested()
  @Type(() => CancelRequestShape)
  cancelRequest?: CancelRequestShape;
  @IsOptional() @Amount() shipping?: string;
  @IsOptional() @Amount() refunded?: string;
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => OrderChargeShape)
  charges?: OrderChargeShape[];
}

function firstProblem(errors: readonly ValidationError[], path = ''): string {
  const error = errors[0]!;
  const at = path ? `${path}.${error.property}` : error.property;
  if (error.children?.length) return firstProblem(error.children, at);
  const reason = Object.values(error.constraints ?? {})[0] ?? 'is not right';
  return `${at}: ${reason}`.slice(0, 240);
}

export const SIGNED = /^-?\d{1,8}(\.\d{1,4})?$/;
const DAY = /^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/;
const Signed = () =>
  Matches(SIGNED, { message: '$property must be an amount such as "-12.50", not "$value"' });
const Day = () => Matches(DAY, { message: '$property must be a day such as "2026-11-30", not "$value"' });

class StatementShape {
  @IsString() @Length(1, 60) number: string;
  @Matches(/^[A-Z]{3}$/) currency: string;
  @Day() from: string;
  @Day() to: string;
  @Time() closedAt: string;
  @IsInt() @Min(0) @Max(1_000_000) lines: number;
  @Signed() total: string;
  @Signed() closing: string;
  @IsOptional() @Day() due?: string;
}

export class StatementsShape {
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => StatementShape)
  statements: StatementShape[];
}

const STATEMENT_KINDS = [
  'sale',
  'shipping',
  'refund',
  'sale fee',
  'listing fee',
  'advertising',
  'payment fee',
  'goods',
  'tax',
  'return',
  'charge',
  'payout',
] as const;

class StatementLineShape {
  @IsString() @Length(1, 80) id: string;
  @Day() day: string;
  @IsOptional() @IsString() @Length(1, 120) order?: string;
  @IsIn(STATEMENT_KINDS) kind: (typeof STATEMENT_KINDS)[number];
  @IsOptional() @IsString() @MaxLength(200) text?: string;
  @Signed() amount: string;
}

export class StatementPageShape {
  @IsArray()
  @ArrayMaxSize(5_000)
  @ValidateNested({ each: true })
  @Type(() => StatementLineShape)
  lines: StatementLineShape[];
  @IsOptional() @IsString() @MaxLength(80) next: string | null;
}

type Shaped<T> = { ok: true; value: T } | { ok: false; reason: string };

/** Checks plain JSON against a class; only its own fields come through. */
export function shaped<T extends object>(type: ClassConstructor<T>, plain: unknown): Shaped<T> {
  if (typeof plain !== 'object' || plain === null || Array.isArray(plain))
    return { ok: false, reason: 'is not an object' };
  const value = plainToInstance(type, plain);
  const errors = validateSync(value, { whitelist: true, stopAtFirstError: true });
  return errors.length ? { ok: false, reason: firstProblem(errors) } : { ok: true, value };
}
