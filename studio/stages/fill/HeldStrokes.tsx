'use client';

import { figure } from '../../numbers';
import { strokesOf, useFill, useFillStore } from './slice';

/** The strokes that the plate's fills heed, each with a way to let go of it. */
export function HeldStrokes() {
  const store = useFillStore();
  const strokes = useFill(strokesOf);
  const plate = useFill((s) => s.active);
  if (strokes.length === 0) return null;
  return (
    <section aria-label="Strokes that are held">
      <p className="ct-hint">
        <b>Held:</b> whatever is filled here from now on heeds {strokes.length === 1 ? 'this stroke' : 'these strokes'}.
      </p>
      <ul className="ct-ingredients">
        {strokes.map(({ id, kind, points, width, reach }, n) => {
          const name = kind === 'line' ? `Line, ${figure(width)} px wide` : `Border, ${figure(reach)} px aside`;
          return (
            <li key={id}>
              <span className="ct-ingredient">
                {name}
                {points.length > 2 && ', bent'}
              </span>
              <button
                type="button"
                className="ct-ingredient-way"
                aria-label={`Let go of stroke ${n + 1}: ${name}`}
                onClick={() => {
                  store.getState().fillBy('Let go of a stroke', { action: 'let-go', plate, stroke: id });
                }}
              >
                Let go
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
