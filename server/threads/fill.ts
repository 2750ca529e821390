import { plateGround, type PlateGround } from '@/core/fill/plateGround';
import { Reveal } from '@/core/fill/revealMap';
import { boundsOf } from '@/core/raster/bounds';
import { CoreError } from '@/core/error';
import { besideStroke } from '@/core/fill/beside';
import { filledInto } from '@/core/fill/filledInto';
import { groundDepth } from '@/core/fill/groundDepth';
import { HandFill } from '@/core/fill/handFill';
import { holdStrokes } from '@/core/fill/holdStrokes';
import { partGrounds } from '@/core/fill/partGrounds';
import { continueSteps } from '@/core/inpaint/continuation/continueFill';
import { firstLook } from '@/core/inpaint/continuation/firstLook';
import { fillHole } from '@/core/inpaint/fillHole';
import { offsetEdge } from '@/core/matte/edge';
import { ChoiceMaker, type Choice } from '@/core/matte/choice';
import { emptyStraight, type Mask, type Premultiplied, type Straight } from '@/core/raster/picture';
import { seeMove } from '@/core/move/moveReveal';
import { wholeScene } from '@/core/scene/sceneAt';
import { sceneOf } from '@/core/scene/sceneOf';
import { rangeOf, sourceCameraOf, type ShotDocument } from '@/core/shot/document';
import type { ShotRasters } from '@/core/shot/rasters';
import { eyePositions } from '@/core/stereo/parallax';
import { inTransaction } from '../db/orm';
import { Problem } from '../http/problem';
import { readRasterEightBits, sourceRaster } from '../media/decode';
import { storeChanged, storePicture } from '../rasters/pictures';
import { depthMap, filledPicture } from '../shots/carriedRasters';
import type { FillByMachine } from '../shots/fillActions';
import { paintedOf } from '../shots/platePixels';
import { bareRasters } from './bareRasters';
import { task } from './task';

/** Filled beyond what is uncovered, px: a preview at another size rounds its edges otherwise. */
const SEAM_ROOM = 2;
/** What lies between uncovered places so near to each other, px, is filled with them. */
const BETWEEN = 12;
/** Share of the work after which the hole is known. */
const FINDING = 0.2;
/** Share of a fill that borders take which are held. */
const STROKES = 0.4;

/**
 * Fills behind a plate by machine; several seeds give several proposals, stored as pictures of their own.
 * @throws Problem `nothing-hidden`, `nothing-revealed`; CoreError what filling throws
 */
export const fill = task<
  { readonly document: ShotDocument; readonly name: string; readonly order: FillByMachine },
  { readonly revisions: readonly string[] }
