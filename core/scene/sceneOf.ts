import { holePush } from '../shot/plates';
import { farToNear, type Piece, type Plate, type ShotDocument } from '../shot/document';
import type { Budget, SourceEye } from '../stereo/parallax';

/** A depth span: which depths of the ruler a map is stretched over, 0 farthest to 1 nearest. */
export interface Span {
  readonly near: number;
  readonly far: number;
}

/** One surface of a scene: the span of its map, and how it tears. */
export interface Surface extends Span {
  /** Parallax jump beyond which it tears, px at the source's width. */
  readonly tearPx: number;
  /** How softly torn edges fade, px at the source's width. */
  readonly tearSoftPx: number;
}

/** A plate of a scene. */
export interface ScenePlate extends Surface {
  readonly id: string;
  readonly hidden: boolean;
  /** Where a brought-in piece lies and how its colours are matched; null where the colours come from the source. */
  readonly piece: Pick<Piece, 'placement' | 'match'> | null;
}

/** The plain numbers that a view of a shot needs, at one moment. Pixels lie in rasters of their own. */
export interface SceneFrame {
  /** Says the same for scenes of the same numbers, and for no others: what is made of a scene is kept under it. */
  readonly version: string;
  /** The same for what decides how plates are laid out: their order, their pieces' places, how far holes are pushed out. */
  readonly layout: string;
  /** The source's width, px: parallax is told in px of it. */
  readonly width: number;
  readonly budget: Budget;
  readonly sourceEye: SourceEye;
  readonly swapEyes: boolean;
  /** Whether px beside a jump of depth are parted into front and behind. */
  readonly partEdges: boolean;
  /** How far lifted plates' holes are pushed out, px at the source's width. */
  readonly holePx: number;
  readonly back: Surface;
  /** Plates that have a matte, from far to near. */
  readonly plates: readonly ScenePlate[];
}

type OptionalTears = { readonly tearPx?: number | null; readonly tearSoftPx?: number | null };

/** The parts of a document that decide how its views look. */
export type ScenePart = Pick<ShotDocument, 'budget' | 'sourceEye' | 'swapEyes' | 'tearPx'> & {
  readonly depth: Span;
  readonly source: Pick<ShotDocument['source'], 'width'>;
  readonly tearSoftPx?: number;
  readonly partEdges?: boolean;
  readonly holePx?: number | null;
  readonly plates: readonly (Pick<Plate, 'id' | 'matte' | 'hidden'> &
    OptionalTears & { readonly depth: Span; readonly piece?: Plate['piece'] })[];
};

const known = new WeakMap<ScenePart, SceneFrame>();

/** The scene of a document. Documents do not change, so that each is read once. */
export function sceneOf(document: ScenePart): SceneFrame {
  const before = known.get(document);
  if (before) return before;
  const { budget, sourceEye, swapEyes, tearPx, tearSoftPx = 0, partEdges = true, holePx, depth, source } = document;
  const plates = farToNear(document.plates.filter((p) => p.matte !== null)).map((plate): ScenePlate => ({
    id: plate.id,
    hidden: plate.hidden,
    near: plate.depth.near,
    far: plate.depth.far,
    tearPx: plate.tearPx ?? tearPx,
    tearSoftPx: plate.tearSoftPx ?? tearSoftPx,
    piece: plate.piece ? { placement: plate.piece.placement, match: plate.piece.match } : null,
  }));
  const numbers = {
    width: source.width,
    budget,
    sourceEye,
    swapEyes,
    partEdges,
    holePx: holePx ?? holePush(source.width),
    back: { near: depth.near, far: depth.far, tearPx, tearSoftPx },
    plates,
  };
  const layout = versionOf([numbers.holePx, plates.map(({ id, piece }) => [id, piece])]);
  const scene: SceneFrame = { ...numbers, version: versionOf(numbers), layout };
  known.set(document, scene);
  return scene;
}

/** The plates that are drawn, farthest first. */
export function drawnOf({ plates }: Pick<SceneFrame, 'plates'>): ScenePlate[] {
  return plates.filter((p) => !p.hidden);
}

/** The same scene with other plates. */
export function withPlates(scene: SceneFrame, plates: readonly ScenePlate[]): SceneFrame {
  const changed = { ...scene, plates };
  const layout = versionOf([scene.holePx, plates.map(({ id, piece }) => [id, piece])]);
  return { ...changed, layout, version: versionOf([scene.version, plates]) };
}

/** A short name of some numbers (53 bits of a multiplicative hash): the same wherever they are the same. */
function versionOf(numbers: unknown): string {
  const text = JSON.stringify(numbers);
  let a = 0xdeadbeef;
  let b = 0x41c6ce57;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 2654435761);
    b = Math.imul(b ^ c, 1597334677);
  }
  a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
  b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
  return (4294967296 * (2097151 & b) + (a >>> 0)).toString(36);
}
