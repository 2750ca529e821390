import type { Check } from '@/compute/draw/ground';
import type { Grain } from '@/compute/cutting';
import { PLAIN_EDGE, type Choice } from '@/core/matte/choice';
import type { WayToCombine } from '@/core/matte/combine';
import type { Ingredient } from '@/core/matte/ingredients';
import { api, type PlateAction } from '../../api';
import { sliceHooks } from '../../room/context';
import { NO_CHOICE, partOf, type SliceRoom } from '../../room/core';

/** What choosing and cutting know. */
export interface CutSlice {
  /** How the next ingredient joins the choice. */
  joining: WayToCombine;
  /** Which ingredient of the choice is changed; undefined: the last. */
  editing: number | undefined;
  /** The choice leaves to other plates what they hold. */
  spare: boolean;
  /** What an outline is drawn as. */
  outlineShape: 'corners' | 'curve' | 'rectangle' | 'ellipse';
  flood: { tolerance: number; reach: number; connected: boolean };
  region: { side: 'in' | 'out'; size: number; byDepth: boolean };
  /** Where region paint is unsure is hatched. */
  showsUnsure: boolean;
  /** Size of the brush that widens the band over hair, px. */
  hairSize: number;
  /** How large the proposed pieces are. */
  grain: Grain;
  /** How a cut is looked at alone. */
  check: Check;
  /** Adds an ingredient to the choice, or changes the last one of the same kind. */
  choose(ingredient: Ingredient, instead?: boolean): void;
  /** Puts another ingredient in the place of one. */
  changeIngredient(n: number, ingredient: Ingredient): void;
  dropIngredient(n: number): void;
  dropChoice(): void;
  /** Cuts the choice into a planned plate, or into a new one. */
  cut(plate: string | null, name: string): void;
  /** Splits what the choice takes off the plate in work. */
  split(plate: string, name: string): void;
  /** Brings plates in from a file; done when they are there, or refused. */
  importPlates(file: File, onProgress: (share: number) => void): Promise<void>;
}

export const { useSlice: useCut, useSliceStore: useCutStore } = sliceHooks<CutSlice>();

export function cutSlice({ shot, get, set, push, pushLong }: SliceRoom<CutSlice>): CutSlice {
  const choose = (change: (choice: Choice) => Choice): void => {
    set({ choice: change(get().choice) });
  };
  /** The plate that has appeared, or the one that was cut, is in work. */
  const pick = (plates: readonly { readonly id: string }[], before: ReadonlySet<string>, cut: string | null): void => {
    set({ active: cut ?? plates.find((p) => !before.has(p.id))?.id ?? get().active });
  };
  const platesNow = (): ReadonlySet<string> => new Set(get().shot.document.plates.map((p) => p.id));
  /** Starts a cut of the choice; what is chosen meanwhile is another choice, and stays. */
  const begin = (label: string, plate: string | null, act: PlateAction): void => {
    const { choice } = get();
    const before = platesNow();
    pushLong({
      label,
      says: act,
      send: (at) => api.plates(shot.id, at, act),
      stored: ({ document }) => {
        if (get().choice === choice) set({ choice: NO_CHOICE, editing: undefined });
        pick(document.plates, before, plate);
      },
    });
  };
  return {
    joining: 'add',
    editing: undefined,
    spare: true,
    outlineShape: 'corners',
    flood: { tolerance: 24, reach: 1, connected: true },
    region: { side: 'in', size: partOf(shot, 80, 6), byDepth: true },
    showsUnsure: true,
    hairSize: partOf(shot, 30, 12),
    grain: 'middle',
    check: { ground: 'black', colour: '#7d4b8f', shiftPx: partOf(shot, 100, 4), rim: false },

    choose: (ingredient, instead = false) => {
      choose(({ ingredients, edge }) => {
        const last = ingredients[ingredients.length - 1];
        const kept = instead && last?.kind === ingredient.kind ? ingredients.slice(0, -1) : ingredients;
        return { edge, ingredients: [...kept, ingredient] };
      });
      if (!instead) set({ editing: undefined });
    },
    changeIngredient: (n, ingredient) => {
      choose((choice) => ({
        ...choice,
        ingredients: choice.ingredients.map((old, k) => (k === n ? ingredient : old)),
      }));
    },
    dropIngredient: (n) => {
      set({ editing: undefined });
      choose((choice) => {
        const ingredients = choice.ingredients.filter((_, k) => k !== n);
        return { ingredients, edge: ingredients.length > 0 ? choice.edge : PLAIN_EDGE };
      });
    },
    dropChoice: () => {
      set({ choice: NO_CHOICE, editing: undefined });
    },
    cut: (plate, name) => {
      const { choice, spare } = get();
      begin(`Cut ${name}`, plate, { action: 'cut', plate, name, choice, spare });
    },
    split: (plate, name) => {
      begin(`Split ${name} off`, null, { action: 'split', plate, name, choice: get().choice });
    },
    importPlates: (file, onProgress) =>
      new Promise((done) => {
        const before = platesNow();
        push({
          label: `Bring in ${file.name}`,
          says: file.name,
          send: (at) => api.importPlates(shot.id, at, file, onProgress),
          stored: ({ document }) => {
            pick(document.plates, before, null);
          },
          ended: () => {
            done();
          },
        });
      }),
  };
}
