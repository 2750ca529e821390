'use client';

import { InputNumber } from 'antd';
import { CoreError } from '@/core/error';
import { planSheet } from '@/core/lenticular/pitch';
import { handedSize } from '@/core/shot/document';
import { parallaxMm } from '@/core/stereo/units';
import { figure } from '../../../numbers';
import { Choice } from '../../../parts/Choice';
import { SwitchRow } from '../../../parts/SwitchRow';
import type { WayOfWorking } from '../../../parts/Ways';
import { useRoom } from '../../../room/context';
import { RenderButton, useRecipe } from './form';

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

export const sheet: WayOfWorking = {
  key: 'sheet',
  name: 'Lenticular sheet',
  does: 'interlaced for a lens sheet',
  Way: Sheet,
};
