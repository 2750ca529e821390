import { z } from 'zod';
import { CoreError } from '../error';
import type { Size } from '../kind';
import { ANAGLYPHS } from '../packing/anaglyph';
import { PackedPair } from '../packing/packedPair';
import type { Straight } from '../raster/picture';
import { VIDEO_FORMATS, maker } from './recipe';

const ONE_EYE = ['centre', 'left', 'right'] as const;
export const PACKINGS = [...ONE_EYE, 'side-by-side', 'over-under', ...ANAGLYPHS] as const;
export type VideoPacking = (typeof PACKINGS)[number];

const NAMES: Record<VideoPacking, string> = {
  centre: 'Video',
  left: 'Video, left eye',
  right: 'Video, right eye',
  'side-by-side': 'Video, side by side',
  'over-under': 'Video, over-under',
  'red-cyan-least-squares': 'Video, anaglyph',
  'red-cyan-grey': 'Video, grey anaglyph',
  'red-cyan-half-colour': 'Video, half colour anaglyph',
  'red-cyan-colour': 'Video, full colour anaglyph',
};

/** Sizes that occur often; px of one eye. */
export const VIDEO_SIZES = {
  '1080p': { width: 1920, height: 1080 },
  '4k': { width: 3840, height: 2160 },
  square: { width: 1080, height: 1080 },
  upright: { width: 1080, height: 1920 },
} as const;
const SIZES = ['source', '1080p', '4k', 'square', 'upright', 'custom'] as const;

const EYES = { centre: null, left: -0.5, right: 0.5 } as const;

const isOneEye = (packing: VideoPacking): packing is (typeof ONE_EYE)[number] =>
  (ONE_EYE as readonly string[]).includes(packing);

/** What an eye sees of a frame, null from the middle; the next view may be drawn into the same room. */
type See = (eye: number | null) => Straight | Promise<Straight>;

/** Makes frames of one eye or packed, each in the room of the one before it. */
export function framePacker(packing: VideoPacking): (see: See) => Promise<Straight> {
  if (isOneEye(packing)) return async (see) => see(EYES[packing]);
  const pair = new PackedPair(packing);
  return async (see) => {
    pair.left(await see(-0.5));
    return pair.right(await see(0.5));
  };
}

/** Whether frames may stay luma and colour differences: anaglyphs mix red, green and blue, and pictures hold them. */
export const keepsColours = ({
  packing,
  format,
}: {
  readonly packing: VideoPacking;
  readonly format: string;
}): boolean =>
  (isOneEye(packing) || packing === 'side-by-side' || packing === 'over-under') &&
  (format === 'mp4' || format === 'webm');

const side = z.number().int().min(16).max(8192);

interface Sized {
  readonly size: (typeof SIZES)[number];
  readonly custom: Size;
}

/** The size of one eye's frames: even sides, as videos need them. */
export function eyeSize({ size, custom }: Sized, handed: Size): Size {
  const { width, height } = { ...VIDEO_SIZES, source: handed, custom }[size];
  return { width: Math.max(2, width - (width % 2)), height: Math.max(2, height - (height % 2)) };
}

/** The move, or footage, as a video, in one eye or packed. */
export const video = maker({
  kind: 'video',
  schema: z.strictObject({
    kind: z.literal('video'),
    packing: z.enum(PACKINGS),
    format: z.enum([...VIDEO_FORMATS, 'png']),
    size: z.enum(SIZES),
    custom: z.strictObject({ width: side, height: side }),
    /** 0 smallest file to 100 best picture. */
    quality: z.number().int().min(0).max(100),
    /** How long the shutter is open, degrees of a frame's time; 0: nothing is blurred. */
    shutter: z.number().min(0).max(360),
  }),
  begin: {
    kind: 'video',
    packing: 'centre',
    format: 'mp4',
    size: '1080p',
    custom: { width: 1280, height: 720 },
    quality: 80,
    shutter: 0,
  },
  label: ({ packing, format }) => `${NAMES[packing]} (${format === 'png' ? 'PNG frames' : format})`,
  size: (recipe, handed) => {
    const { width, height } = eyeSize(recipe, handed);
    if (recipe.packing === 'side-by-side') return { width: width * 2, height };
    return recipe.packing === 'over-under' ? { width, height: height * 2 } : { width, height };
  },
  steps: () => [],
  moves: true,
  async run(recipe, shop) {
    const { packing, format, quality, shutter } = recipe;
    if (!shop.move) throw new CoreError('no-move', 'Nothing moves in this shot. Make a move in its Move stage first.');
    const { first, last, fps, stem } = shop.move;
    const size = eyeSize(recipe, shop.handed);
    const pack = framePacker(packing);
    const colours = keepsColours({ packing, format }) ? await shop.movedColours() : 'rgb';
    await shop.video(
      {
        stem: `${stem}-${packing}`,
        format,
        quality,
        fps,
        frames: last - first + 1,
        ...this.size(recipe, shop.handed),
        packing,
        colours,
      },
      (n) => pack((eye) => shop.moved(first + n, eye, { size, shutter, colours })),
    );
  },
});
