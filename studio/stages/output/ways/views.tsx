'use client';

import { InputNumber } from 'antd';
import type { WayOfWorking } from '../../../parts/Ways';
import { Format, RenderButton, useRecipe } from './form';

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

export const views: WayOfWorking = { key: 'views', name: 'Views', does: 'numbered stills', Way: Views };
