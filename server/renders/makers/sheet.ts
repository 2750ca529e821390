import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { CoreError } from '@/core/error';
import type { Size } from '@/core/kind';
import { planSheet, type SheetPlan } from '@/core/lenticular/pitch';
import { recipeSchema, type Recipe } from '@/core/shot/document';
import { eyePositions } from '@/core/stereo/parallax';
import { viewSizeInSheet, writeSheet, writeViewRows } from '../../media/sheetFile';
import { EXTENSIONS, MIMES } from '../../media/writePicture';
import type { Maker } from './maker';

type SheetRecipe = Extract<Recipe, { kind: 'sheet' }>;
type Lens = Omit<SheetRecipe, 'kind' | 'format'>;

/** A sheet for views of this size, and the size at which they go into it. @throws CoreError what planSheet throws */
export function planFor(lens: Lens, handed: Size): { readonly plan: SheetPlan; readonly viewSize: Size } {
  const whole = planSheet({ ...lens, viewWidth: handed.width, viewHeight: handed.height });
  const viewSize = viewSizeInSheet(handed, whole.columns);
  return { viewSize, plan: planSheet({ ...lens, viewWidth: viewSize.width, viewHeight: viewSize.height }) };
}

/** What a sheet is interlaced of, and where it goes. */
export interface Interlacing {
  /** Each view in its turn, leftmost eye first. */
  view(n: number): Sharp | Promise<Sharp>;
  readonly format: 'tiff' | 'png';
  readonly out: string;
  /** A folder for what is needed on the way. */
  readonly dir: string;
  /** @default tells nobody */
  report?(share: number, step: string): Promise<void>;
}

/** Share of the work that rendering takes. */
const RENDERING = 0.7;
const INTERLACING = 0.2;

/** Unpacks the views one after another and interlaces them by rows, so that memory stays small however many there are. */
export async function interlaceSheet(lens: Lens, handed: Size, interlacing: Interlacing): Promise<void> {
  const { plan, viewSize } = planFor(lens, handed);
  const { view, format, out, dir, report } = interlacing;
  const paths: string[] = [];
  for (let n = 0; n < lens.views; n++) {
    await report?.((RENDERING * n) / lens.views, `Rendering view ${n + 1} of ${lens.views}`);
    const path = join(dir, `view_${n}.v`);
    await writeViewRows(await view(n), viewSize, path);
    paths.push(path);
  }
  await writeSheet(plan, paths, {
    out,
    format,
    pause: (share) => report?.(RENDERING + INTERLACING * share, 'Interlacing the sheet'),
  });
}

/** A lenticular print. */
export const sheet: Maker<SheetRecipe> = {
  kind: 'sheet',
  schema: recipeSchema.options[2],
  size(recipe, handed) {
    const { plan } = planFor(recipe, handed);
    const most = Math.floor(plan.columnsPerLens * 4);
    if (recipe.views > plan.columnsPerLens * 4)
      throw new CoreError(
        'bad-sheet',
        `${recipe.views} views cannot be told apart in ${plan.columnsPerLens.toFixed(2)} columns under each lens. Use at most ${most}, better ${Math.floor(plan.columnsPerLens)}.`,
      );
    return { width: plan.columns, height: plan.rows };
  },
  steps: (recipe) => eyePositions(recipe.views),
  async run(recipe, shop) {
    const { format } = recipe;
    const name = `sheet-${recipe.widthMm}mm-${recipe.lpi}lpi-${recipe.dpi}dpi.${EXTENSIONS[format]}`;
    const eyes = eyePositions(recipe.views);
    await shop.file(name, MIMES[format], async (out, dir) => {
      const view = (n: number): Sharp => {
        const { width, height, data } = shop.view(eyes[n]);
        return sharp(data as Uint8Array, { raw: { width, height, channels: 4 }, limitInputPixels: false });
      };
      await interlaceSheet(recipe, shop.handed, { view, format, out, dir, report: shop.report });
    });
  },
};
