'use client';

import { Button, InputNumber, Select } from 'antd';
import type { Recipe, Recipes } from '@/core/recipes';
import { useRoom, useRoomStore } from '../../../room/context';

const FORMATS = [
  { value: 'png', label: 'PNG, 8 bit' },
  { value: 'png16', label: 'PNG, 16 bit' },
  { value: 'tiff', label: 'TIFF' },
  { value: 'jpeg', label: 'JPEG' },
] as const;

/** A recipe's values and how to change one of them. */
export function useRecipe<K extends keyof Recipes>(
  kind: K,
): [Recipes[K], (part: Partial<Recipes[K]>, label: string) => void] {
  const room = useRoomStore().getState();
  const recipe = useRoom((s) => s.document.recipes[kind]);
  return [
    recipe,
    (part, label) => {
      room.change(label, { recipes: { [kind]: { ...recipe, ...part } } });
    },
  ];
}

/** Has a recipe rendered as it stands. */
export function RenderButton({ recipe, problem, children }: { recipe: Recipe; problem?: string; children: string }) {
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

/** How pictures are stored. */
export function Format({
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
