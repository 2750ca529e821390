import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import { isCarriedPlate } from './isCarriedPlate';
import { keysAround } from './keysAround';
import type { DepthKeyPart, Plate, PlateKey, ShotDocument } from './document';

// What is carried from keys to other frames is called by what it comes from: another key, another name, and what lies
// under a name never changes.

type NamedKey = Pick<DepthKeyPart, 'frame' | 'revision'>;
type NamedPlateKey = Pick<PlateKey, 'frame' | 'matte'> & { readonly depth: Pick<PlateKey['depth'], 'revision'> };

/** What a frame's depth is carried from: its keys, and the plates that go before it by themselves. */
export interface DepthCarried {
  readonly keys: readonly NamedKey[];
  readonly plates: readonly { readonly piece?: Plate['piece']; readonly keys: readonly NamedPlateKey[] }[];
}

/** What the depth of a film is carried from. */
export const depthFrom = (document: Pick<ShotDocument, 'footage' | 'plates'>): DepthCarried => ({
  keys: document.footage!.keys,
  plates: document.plates,
});

/** A frame's carried depth: by the frame, and by what it is carried from. */
export function carriedName(mediaId: string, from: DepthCarried, moment: number): string {
  const { before, after } = keysAround(from, moment);
  const side = (key: NamedKey | undefined): string => (key ? `${key.frame}-${key.revision}` : 'none');
  return `carried_${mediaId}_${side(before)}_${side(after)}${platesOf(from.plates)}_${moment}`;
}

const cutNames = new WeakMap<DepthCarried['plates'], string>();

/** Where plates lie, as a part of a name; empty where none was cut. */
function platesOf(plates: DepthCarried['plates']): string {
  const known = cutNames.get(plates);
  if (known !== undefined) return known;
  const cut = plates.filter(({ piece, keys }) => !piece && keys.length > 0);
  const says = cut.map(({ keys }) => keys.map(({ frame, matte }) => [frame, matte]));
  const made = cut.length > 0 ? `_${hashOf(says)}` : '';
  cutNames.set(plates, made);
  return made;
}

/** A plate's carried matte and depth at a frame. */
export function plateName(mediaId: string, plate: { readonly keys: readonly NamedPlateKey[] }, moment: number): string {
  const { before, after } = keysAround(plate, moment);
  const side = (key: NamedPlateKey | undefined): string =>
    key ? `${key.frame}-${key.matte ?? 'gone'}-${key.depth.revision ?? 'none'}` : 'none';
  return `plate_${mediaId}_${side(before)}_${side(after)}_${moment}`;
}

/** What decides what lies behind the plates of a film: all its keys, and how far holes are pushed out. */
type BehindParts = Pick<ShotDocument, 'source' | 'footage' | 'plates' | 'holePx'>;

const hashes = new WeakMap<BehindParts, BehindHashes>();

/** What lies behind plates in the frames of a film is called by everything that says what is seen where. */
export interface BehindHashes {
  /** Of its depth. */
  readonly depth: string;
  /** Of its colours: what was filled by hand has a say, too. */
  readonly colours: string;
}

export function behindHashes(document: BehindParts): BehindHashes {
  const known = hashes.get(document);
  if (known) return known;
  const { footage, plates, holePx } = document;
  const seen = [
    holePx,
    footage?.keys.map(({ frame, revision }) => [frame, revision]),
    hidingPlates(plates).map(({ keys }) => keys.map(({ frame, matte, depth }) => [frame, matte, depth.revision])),
  ];
  const fills = footage?.fills.map(({ frame, fill }) => [frame, fill]);
  const made = { depth: hashOf(seen), colours: hashOf([seen, fills]) };
  hashes.set(document, made);
  return made;
}

const hashOf = (says: unknown): string => bytesToHex(sha256(utf8ToBytes(JSON.stringify(says)))).slice(0, 40);

/** Plates that were cut from a film: they are carried, and hide what lies behind them, also while they are not shown. */
export const hidingPlates = (plates: readonly Plate[]): Plate[] => plates.filter(isCarriedPlate);

/** The depth of what lies behind the plates at a frame. */
export const behindName = (mediaId: string, hash: string, moment: number): string =>
  `behind_${mediaId}_${hash}_${moment}`;

/** Its colours. */
export const filledName = (mediaId: string, hash: string, moment: number): string =>
  `filled_${mediaId}_${hash}_${moment}`;

/** True for the name of something that is carried, not made at its frame. */
export const isCarriedName = (name: string | null): name is string =>
  name !== null && /^(carried|plate|behind|filled)_/.test(name);

/** The frame that a carried name is of. */
export const momentOfName = (name: string): number => Number(name.slice(name.lastIndexOf('_') + 1));
