'use client';

import { Button, InputNumber, Select } from 'antd';
import { planSheet } from '@/core/lenticular/pitch';
import { CoreError } from '@/core/error';
import { handedSize, type Recipe, type ShotDocument } from '@/core/shot/document';
import { parallaxMm } from '@/core/stereo/units';
import { figure } from '../../numbers';
import { Choice } from '../../parts/Choice';
import type { WayOfWorking } from '../../parts/Ways';
import { SwitchRow } from '../../parts/SwitchRow';
import { useRoom, useRoomStore } from '../../room/context';

type Recipes = ShotDocument['recipes'];
const FORMATS = [
  { value: 'png', label: 'PNG, 8 bit' },
  { value: 'png16', label: 'PNG, 16 bit' },
  { value: 'tiff', label: 'TIFF' },
  { value: 'jpeg', label: 'JPEG' },
] as const;
const PACKINGS = [
  { value: 'left-and-right', label: 'Left and right, two files' },
  { value: 'side-by-side', label: 'Side by side' },
  { value: 'red-cyan-least-squares', label: 'Red-cyan, least squares' },
  { value: 'red-cyan-half-colour', label: 'Red-cyan, half colour' },
  { value: 'red-cyan-grey', label: 'Red-cyan, grey' },
  { value: 'red-cyan-colour', label: 'Red-cyan, full colour' },
] as const;

export const WAYS: readonly WayOfWorking[] = [
  { key: 'pair', name: 'Left and right', does: 'pair, side by side, anaglyph', Way: Pair },
  { key: 'views', name: 'Views', does: 'numbered stills', Way: Views },
  { key: 'sheet', name: 'Lenticular sheet', does: 'interlaced for a lens sheet', Way: Sheet },
];

/** What to hand over, one recipe each. */
export function Head() {
  return (
    <div className="ct-stage-head">
      <h1>Output</h1>
      <p>Rendered at full size by a render worker. The picture stays workable meanwhile.</p>
    </div>
  );
}

/** A recipe's values and how to change one of them. */
function useRecipe<K extends keyof Recipes>(kind: K): [Recipes[K], (part: Partial<Recipes[K]>, label: string) => void] {
  const room = useRoomStore().getState();
  const recipe = useRoom((s) => s.document.recipes[kind]);
  return [
    recipe,
    (part, label) => {
      room.change(label, { recipes: { [kind]: { ...recipe, ...part } } });
    },
  ];
}

function RenderButton({ recipe, problem, children }: { recipe: Recipe; problem?: string; children: string }) {
  const room = useRoomStore().getState();
  const storing = useRoom((s) => s.storing);
  return (
    <Button
      type="primary"
      block
      disabled={problem !== undefined || storing !== 'stored'}
      onClick={() => {
        void room.render(recipe);
      }}
    >
      {children}
    </Button>
  );
}

function Format({
  recipe,
  change,
}: {
  recipe: Recipes['pair'] | Recipes['views'];
  change(part: { format?: Recipes['pair']['format']; quality?: number }, label: string): void;
}) {
  return (
    <>
      <div className="ct-field">
        <label htmlFor="out-format">File</label>
        <Select
          id="out-format"
          value={recipe.format}
          options={[...FORMATS]}
          onChange={(format) => {
            change({ format }, 'File format');
          }}
        />
      </div>
      {recipe.format === 'jpeg' && (
        <div className="ct-field">
          <label htmlFor="out-quality">Quality</label>
          <InputNumber
            id="out-quality"
            value={recipe.quality}
            min={50}
            max={100}
            controls={false}
            suffix="of 100"
            onChange={(v) => {
              if (v !== null) change({ quality: v }, 'JPEG quality');
            }}
          />
        </div>
      )}
    </>
  );
}

function Pair() {
  const [recipe, change] = useRecipe('pair');
  const { width, height } = useRoom((s) => handedSize(s.document));
  return (
    <>
      <div className="ct-field ct-field-wide">
        <label htmlFor="out-packing">As</label>
        <Select
          id="out-packing"
          value={recipe.packing}
          options={[...PACKINGS]}
          onChange={(packing) => {
            change({ packing }, 'Packing');
          }}
        />
      </div>
      <Format recipe={recipe} change={change} />
      <p className="ct-hint">
        {recipe.packing === 'side-by-side'
          ? `${figure(width * 2)} × ${figure(height)} px`
          : `${figure(width)} × ${figure(height)} px`}
        , colours in sRGB.
      </p>
      <RenderButton recipe={recipe}>
        {recipe.packing === 'left-and-right' ? 'Render left and right' : 'Render'}
      </RenderButton>
    </>
  );
}

