'use client';

import { Select } from 'antd';
import { makerOf } from '@/core/recipes';
import { handedSize } from '@/core/shot/document';
import { figure } from '../../../numbers';
import type { WayOfWorking } from '../../../parts/Ways';
import { useRoom } from '../../../room/context';
import { Format, RenderButton, useRecipe } from './form';

const PACKINGS = [
  { value: 'left-and-right', label: 'Left and right, two files' },
  { value: 'side-by-side', label: 'Side by side' },
  { value: 'red-cyan-least-squares', label: 'Red-cyan, least squares' },
  { value: 'red-cyan-half-colour', label: 'Red-cyan, half colour' },
  { value: 'red-cyan-grey', label: 'Red-cyan, grey' },
  { value: 'red-cyan-colour', label: 'Red-cyan, full colour' },
] as const;

function Pair() {
  const [recipe, change] = useRecipe('pair');
  const handed = useRoom((s) => handedSize(s.document));
  const { width, height } = makerOf(recipe).size(recipe, handed);
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
        {figure(width)} × {figure(height)} px, colours in sRGB.
      </p>
      <RenderButton recipe={recipe}>
        {recipe.packing === 'left-and-right' ? 'Render left and right' : 'Render'}
      </RenderButton>
    </>
  );
}

export const pair: WayOfWorking = {
  key: 'pair',
  name: 'Left and right',
  does: 'pair, side by side, anaglyph',
  Way: Pair,
};