>(async ({ document, name, order }, onProgress, onLook) => {
  const rasters = await bareRasters(document);
  const bare = plateGround(rasters, order.plate);
  if (!bare?.hidden.data.some((v) => v > 0))
    throw new Problem(
      422,
      'nothing-hidden',
      `Nothing hides ${name}: no nearer plate was cut before it, so there is nothing to fill.`,
    );
  const { width, height, bits } = document.source;
  const stored = async (revision: string | null): Promise<Straight> =>
    revision === null ? emptyStraight({ width, height }, bits) : filledPicture(revision, document.source);
  const painted = paintedOf(document, order.plate);
  const hand = new HandFill(bare, { fill: await stored(painted.fill), overpaint: await stored(painted.overpaint) });
  const seeds = order.method === 'smooth' ? order.seeds.slice(0, 1) : order.seeds;
  const { source } = document;
  const camera = sourceCameraOf(document.camera, source, document.frame);
  const goesOn = order.method === 'continue';
  const depth = goesOn ? groundDepth(sceneOf(document), rasters, order.plate, camera) : undefined;
  // Beside the plate's own pixels, and where nearer plates hide it and nothing was filled in yet, nothing is told of it.
  const ignore: Mask = {
    ...bare.hidden,
    data: bare.own.data.map((v, i) => (v || (bare.hidden.data[i] && hand.fill.data[i * 4 + 3] > 0) ? 0 : 255)),
  };
  /** Shows what is filled so far, of what was asked for. */
  let shown = { revision: painted.fill, picture: hand.fill };
  const show = async (picture: Premultiplied, where: Mask): Promise<void> => {
    const rect = boundsOf(width, height, (i) => where.data[i] >= 128);
    if (!rect) return;
    const seen = filledInto(shown.picture, picture, where);
    const { id } = await inTransaction((tx) => storeChanged(tx, shown.revision, seen, rect));
    shown = { revision: id, picture: seen };
    onLook(id);
  };
  // What nothing fills yet shows at once how it will look, before it is known how much of it the views uncover.
  const { hidden } = bare;
  const empty = { ...hidden, data: hidden.data.map((v, i) => (v && hand.fill.data[i * 4 + 3] === 0 ? 255 : 0)) };
  const { area } = order;
  const looked = goesOn && (area.kind === 'hidden' || area.kind === 'reveal') && empty.data.some((v) => v > 0);
  const lookAt = async (where: Mask): Promise<void> => {
    const sampleFrom = await sampleOf(document, order, bare, where);
    try {
      const look = firstLook(hand.picture, where, { seed: seeds[0], sampleFrom, ignore });
      if (look) await show(look, where);
    } catch (error) {
      // What cannot be looked at first may still be filled: there another area counts.
      if (!(error instanceof CoreError)) throw error;
    }
  };
  if (looked) await lookAt(empty);
  const hole = await areaOf({ document, order, bare, rasters }, (share) => {
    onProgress(share * FINDING);
  });
  if (goesOn && !looked) await lookAt(hole);
  const sampleFrom = await sampleOf(document, order, bare, hole);
  const pictures: Straight[] = [];
  for (const [n, seed] of seeds.entries()) {
    const { method } = order;
    const { strokes } = painted;
    const options = { ...{ seed, sampleFrom, ignore }, ...(depth ? { depth } : {}) };
    const following = (from: number, to: number) => ({
      onProgress: (share: number): void => {
        onProgress(FINDING + ((n + from + share * (to - from)) / seeds.length) * (1 - FINDING));
      },
    });
    const first = strokes.some((s) => s.kind === 'border') ? STROKES : 0;
    const held = holdStrokes({ bare, hand, hole }, strokes, {
      method,
      options: { ...options, ...following(0, first) },
    });
    const { picture, hole: open } = held;
    let filled = picture;
    if (open.data.includes(255)) {
      const rest = {
        ...options,
        ...following(first, 1),
        ignore: { ...ignore, data: ignore.data.map((v, i) => (held.done.data[i] ? 0 : v)) },
      };
      if (area.kind === 'beside' && area.stroke.kind === 'border')
        filled = partGrounds(picture, open, area.stroke.points, { method, options: rest });
      else if (goesOn && n === 0) filled = await goOnShown(continueSteps(picture, open, rest), open, show);
      else filled = fillHole(picture, open, method, rest);
    }
    pictures.push(filledInto(hand.fill, filled, hole));
  }
  return inTransaction(async (tx) => {
    const revisions: string[] = [];
    for (const picture of pictures) revisions.push((await storePicture(tx, picture)).id);
    return { revisions };
  });
});

/** Fills region by region, and shows each when it is filled. */
async function goOnShown<P extends Premultiplied>(
  steps: Generator<{ readonly picture: P; readonly region: Mask }, P>,
  hole: Mask,
  show: (picture: P, where: Mask) => Promise<void>,
): Promise<P> {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    const { picture, region } = step.value;
    await show(picture, { ...region, data: region.data.map((v, i) => (v && hole.data[i] >= 128 ? 255 : 0)) });
  }
}

async function choiceMask(document: ShotDocument, choice: Choice): Promise<Mask> {
  const picture = await readRasterEightBits(await sourceRaster(document.source));
  return new ChoiceMaker(picture).make(choice, await depthMap(document.depth.revision, document.source));
}