function Views() {
  const [recipe, change] = useRecipe('views');
  return (
    <>
      <div className="ct-field">
        <label htmlFor="out-views">Views</label>
        <InputNumber
          id="out-views"
          value={recipe.views}
          min={3}
          max={200}
          precision={0}
          controls={false}
          onChange={(v) => {
            if (v !== null) change({ views: v }, `${v} views`);
          }}
        />
      </div>
      <Format recipe={recipe} change={change} />
      <p className="ct-hint">
        view_001 is the leftmost eye, view_{String(recipe.views).padStart(3, '0')} the rightmost.
      </p>
      <RenderButton recipe={recipe}>{`Render ${recipe.views} views`}</RenderButton>
    </>
  );
}

function Sheet() {
  const [recipe, change] = useRecipe('sheet');
  const document = useRoom((s) => s.document);
  const { budget } = document;
  const size = handedSize(document);
  let plan: ReturnType<typeof planSheet> | undefined;
  let problem: string | undefined;
  try {
    plan = planSheet({ ...recipe, viewWidth: size.width, viewHeight: size.height });
    if (recipe.views > plan.columnsPerLens * 4)
      problem = `${recipe.views} views cannot be told apart in ${plan.columnsPerLens.toFixed(2)} columns.`;
  } catch (error) {
    problem = error instanceof CoreError ? error.message : String(error);
  }
  const field = (
    label: string,
    unit: string,
    key: 'widthMm' | 'dpi' | 'lpi' | 'views',
    { min, max, decimals }: { readonly min: number; readonly max: number; readonly decimals: number },
  ) => (
    <div className="ct-field">
      <label htmlFor={`sheet-${key}`}>{label}</label>
      <InputNumber
        id={`sheet-${key}`}
        value={recipe[key]}
        min={min}
        max={max}
        controls={false}
        suffix={unit}
        precision={decimals === 0 ? 0 : undefined}
        onChange={(v) => {
          if (v !== null) change({ [key]: v }, label);
        }}
      />
    </div>
  );
  // Between neighbouring views the parallax of the deepest thing should step by about one lens at most.
  const depthMm = parallaxMm(Math.max(Math.abs(budget.nearPx), Math.abs(budget.farPx)), size.width, {
    ...document.viewing,
    widthMm: recipe.widthMm,
  });
  const stepLenses = plan ? (depthMm / (recipe.views - 1) / 25.4) * recipe.lpi : 0;
  return (
    <>
      {field('Width', 'mm', 'widthMm', { min: 5, max: 2000, decimals: 1 })}
      {field('Printer', 'dpi', 'dpi', { min: 50, max: 5760, decimals: 0 })}
      {field('Lens pitch', 'lpi', 'lpi', { min: 5, max: 400, decimals: 3 })}
      {field('Views per lens', 'views', 'views', { min: 2, max: 200, decimals: 0 })}
      <SwitchRow
        label="Swap views under the lens"
        checked={recipe.lensSwap}
        onChange={(v) => {
          change({ lensSwap: v }, 'Order under the lens');
        }}
      >
        Swap views under the lens
      </SwitchRow>
      <Choice
        label="File"
        value={recipe.format}
        onChange={(format) => {
          change({ format }, 'Sheet file');
        }}
        options={[
          { value: 'tiff', label: 'TIFF' },
          { value: 'png', label: 'PNG' },
        ]}
      />
      {plan && (
        <dl className="ct-facts">
          <div>
            <dt>Columns per lens</dt>
            <dd>{figure(plan.columnsPerLens, 3)}</dd>
          </div>
          <div>
            <dt>Lenses across</dt>
            <dd>{figure(plan.lenses, 1)}</dd>
          </div>
          <div>
            <dt>Print file</dt>
            <dd>
              {figure(plan.columns)} × {figure(plan.rows)} <span>px</span>
            </dd>
          </div>
          <div>
            <dt>Step per view</dt>
            <dd className={stepLenses > 1.05 ? 'ct-warn' : ''}>
              {figure(stepLenses, 2)} <span>lens</span>
            </dd>
          </div>
        </dl>
      )}
      {problem !== undefined && (
        <p className="ct-hint ct-warn" role="alert">
          <b>{problem}</b>
        </p>
      )}
      {problem === undefined && plan && recipe.views > plan.columnsPerLens && (
        <p className="ct-hint ct-warn">
          <b>More views than columns.</b> {figure(plan.columnsPerLens, 2)} columns lie under each lens; views beyond
          that share them.
        </p>
      )}
      <RenderButton recipe={recipe} problem={problem}>
        Render sheet
      </RenderButton>
    </>
  );
}
