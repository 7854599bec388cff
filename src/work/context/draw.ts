import type { Face, FindPlaces, SkyChart } from '../../core/personal';
import type { Field, Look, Natural, Part, Placement, Scene } from '../../core/print';
import type { DesignNote } from '../../store';

/** A design as it was opened: what is known of it, and small pictures of it. */
export interface OpenedDesign {
  readonly type: string;
  /** Upright. */
  readonly width: number;
  readonly height: number;
  readonly drawing: boolean;
  readonly dpi: number | null;
  readonly notes: readonly DesignNote[];
  readonly look: Look;
  readonly small: Blob;
  readonly large: Blob;
}

export type DesignRead =
  | ({ readonly ok: true } & OpenedDesign)
  | { readonly ok: false; readonly reason: string };

/** A layer of an area, with the file that is drawn. */
export interface LayerJob {
  /** By which it is opened once for several jobs. */
  readonly key: string;
  readonly file: Blob;
  readonly drawing: boolean;
  readonly part: Part;
  /** The size of the part. */
  readonly natural: Natural;
  readonly placement: Placement;
}

/** A printed area that is to be drawn. */
export interface AreaJob {
  readonly field: Field;
  readonly background: string | null;
  readonly layers: readonly LayerJob[];
}

/** A picture of printed goods that is to be made. */
export interface MockUpJob {
  readonly scene: Scene;
  /** Of the blank, `#rrggbb`. */
  readonly colour: string;
  readonly areas: Readonly<Record<string, AreaJob>>;
}

/** Packing slips in one PDF. */
export interface SlipsDrawn {
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly slips: number;
  /** Orders with letters that no shipped font has. */
  readonly lacking: readonly { readonly number: string; readonly letters: readonly string[] }[];
}

/** A proof on a sheet of paper. */
export interface ProofOnPaper {
  /** A JPEG. */
  readonly picture: Blob;
  readonly number: string;
  readonly units: number;
  readonly words: string;
}

/** What setting a buyer's words needs besides them. */
export interface LetteringKit {
  /** Null where a font is not shipped, or was not asked for. */
  readonly face: (font: string) => Face | null;
  readonly places: FindPlaces;
  readonly chart: SkyChart;
}

/** Draws designs; in the browser in workers. */
export interface Draw {
  /** Opens a file that should be a design. A reason where it cannot be one; what is in it is never run or fetched. */
  readonly openDesign: (file: Blob, name: string) => Promise<DesignRead>;
  /** The PNG that the maker gets, with its resolution in it. The same job gives the same bytes. */
  readonly printFile: (area: AreaJob) => Promise<Blob>;
  /** An area on the colour of its blank, as a picture so many pixels long. @returns a JPEG */
  readonly areaPicture: (area: AreaJob, ground: string, longest: number) => Promise<Blob>;
  /** Proofs in one PDF; null where it was stopped. @param goesOn told how many are done; ends it where it says no */
  readonly proofsPdf?: (
    proofs: readonly ProofOnPaper[],
    goesOn: (done: number) => boolean | Promise<boolean>,
  ) => Promise<Blob | null>;
  /** What words are set with in some fonts. @param places whether places and their skies are needed, too */
  readonly lettering: (fonts: readonly string[], places: boolean) => Promise<LetteringKit>;
  /** The scenes that pictures are made in. */
  readonly scenes: () => Promise<readonly Scene[]>;
  /** @returns a JPEG of the scene's size */
  readonly mockUp: (job: MockUpJob) => Promise<Blob>;
}