interface Finding {
  readonly document: ShotDocument;
  readonly order: FillByMachine;
  readonly bare: PlateGround<Premultiplied>;
  readonly rasters: ShotRasters<Premultiplied>;
}

/** What is to be filled of what is hidden. */
async function areaOf(
  { document, order: { area, plate }, bare: { hidden }, rasters }: Finding,
  onProgress: (share: number) => void,
): Promise<Mask> {
  if (area.kind === 'hidden') return hidden;
  if (area.kind === 'beside') {
    const { kind, points, reach, width } = area.stroke;
    const near = besideStroke(hidden, points, kind === 'line' ? reach + width / 2 : reach);
    const drawn = kind === 'line' ? besideStroke(hidden, points, width / 2) : undefined;
    const data = hidden.data.map((v, i) => (v && near.data[i] && !drawn?.data[i] ? 255 : 0));
    if (data.some((v) => v > 0)) return { ...hidden, data };
    throw new Problem(
      422,
      'nothing-hidden',
      'The stroke comes near nothing that nearer plates hide, so there is nothing to fill.',
    );
  }
  let mask: Mask | undefined;
  if (area.kind === 'reveal') {
    const reveal = new Reveal(sceneOf(document), rasters, 1);
    const { move } = document;
    const moved = area.byMove && move ? { scene: wholeScene(document), move, ...rangeOf(move) } : undefined;
    for (const share of reveal.see(eyePositions(area.views))) onProgress(moved ? share / 2 : share);
    if (moved) for (const share of seeMove(reveal, moved, rasters, 1)) onProgress((1 + share) / 2);
    const found = reveal.found(area.marginPx + SEAM_ROOM).find((r) => r.id === plate)?.mask;
    // Slivers that lie between are filled too: at another size something else of them is uncovered.
    mask = found && offsetEdge(offsetEdge(found, BETWEEN), -BETWEEN);
  } else mask = await choiceMask(document, area.choice);
  const within: Mask = { ...hidden, data: hidden.data.map((v, i) => (v && mask && mask.data[i] >= 128 ? 255 : 0)) };
  if (within.data.some((v) => v > 0)) return within;
  throw area.kind === 'reveal'
    ? new Problem(
        422,
        'nothing-revealed',
        area.byMove && document.move
          ? 'No view and no frame of the move uncovers anything of it, so there is nothing to fill.'
          : 'No view uncovers anything of it at this budget, so there is nothing to fill.',
      )
    : new Problem(
        422,
        'nothing-hidden',
        'The choice holds nothing that nearer plates hide, so there is nothing to fill.',
      );
}

/** Where samples may be taken: the plate's own pixels, never those of nearer plates. */
async function sampleOf(
  document: ShotDocument,
  { sample }: FillByMachine,
  { own: itsPixels }: PlateGround<Premultiplied>,
  hole: Mask,
): Promise<Mask> {
  if (sample.kind === 'everywhere') return itsPixels;
  if (sample.kind === 'choice') {
    const chosen = await choiceMask(document, sample.choice);
    return { ...itsPixels, data: itsPixels.data.map((v, i) => (v && chosen.data[i] >= 128 ? 255 : 0)) };
  }
  const { width, height } = hole;
  const middle = middleOf(hole);
  const sides = {
    left: (x: number) => x < middle.x,
    right: (x: number) => x > middle.x,
    above: (_x: number, y: number) => y < middle.y,
    below: (_x: number, y: number) => y > middle.y,
  };
  const onSide = sides[sample.kind];
  const data = itsPixels.data.map((v, i) => (v && onSide(i % width, Math.floor(i / width)) ? 255 : 0));
  return { width, height, data };
}

function middleOf({ width, data }: Mask): { x: number; y: number } {
  let x = 0;
  let y = 0;
  let n = 0;
  for (let i = 0; i < data.length; i++) {
    if (!data[i]) continue;
    x += i % width;
    y += Math.floor(i / width);
    n++;
  }
  return { x: x / n, y: y / n };
}
